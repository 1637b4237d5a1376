import { UnrecoverableError, Worker, type Job } from 'bullmq';
import type { FrameAnswer, FrameThreadData } from '../frame-job';
import { FrameThread } from '../frame-threads';
import { connect, connectionOf, isCancelled, QUEUE, type Chunk, type ChunkProgress } from './connection';
import { mapPaths, onThisMachine, type Root } from './paths';

interface ServeOptions {
  url: string;
  /** Chunks at a time, each on one thread. */
  jobs: number;
  roots: readonly Root[];
  /** A worker that is not heard of for so long loses its frames to another. */
  lockSeconds: number;
  signal: AbortSignal;
  say: (line: string) => void;
}

/** A chunk whose worker died is begun again so often. */
const MOST_DEATHS = 5;

/** Threads that have printed before: of one print they have what its frames share. */
class IdleThreads {
  private readonly idle: { key: string; thread: FrameThread }[] = [];

  async take(data: FrameThreadData): Promise<FrameThread> {
    const key = JSON.stringify(data);
    const place = this.idle.findIndex((one) => one.key === key);
    const [found] = this.idle.splice(Math.max(0, place), 1);
    if (found?.key === key) return found.thread;
    await found?.thread.end();
    return new FrameThread(data);
  }

  give(data: FrameThreadData, thread: FrameThread): void {
    this.idle.push({ key: JSON.stringify(data), thread });
  }

  async end(): Promise<void> {
    await Promise.all(this.idle.splice(0).map(({ thread }) => thread.end()));
  }
}

/** Prints frames of a queue until the signal comes; what is being printed then is ended first. */
export async function serveQueue({
  url,
  jobs,
  roots,
  lockSeconds,
  signal,
  say,
}: ServeOptions): Promise<void> {
  const redis = await connect(url);
  const threads = new IdleThreads();
  const here = (path: string): string => onThisMachine(path, roots);

  const printChunk = async (job: Job<Chunk, ChunkProgress>): Promise<ChunkProgress> => {
    const { print, data, jobs: frames } = job.data;
    // What was printed before a worker died, or a frame failed, is not printed again.
    const before = (job.progress as Partial<ChunkProgress> | undefined)?.answers ?? {};
    const answers: Record<number, FrameAnswer> = Object.fromEntries(
      Object.entries(before).filter(([, answer]) => answer.failure === undefined),
    );
    const own = { ...data, shot: data.shot && here(data.shot) };
    const thread = await threads.take(own);
    const never = new AbortController().signal;
    try {
      for (const frame of frames) {
        if (answers[frame.frame]) continue;
        if (await isCancelled(redis, print)) throw new UnrecoverableError('it was given up');
        const answer = (await thread.print(mapPaths(frame, here), never))!;
        answers[frame.frame] = answer;
        say(
          `frame ${frame.frame} of ${job.data.name}: ${answer.failure ?? `printed in ${answer.milliseconds} ms`}`,
        );
        await job.updateProgress({ answers });
      }
    } finally {
      threads.give(own, thread);
    }
    const failed = Object.entries(answers).filter(([, answer]) => answer.failure !== undefined);
    const isLast = job.attemptsMade + 1 >= (job.opts.attempts ?? 1);
    if (failed.length > 0 && !isLast)
      throw new Error(`frame ${failed.map(([frame]) => frame).join(', ')}: ${failed[0]![1].failure}`);
    return { answers };
  };

  const worker = new Worker<Chunk, ChunkProgress>(QUEUE, printChunk, {
    connection: connectionOf(url),
    concurrency: jobs,
    lockDuration: lockSeconds * 1000,
    stalledInterval: lockSeconds * 1000,
    maxStalledCount: MOST_DEATHS,
  });
  worker.on('error', (error) => say(`the queue: ${error.message}`));
  worker.on('stalled', (id) => say(`chunk ${id} was lost by another worker and is begun again`));
  await worker.waitUntilReady();
  say(`waiting for frames at ${url}, ${jobs} at a time; Ctrl-C ends it`);
  await new Promise<void>((resolve) => {
    if (signal.aborted) resolve();
    signal.addEventListener('abort', () => resolve());
  });
  say('ending: what is being printed is ended first');
  await worker.close();
  await threads.end();
  redis.disconnect();
}
