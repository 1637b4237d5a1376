import { CancelledError, FileError } from '../core/errors';
import { allocateShared } from '../core/kernels/runtime/shared';
import { referenceConvolution } from '../core/kernels/convolution/reference';
import { serialRunner, runJob } from '../core/jobs';
import type { TaskRunner, Task } from '../core/kernels/runtime/parallel';
import { Lanes } from './lanes';
import { answer, Pool, ThreadLostError, type Reply, type TaskThread } from './pool';

/** Threads that do their work at once but answer later, in any order. */
function fakeThreads(count: number): TaskRunner {
  return new Pool(
    Array.from({ length: count }, (_, index): TaskThread => {
      let listener: (reply: Reply) => void = () => undefined;
      return {
        post: (task) => {
          const reply = answer(task, runJob);
          setTimeout(() => listener(reply), index);
        },
        onReply: (next) => (listener = next),
      };
    }),
  );
}

describe('the pool', () => {
  it('hands a failure on and goes on working', async () => {
    const pool = fakeThreads(2);
    const bad = { job: 'nothing of the kind', input: undefined } as unknown as Task;
    await expect(pool.run([bad])).rejects.toThrow(/no job/);
    const chunk = {
      x: 0,
      y: 7,
      width: 1,
      lines: 1,
      channels: [],
      compression: 'none',
      tiled: false,
    } as const;
    const input = { buffer: allocateShared(8), chunks: [{ chunk, from: 0, size: 8, to: 0 }] };
    const damaged = pool.run([{ job: 'unpackChunks', input }]);
    await expect(damaged).rejects.toBeInstanceOf(FileError);
    await expect(damaged).rejects.toMatchObject({
      where: 'lines 7 to 7',
      todo: expect.any(String) as string,
    });
    await expect(pool.run([])).resolves.toBeUndefined();
    expect(pool.threads).toBe(2);
  });

  it('replaces a thread that ends, and fails only what that was doing', async () => {
    const started: string[] = [];
    const thread = (name: string, dies: boolean): TaskThread => {
      let reply: (reply: Reply) => void = () => undefined;
      let end: () => void = () => undefined;
      return {
        post: () => {
          started.push(name);
          setTimeout(() => (dies ? end() : reply({ done: true })), 1);
        },
        onReply: (listener) => (reply = listener),
        onEnd: (listener) => (end = listener),
      };
    };
    const pool = new Pool([thread('mortal', true)], () => thread('heir', false));
    const task = { job: 'any', input: undefined } as unknown as Task;
    const lanes = new Lanes();
    const notices: string[] = [];
    lanes.listen(
      () => undefined,
      (text) => notices.push(text),
    );
    const outcome = await lanes.run('view', async () => {
      await pool.run([task, task]);
      return 'done';
    });
    expect(outcome).toEqual({ value: 'done' });
    expect(notices).toEqual([expect.stringContaining('was replaced')]);
    // The first try's two, of which one died, and both again.
    expect(started).toEqual(['mortal', 'heir', 'heir', 'heir']);
    await expect(new Pool([thread('mortal', true)]).run([task])).rejects.toThrow(ThreadLostError);
  });

  it('starts no more tasks once it is given up', async () => {
    const started: string[] = [];
    const control = new AbortController();
    let listener: (reply: Reply) => void = () => undefined;
    const thread: TaskThread = {
      post: ({ job }) => {
        started.push(job);
        control.abort();
        setTimeout(() => listener({ done: true }), 1);
      },
      onReply: (next) => (listener = next),
    };
    const tasks = ['a', 'b', 'c'].map((job) => ({ job, input: undefined }) as unknown as Task);
    await expect(new Pool([thread]).run(tasks, { signal: control.signal })).rejects.toThrow(CancelledError);
    expect(started).toEqual(['a']);
  });

  it('gives the same bits with one thread and with many', async () => {
    const [width, height] = [90, 70];
    const plane = Float32Array.from({ length: width * height }, (_, i) => ((i * 7919) % 1009) / 1009);
    const results = await Promise.all(
      [serialRunner, fakeThreads(2), fakeThreads(5)].map(async (parallel) => {
        const kernel = referenceConvolution(parallel);
        const spectrum = await kernel.prepare(width, height, (dy, out) =>
          out.forEach((_, i) => (out[i] = 1 / (1 + dy * dy + i))),
        );
        return kernel.convolve([plane], [spectrum]);
      }),
    );
    for (const other of results.slice(1)) expect(other).toEqual(results[0]);
  });
});
