import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { serialRunner } from '../../core/jobs';
import { Pool, type Reply } from '../pool';

/** Threads under Node, and the way to end them. */
export interface NodeThreads {
  parallel: TaskRunner;
  close(): Promise<void>;
}

/** Starts `count` worker threads (one a core by default). One thread needs no worker. `script` is the built task thread. */
export function startThreads(script: URL, count: number = availableParallelism()): NodeThreads {
  if (count <= 1) return { parallel: serialRunner, close: () => Promise.resolve() };
  const workers = Array.from({ length: count }, () => new Worker(script));
  const parallel = new Pool(
    workers.map((worker) => ({
      post: (task) => worker.postMessage(task),
      onReply: (listener) => {
        worker.on('message', (reply: Reply) => listener(reply));
        worker.on('error', (error: Error) => listener({ failed: error.stack ?? error.message }));
      },
    })),
  );
  return {
    parallel,
    close: async () => void (await Promise.all(workers.map((worker) => worker.terminate()))),
  };
}
