import { Queue, type JobType } from 'bullmq';
import { connect, connectionOf, markCancelled, QUEUE, type Chunk, type ChunkProgress } from './connection';
import { removeWaiting } from './on-queue';

const STATES = [
  'active',
  'waiting',
  'prioritized',
  'delayed',
  'failed',
  'completed',
] as const satisfies readonly JobType[];

/** How far a print is, in frames. */
export interface PrintReport {
  print: string;
  name: string;
  frames: number;
  printed: number;
  failed: number;
  /** Frames of chunks that a worker has, and that wait. */
  running: number;
  waiting: number;
  /** What went wrong, by frame. */
  failures: { frame: number; why: string }[];
}

export interface QueueReport {
  paused: boolean;
  workers: number;
  prints: PrintReport[];
}

/** Does something with the queue at a URL. */
async function withQueue<T>(
  url: string,
  work: (queue: Queue<Chunk>, redis: Awaited<ReturnType<typeof connect>>) => Promise<T>,
): Promise<T> {
  const redis = await connect(url);
  const queue = new Queue<Chunk>(QUEUE, { connection: connectionOf(url) });
  try {
    return await work(queue, redis);
  } finally {
    await queue.close();
    redis.disconnect();
  }
}

/** What waits, runs, is done and failed. */
export const queueReport = (url: string): Promise<QueueReport> =>
  withQueue(url, async (queue) => {
    const prints = new Map<string, PrintReport>();
    for (const state of STATES) {
      for (const job of await queue.getJobs([state])) {
        if (!job) continue;
        const { print, name, jobs } = job.data;
        const report = prints.get(print) ?? emptyReport(print, name);
        prints.set(print, report);
        addChunk(report, {
          frames: jobs.map(({ frame }) => frame),
          state,
          progress: job.progress,
          why: job.failedReason,
        });
      }
    }
    return {
      paused: await queue.isPaused(),
      workers: await queue.getWorkersCount(),
      prints: [...prints.values()],
    };
  });

const emptyReport = (print: string, name: string): PrintReport => ({
  ...{ print, name, frames: 0, printed: 0, failed: 0, running: 0, waiting: 0 },
  failures: [],
});

function addChunk(
  report: PrintReport,
  {
    frames,
    state,
    progress,
    why,
  }: { frames: number[]; state: (typeof STATES)[number]; progress: unknown; why: string | undefined },
): void {
  const answers = (progress as Partial<ChunkProgress> | undefined)?.answers ?? {};
  const isOver = state === 'failed' || state === 'completed';
  report.frames += frames.length;
  for (const frame of frames) {
    const answer = answers[frame];
    if (answer && answer.failure === undefined) report.printed++;
    else if (isOver) {
      report.failed++;
      report.failures.push({ frame, why: answer?.failure ?? why ?? 'it is not told' });
    } else if (state === 'active') report.running++;
    else report.waiting++;
  }
}

/** Lets nobody begin another chunk, or again. */
export const setPaused = (url: string, paused: boolean): Promise<void> =>
  withQueue(url, (queue) => (paused ? queue.pause() : queue.resume()));

/** Gives a print up: what waits is taken out, and workers begin no more frames of it. */
export const cancelPrint = (url: string, print: string): Promise<void> =>
  withQueue(url, async (queue, redis) => {
    await markCancelled(redis, print);
    await removeWaiting(queue, print);
  });
