import { CancelledError } from '../../errors';
import type { RunOptions } from './parallel';

/**
 * Runs calls concurrently, one for each scratch buffer (the address of memory that only one call may use at a time).
 * When the promise settles, fulfilled or rejected, no call is running any more.
 */
export async function withScratchBuffers<Call>(
  buffers: readonly number[],
  calls: readonly Call[],
  run: (call: Call, scratch: number) => Promise<void>,
  { signal, progress }: RunOptions,
): Promise<void> {
  const waiting = [...calls];
  let done = 0;
  await settled(
    buffers.map(async (scratch) => {
      for (let call = waiting.shift(); call; call = waiting.shift()) {
        if (signal?.aborted) throw new CancelledError();
        await run(call, scratch);
        progress?.(++done / calls.length);
      }
    }),
  );
}

/** Waits for all promises, and only then throws the first rejection. */
export async function settled(promises: readonly Promise<void>[]): Promise<void> {
  for (const result of await Promise.allSettled(promises))
    if (result.status === 'rejected') throw result.reason as Error;
}

/**
 * Works in memory that is kept for the next call if all went well, or was given up between two calls. After any other
 * error it is in an unknown state and is let go.
 */
export async function runInWorkspace<T>(
  work: () => Promise<T>,
  keep: () => void,
  letGo: () => void = () => undefined,
): Promise<T> {
  try {
    const value = await work();
    keep();
    return value;
  } catch (error) {
    if (error instanceof CancelledError) keep();
    else letGo();
    throw error;
  }
}
