import type { TaskRunner } from '../core/kernels/runtime/parallel';
import { startThreads } from '../engine/node/threads';

/** Where the bundled worker thread lies: beside the bundled command line. */
const TASK_THREAD = new URL('./task-thread.mjs', import.meta.url);

/** Does work that may use worker threads, one a core or `count`, and ends them. They start when they are first used. */
export async function withThreads<T>(work: (runner: TaskRunner) => Promise<T>, count?: number): Promise<T> {
  const threads = startThreads(TASK_THREAD, count);
  try {
    return await work(threads.parallel);
  } finally {
    await threads.close();
  }
}
