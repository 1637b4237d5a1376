import { CancelledError } from '../../errors';
import { Arena } from './memory';
import { withScratchBuffers, settled } from './scratch';

const soon = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 1));

describe('calls with scratch buffers', () => {
  it('are all done, one at a time in each buffer, and reported', async () => {
    const busy = new Set<number>();
    const done: number[] = [];
    const steps: number[] = [];
    await withScratchBuffers(
      [10, 20],
      [1, 2, 3, 4, 5],
      async (call, scratch) => {
        expect(busy.has(scratch)).toBe(false);
        busy.add(scratch);
        await soon();
        busy.delete(scratch);
        done.push(call);
      },
      { progress: (share) => steps.push(share) },
    );
    expect([...done].sort()).toEqual([1, 2, 3, 4, 5]);
    expect(steps).toEqual([0.2, 0.4, 0.6, 0.8, 1]);
  });

  it('leave nothing at work when they are given up', async () => {
    const control = new AbortController();
    let atWork = 0;
    const work = async (call: number): Promise<void> => {
      atWork++;
      if (call === 1) control.abort();
      await soon();
      atWork--;
    };
    await expect(
      withScratchBuffers([0, 1, 2], [1, 2, 3, 4, 5], work, { signal: control.signal }),
    ).rejects.toThrow(CancelledError);
    expect(atWork).toBe(0);
  });

  it('throw what went wrong first, after the others are done', async () => {
    let finished = false;
    const slow = soon().then(() => void (finished = true));
    await expect(settled([Promise.reject(new Error('broken')), slow])).rejects.toThrow('broken');
    expect(finished).toBe(true);
  });
});

describe('the memory of a kernel', () => {
  it('grows as it is taken, in sixteens, and is used again after a release', () => {
    const arena = new Arena();
    const first = arena.allocate(10);
    const mark = arena.mark();
    const second = arena.allocate(5_000_000);
    expect(second % 16).toBe(0);
    expect(second).toBeGreaterThanOrEqual(first + 10);
    expect(arena.bytes).toBeGreaterThanOrEqual(5_000_000);
    arena.floats(second, 2).set([1.5, 2.5]);
    expect(arena.ints(second, 1)[0]).toBe(0x3fc00000);
    arena.release(mark);
    expect(arena.allocate(8)).toBe(second);
    expect(new Arena().shared.id).not.toBe(arena.shared.id);
  });

  it('that cannot be had is an error that tells how much was asked for', () => {
    expect(() => new Arena().allocate(5e9)).toThrow(/5000000\d+ bytes for a kernel/);
  });
});
