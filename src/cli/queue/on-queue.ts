import { createHash } from 'node:crypto';
import { Queue, QueueEvents, type Job } from 'bullmq';
import type { FrameAnswer, FrameJob } from '../frame-job';
import type { FrameRunner } from '../frame-threads';
import {
  clearCancelled,
  connect,
  connectionOf,
  markCancelled,
  QUEUE,
  type Chunk,
  type ChunkProgress,
} from './connection';

/** A chunk that fails is tried so often, with pauses that double from this. */
const [ATTEMPTS, BACKOFF_MS] = [4, 2000];
/** What is done is kept for `bokelux queue` to tell of. */
const KEEP_SECONDS = 24 * 3600;

interface QueueOptions {
  /** Id of the print: the same files printed anew have the same one. */
  print: string;
  name: string;
  priority: number;
  /** Frames that a worker takes at a time. */
  chunk: number;
}

/** The id of what is printed into a place. */
export const printId = (out: string): string => createHash('sha256').update(out).digest('hex').slice(0, 12);

const WAITING = ['waiting', 'delayed', 'prioritized'] as const;

/** Takes what waits of a print out of the queue. */
export async function removeWaiting(queue: Queue<Chunk>, print: string): Promise<void> {
  for (const job of await queue.getJobs([...WAITING]))
    if (job?.data.print === print) await job.remove().catch(() => undefined);
}

/** Prints frames by whoever takes them from a queue. */
export const onQueue =
  (url: string, { print, name, priority, chunk }: QueueOptions): FrameRunner =>
  async (jobs, { data, signal, onAnswer }) => {
    if (jobs.length === 0) return;
    const redis = await connect(url);
    const connection = connectionOf(url);
    const queue = new Queue<Chunk>(QUEUE, { connection });
    const events = new QueueEvents(QUEUE, { connection });
    try {
      await events.waitUntilReady();
      // What an earlier run of the same print has left would be printed twice.
      await clearCancelled(redis, print);
      await removeWaiting(queue, print);
      const run = new QueuedRun(jobs, onAnswer);
      const done = run.watch(events, signal);
      const chunks = chunksOf(jobs, chunk);
      const added = await queue.addBulk(
        chunks.map((own) => ({
          name,
          data: { print, name, data, jobs: own.map((job) => numbered(job)) },
          opts: {
            priority,
            attempts: ATTEMPTS,
            backoff: { type: 'exponential', delay: BACKOFF_MS },
            removeOnComplete: { age: KEEP_SECONDS },
            removeOnFail: { age: KEEP_SECONDS },
          },
        })),
      );
      run.name(added, chunks);
      await done;
      if (signal.aborted) {
        await markCancelled(redis, print);
        await removeWaiting(queue, print);
      }
    } finally {
      await Promise.allSettled([events.close(), queue.close()]);
      redis.disconnect();
    }
  };

const numbered = ({ files, options, around }: FrameJob): FrameJob & { frame: number } => ({
  files,
  options,
  ...(around && { around }),
  frame: options.frame,
});

function chunksOf<T>(list: readonly T[], size: number): T[][] {
  return Array.from({ length: Math.ceil(list.length / size) }, (_, k) =>
    list.slice(k * size, (k + 1) * size),
  );
}

type Told = { jobId: string; progress?: ChunkProgress; failure?: string };

/** The frames of a print that others print: hears what becomes of them. */
class QueuedRun<OneJob extends FrameJob> {
  private readonly open: Set<OneJob>;
  private readonly chunks = new Map<string, OneJob[]>();
  /** What was told of a chunk before it was known which it is. */
  private readonly early: Told[] = [];
  private finish: () => void = () => undefined;

  constructor(
    jobs: readonly OneJob[],
    private readonly onAnswer: (job: OneJob, answer: FrameAnswer) => void,
  ) {
    this.open = new Set(jobs);
  }

  /** Resolves when all is answered, or the signal comes. */
  watch(events: QueueEvents, signal: AbortSignal): Promise<void> {
    const tell = (told: Told): void => {
      if (this.chunks.has(told.jobId)) this.take(told);
      else this.early.push(told);
    };
    events.on('progress', ({ jobId, data }) => tell({ jobId, progress: data as unknown as ChunkProgress }));
    events.on('completed', ({ jobId, returnvalue }) => {
      tell({
        jobId,
        progress: returnvalue as unknown as ChunkProgress,
        failure: 'the worker did not tell of it',
      });
    });
    events.on('failed', ({ jobId, failedReason }) => tell({ jobId, failure: failedReason }));
    // Somebody took the chunk out of the queue.
    events.on('removed', ({ jobId }) => tell({ jobId, failure: 'it was taken out of the queue' }));
    return new Promise((resolve) => {
      this.finish = resolve;
      signal.addEventListener('abort', () => resolve());
      if (signal.aborted) resolve();
    });
  }

  /** Says which chunk each job of the queue is. */
  name(jobs: readonly Job[], chunks: readonly OneJob[][]): void {
    jobs.forEach((job, k) => this.chunks.set(job.id!, chunks[k]!));
    this.early.splice(0).forEach((told) => this.chunks.has(told.jobId) && this.take(told));
  }

  private take({ jobId, progress, failure }: Told): void {
    for (const job of this.chunks.get(jobId)!) {
      if (!this.open.has(job)) continue;
      const answer = progress?.answers?.[job.options.frame];
      // A frame that failed may be tried again, as long as the chunk is not given up.
      const isLast = failure !== undefined;
      if (answer && (answer.failure === undefined || isLast)) this.answer(job, answer);
      else if (isLast) this.answer(job, { milliseconds: 0, warnings: [], failure });
    }
  }

  private answer(job: OneJob, answer: FrameAnswer): void {
    this.open.delete(job);
    this.onAnswer(job, answer);
    if (this.open.size === 0) this.finish();
  }
}
