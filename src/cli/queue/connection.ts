import type { RedisOptions } from 'bullmq';
import { Redis } from 'ioredis';
import { SettingError } from '../../core/errors';
import type { FrameAnswer, FrameJob, FrameThreadData } from '../frame-job';

/** The queue that all prints share. */
export const QUEUE = 'bokelux-frames';
/** Prints that were given up: frames of theirs that a worker still has are not begun. */
const CANCELLED = 'bokelux:cancelled';
/** For so long; whoever has a chunk of it has noticed by then. */
const CANCELLED_SECONDS = 24 * 3600;

/** Some frames of a print, which one worker prints. */
export interface Chunk {
  print: string;
  /** What people call it. */
  name: string;
  data: FrameThreadData;
  jobs: (FrameJob & { frame: number })[];
}

/** How far a chunk is: every frame that was printed, and what came of the last one. */
export interface ChunkProgress {
  answers: Record<number, FrameAnswer>;
}

/** What to connect with, from a URL as redis://:PASSWORD@HOST:PORT/DATABASE. */
export function connectionOf(url: string): RedisOptions {
  let parsed: URL;
  try {
    parsed = new URL(url);
  } catch {
    throw notAQueue(url);
  }
  const { protocol, hostname, port, username, password, pathname } = parsed;
  const database = Number(pathname.slice(1) || 0);
  if (!['redis:', 'rediss:'].includes(protocol) || hostname === '' || !Number.isInteger(database))
    throw notAQueue(url);
  return {
    host: hostname,
    port: Number(port || 6379),
    db: database,
    ...(username && { username: decodeURIComponent(username) }),
    ...(password && { password: decodeURIComponent(password) }),
    ...(protocol === 'rediss:' && { tls: {} }),
    // A queue outlives a short loss of its server.
    maxRetriesPerRequest: null,
  };
}

const notAQueue = (url: string): SettingError =>
  new SettingError(`${url} is no address of a queue`, { todo: 'redis://HOST:PORT is wanted' });

/** A connection of our own, for what is not the queue's business. Throws {@link SettingError} if nobody answers. */
export async function connect(url: string): Promise<Redis> {
  const redis = new Redis({ ...connectionOf(url), lazyConnect: true, retryStrategy: () => null });
  // Without somebody who hears of it an error ends the process.
  redis.on('error', () => undefined);
  try {
    await redis.connect();
    return redis;
  } catch (error) {
    redis.disconnect();
    throw new SettingError(`no queue answers at ${url} (${(error as Error).message})`, {
      todo: 'Start a Redis server there, or leave --queue out to print on this machine',
    });
  }
}

export async function markCancelled(redis: Redis, print: string): Promise<void> {
  await redis.set(`${CANCELLED}:${print}`, '1', 'EX', CANCELLED_SECONDS);
}

export async function clearCancelled(redis: Redis, print: string): Promise<void> {
  await redis.del(`${CANCELLED}:${print}`);
}

export const isCancelled = async (redis: Redis, print: string): Promise<boolean> =>
  (await redis.exists(`${CANCELLED}:${print}`)) > 0;
