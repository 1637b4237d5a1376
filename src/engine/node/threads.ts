import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { serialRunner } from '../../core/jobs';
import { Pool, type TaskThread } from '../pool';

/** Threads under Node, and the way to end them. */
export interface NodeThreads {
  parallel: TaskRunner;
  close(): Promise<void>;
}

/**
 * `count` worker threads (one a core by default), which start when they are first used. One thread needs no worker.
 * `script` is the built task thread.
 */
export function startThreads(script: URL, count: number = availableParallelism()): NodeThreads {
  if (count <= 1) return { parallel: serialRunner, close: () => Promise.resolve() };
  const workers = new Set<Worker>();
  let isClosing = false;
  const startThread = (): TaskThread => {
    const worker = new Worker(script);
    workers.add(worker);
    // An error ends the thread, too.
    worker.on('error', () => undefined);
    return {
      post: (task) => worker.postMessage(task),
      onReply: (listener) => worker.on('message', listener),
      onEnd: (listener) =>
        worker.on('exit', () => {
          workers.delete(worker);
          if (!isClosing) listener();
        }),
    };
  };
  let pool: Pool | undefined;
  const startPool = (): Pool => new Pool(Array.from({ length: count }, startThread), startThread);
  return {
    parallel: {
      threads: count,
      run: (tasks, options) => (pool ??= startPool()).run(tasks, options),
    },
    close: async () => {
      isClosing = true;
      await Promise.all([...workers].map((worker) => worker.terminate()));
    },
  };
}
