import { CancelledError } from '../errors';
import type { Parallel, Task } from './parallel';
import { convolveColumns, transformRows, untransformRows } from './convolution-reference-jobs';
import { convolution } from './convolution-wasm-jobs';
import { placeKernel } from './kernel-planes';
import { polarRows, powerRows, whiteRows } from '../optics/diffraction-jobs';
import { spreadPoint } from '../optics/point-pixels';
import { scatter } from './scatter-jobs';

/** Every job that a worker thread can be asked to do, by name. */
const JOBS: Readonly<Record<string, (input: never) => void>> = {
  transformRows,
  convolveColumns,
  untransformRows,
  convolution,
  placeKernel,
  scatter,
  powerRows,
  polarRows,
  whiteRows,
  spreadPoint,
};

export function runJob(task: Task): void {
  const job = JOBS[task.job];
  if (!job) throw new Error(`no job ${task.job}`);
  job(task.input as never);
}

/** Does the tasks one after the other on the calling thread, letting messages in between them. */
export const inline: Parallel = {
  threads: 1,
  async run(tasks, { signal, progress } = {}) {
    for (const [index, task] of tasks.entries()) {
      if (signal?.aborted) throw new CancelledError();
      runJob(task);
      progress?.((index + 1) / tasks.length);
      if ((index & 7) === 7) await new Promise((resolve) => setTimeout(resolve, 0));
    }
  },
};
