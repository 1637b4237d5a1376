import { Worker } from 'node:worker_threads';
import type { FrameAnswer, FrameJob, FrameThreadData } from './frame-job';

/** Where the bundled thread lies: beside the bundled command line. */
const FRAME_THREAD = new URL('./frame-thread.mjs', import.meta.url);
/** A thread that ends in the midst of a frame is started again so often for it. */
const TRIES = 2;

interface RunOptions<Job> {
  data: FrameThreadData;
  signal: AbortSignal;
  onAnswer: (job: Job, answer: FrameAnswer) => void;
}

/** What prints frames: in no particular order. Resolves when all are answered, or soon after the signal comes. */
export type FrameRunner = <Job extends FrameJob>(
  jobs: readonly Job[],
  options: RunOptions<Job>,
) => Promise<void>;

/** Prints frames on threads of this process, so many at a time. */
export const onThreads =
  (threads: number): FrameRunner =>
  async (jobs, { data, signal, onAnswer }) => {
    const waiting = [...jobs];
    const work = async (): Promise<void> => {
      const thread = new FrameThread(data);
      try {
        while (waiting.length > 0 && !signal.aborted)
          for (const job of waiting.splice(0, runLength(waiting, threads))) {
            const answer = await thread.print(job, signal);
            if (answer) onAnswer(job, answer);
            if (signal.aborted) break;
          }
      } finally {
        await thread.end();
      }
    };
    await Promise.all(Array.from({ length: Math.min(threads, jobs.length) }, work));
  };

/** Where frames bear on each other, a thread takes so many in a row at most: it knows half of what is around the next. */
const LONGEST_RUN = 12;

/** How many frames a thread takes at once: fewer toward the end, so that all end together. */
function runLength(waiting: readonly FrameJob[], threads: number): number {
  if (!waiting[0]?.around) return 1;
  return Math.max(1, Math.min(LONGEST_RUN, Math.floor(waiting.length / (2 * threads))));
}

/** A thread that prints one frame after the other; if it ends in the midst of one, another takes its place. */
export class FrameThread {
  private worker: Worker | undefined;

  constructor(private readonly data: FrameThreadData) {}

  /** Undefined if it was given up. */
  async print(job: FrameJob, signal: AbortSignal): Promise<FrameAnswer | undefined> {
    let ended = '';
    for (let tries = 0; tries < TRIES; tries++) {
      this.worker ??= new Worker(FRAME_THREAD, { workerData: this.data });
      const outcome = await ask(this.worker, job, signal);
      if (signal.aborted) {
        await this.end();
        return undefined;
      }
      if (outcome.ended === undefined) return outcome.answer;
      this.worker = undefined;
      ({ ended } = outcome);
    }
    return { milliseconds: 0, warnings: [], failure: ended };
  }

  async end(): Promise<void> {
    await this.worker?.terminate();
    this.worker = undefined;
  }
}

type Outcome = { answer: FrameAnswer; ended?: undefined } | { ended: string };

/** What a thread answers, or why it ended before it could. */
function ask(worker: Worker, job: FrameJob, signal: AbortSignal): Promise<Outcome> {
  return new Promise((resolve) => {
    let reason = 'the thread ended in the midst of it';
    const listeners = {
      message: (answer: FrameAnswer) => settle({ answer }),
      error: (error: Error) => void (reason = `the thread ended in the midst of it: ${error.message}`),
      exit: () => settle({ ended: reason }),
    };
    const stop = (): void => settle({ ended: 'it was given up' });
    const settle = (outcome: Outcome): void => {
      for (const [event, listener] of Object.entries(listeners)) worker.off(event, listener);
      signal.removeEventListener('abort', stop);
      resolve(outcome);
    };
    for (const [event, listener] of Object.entries(listeners)) worker.on(event, listener);
    signal.addEventListener('abort', stop);
    worker.postMessage(job);
  });
}
