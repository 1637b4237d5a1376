import { CancelledError } from '../errors';
import type { RunOptions } from './parallel';

/**
 * Does calls one after the other in each of several rooms, memory that only one call may use at a time. When it comes
 * back, whether well or cancelled, nothing is at work any more.
 */
export async function inRooms<Call>(
  rooms: readonly number[],
  calls: readonly Call[],
  work: (call: Call, room: number) => Promise<void>,
  { signal, progress }: RunOptions,
): Promise<void> {
  const waiting = [...calls];
  let done = 0;
  await settled(
    rooms.map(async (room) => {
      for (let call = waiting.shift(); call; call = waiting.shift()) {
        if (signal?.aborted) throw new CancelledError();
        await work(call, room);
        progress?.(++done / calls.length);
      }
    }),
  );
}

/** Waits for all, and only then throws what the first of them threw. */
export async function settled(promises: readonly Promise<void>[]): Promise<void> {
  for (const result of await Promise.allSettled(promises))
    if (result.status === 'rejected') throw result.reason as Error;
}
