import { CancelledError } from '../core/errors';
import type { TaskRunner, RunOptions, Task } from '../core/kernels/runtime/parallel';
import { settled } from '../core/kernels/runtime/scratch';

/** What a task's thread answers. */
export type Reply = { done: true } | { failed: string };

/** A thread that does one task at a time. */
export interface TaskThread {
  post(task: Task): void;
  onReply(listener: (reply: Reply) => void): void;
}

/**
 * Shares tasks out over threads, each taking the next when it is done with one. The same pool serves browser workers
 * and Node's worker threads; only how a thread is made differs.
 */
export class Pool implements TaskRunner {
  private readonly idle: TaskThread[];
  private readonly waiting: ((thread: TaskThread) => void)[] = [];
  private readonly settle = new Map<TaskThread, (reply: Reply) => void>();

  constructor(private readonly all: readonly TaskThread[]) {
    this.idle = [...all];
    for (const thread of all) thread.onReply((reply) => this.settle.get(thread)?.(reply));
  }

  get threads(): number {
    return this.all.length;
  }

  async run(tasks: readonly Task[], { signal, progress }: RunOptions = {}): Promise<void> {
    let done = 0;
    await settled(
      tasks.map(async (task) => {
        const thread = await this.acquire();
        try {
          if (signal?.aborted) throw new CancelledError();
          const reply = await new Promise<Reply>((resolve) => {
            this.settle.set(thread, resolve);
            thread.post(task);
          });
          if ('failed' in reply) throw new Error(reply.failed);
          progress?.(++done / tasks.length);
        } finally {
          this.release(thread);
        }
      }),
    );
  }

  private acquire(): Promise<TaskThread> {
    const thread = this.idle.pop();
    return thread ? Promise.resolve(thread) : new Promise((resolve) => this.waiting.push(resolve));
  }

  private release(thread: TaskThread): void {
    const next = this.waiting.shift();
    if (next) next(thread);
    else this.idle.push(thread);
  }
}

/** Does one task and answers; the body of every task thread. */
export function answer(task: Task, runJob: (task: Task) => void): Reply {
  try {
    runJob(task);
    return { done: true };
  } catch (error) {
    return { failed: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}
