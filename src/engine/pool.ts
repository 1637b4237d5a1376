import { BokeluxError, CancelledError, FileError } from '../core/errors';
import type { RunOptions, Task, TaskRunner } from '../core/kernels/runtime/parallel';
import { settled } from '../core/kernels/runtime/scratch';

/** What a task's thread answers. */
export type Reply = { done: true } | { failed: string } | { refused: RefusedFile };

/** A {@link FileError} in the form in which it crosses to another thread. */
interface RefusedFile {
  what: string;
  where: string | undefined;
  todo: string | undefined;
}

/** A thread that does one task at a time. */
export interface TaskThread {
  post(task: Task): void;
  onReply(listener: (reply: Reply) => void): void;
  /** Hears that the thread is there no more. */
  onEnd?(listener: () => void): void;
}

/** A thread ended in the middle of its task: memory ran out, or the system stopped it. */
export class ThreadLostError extends BokeluxError {
  constructor() {
    super('a thread ended in the middle of its work');
  }
}

/**
 * Shares tasks out over threads, each taking the next when it is done with one. The same pool serves browser workers and
 * Node's worker threads; only how a thread is made differs. A thread that ends is replaced, if `replace` makes another;
 * what it was doing fails with {@link ThreadLostError}.
 */
export class Pool implements TaskRunner {
  private readonly idle: TaskThread[] = [];
  private readonly waiting: ((thread: TaskThread) => void)[] = [];
  private readonly settle = new Map<TaskThread, { reply: (reply: Reply) => void; lost: () => void }>();
  readonly threads: number;

  constructor(
    threads: readonly TaskThread[],
    private readonly replace?: () => TaskThread,
  ) {
    this.threads = threads.length;
    for (const thread of threads) this.add(thread);
  }

  async run(tasks: readonly Task[], { signal, progress }: RunOptions = {}): Promise<void> {
    let done = 0;
    await settled(
      tasks.map(async (task) => {
        const thread = await this.acquire();
        let isLost = false;
        try {
          if (signal?.aborted) throw new CancelledError();
          const reply = await new Promise<Reply>((resolve, reject) => {
            const lost = (): void => {
              isLost = true;
              reject(new ThreadLostError());
            };
            this.settle.set(thread, { reply: resolve, lost });
            thread.post(task);
          });
          if ('failed' in reply) throw new Error(reply.failed);
          if ('refused' in reply) throw new FileError(reply.refused.what, reply.refused);
          progress?.(++done / tasks.length);
        } finally {
          this.settle.delete(thread);
          if (!isLost) this.release(thread);
        }
      }),
    );
  }

  private add(thread: TaskThread): void {
    thread.onReply((reply) => this.settle.get(thread)?.reply(reply));
    thread.onEnd?.(() => this.lose(thread));
    this.release(thread);
  }

  private lose(thread: TaskThread): void {
    const at = this.idle.indexOf(thread);
    if (at >= 0) this.idle.splice(at, 1);
    this.settle.get(thread)?.lost();
    if (this.replace) this.add(this.replace());
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
    if (error instanceof FileError)
      return { refused: { what: error.message, where: error.where, todo: error.todo } };
    return { failed: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}
