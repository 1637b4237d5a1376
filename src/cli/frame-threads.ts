import { Worker } from 'node:worker_threads';
import type { FrameAnswer, FrameJob, FrameThreadData } from './frame-job';

/** Where the bundled thread lies: beside the bundled command line. */
const FRAME_THREAD = new URL('./frame-thread.mjs', import.meta.url);
/** A thread that ends in the midst of a frame is started again so often for it. */
const TRIES = 2;

interface RunOptions<Job> {
  /** Frames at a time. */
  threads: number;
  data: FrameThreadData;
  signal: AbortSignal;
  onAnswer: (job: Job, answer: FrameAnswer) => void;
}

/** Prints frames on threads, each on one, in no particular order. Resolves when all are answered, or as soon as the signal comes. */
export async function printFrames<Job extends FrameJob>(
  jobs: readonly Job[],
  { threads, data, signal, onAnswer }: RunOptions<Job>,
): Promise<void> {
  const waiting = jobs.map((job) => ({ job, tries: 0 }));
  const work = async (): Promise<void> => {
    let worker: Worker | undefined;
    try {
      for (let next = waiting.shift(); next && !signal.aborted; next = waiting.shift()) {
        worker ??= new Worker(FRAME_THREAD, { workerData: data });
        const answer = await ask(worker, next.job, signal);
        if (signal.aborted) return;
        if (answer.ended === undefined) {
          onAnswer(next.job, answer.answer);
          continue;
        }
        worker = undefined;
        if (++next.tries < TRIES) waiting.unshift(next);
        else onAnswer(next.job, { milliseconds: 0, warnings: [], failure: answer.ended });
      }
    } finally {
      await worker?.terminate();
    }
  };
  await Promise.all(Array.from({ length: Math.min(threads, jobs.length) }, work));
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
