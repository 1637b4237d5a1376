import { CancelledError } from './errors';
import { packChunks, unpackChunks } from './formats/exr/jobs';
import { convolveColumns, transformRows, untransformRows } from './kernels/convolution/fft-grid-jobs';
import { convolution } from './kernels/convolution/jobs';
import { placeKernel } from './kernels/convolution/kernel-planes';
import type { JobInputs, JobName, Task, TaskRunner } from './kernels/runtime/parallel';
import { diffraction } from './kernels/diffraction/jobs';
import { dispersion } from './kernels/dispersion/jobs';
import { ghosts } from './kernels/ghosts/jobs';
import { grade } from './kernels/grade/jobs';
import { scatter } from './kernels/scatter/jobs';
import { warp } from './kernels/warp/jobs';

/** Every job that a worker thread can run, by name. */
const JOBS: { readonly [Name in JobName]: (input: JobInputs[Name]) => void } = {
  transformRows,
  convolveColumns,
  untransformRows,
  convolution,
  placeKernel,
  scatter,
  diffraction,
  ghosts,
  warp,
  dispersion,
  grade,
  unpackChunks,
  packChunks,
};

export function runJob<Name extends JobName>(task: Task<Name>): void {
  // A message may name anything.
  if (!Object.hasOwn(JOBS, task.job)) throw new Error(`there is no job ${String(task.job)}`);
  JOBS[task.job](task.input);
}

/** Runs tasks one after the other on the calling thread, handling messages between them. */
export const serialRunner: TaskRunner = {
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
