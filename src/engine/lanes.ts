import type { RunOptions } from '../core/kernels/runtime/parallel';
import type { Lane, Outcome } from './messages';
import { settle } from './outcome';
import { ThreadLostError } from './pool';

/** Called with a lane's progress, 0 to 1. */
export type ProgressListener = (lane: Lane, done: number) => void;

/** Work by lanes: a newer request of a lane gives up the older one. */
export class Lanes {
  private readonly running = new Map<Lane, AbortController>();
  private listener: ProgressListener | undefined;
  private notice: ((text: string) => void) | undefined;

  /** Who hears of progress, and of what the person should know. */
  listen(listener: ProgressListener, notice?: (text: string) => void): void {
    this.listener = listener;
    this.notice = notice;
  }

  /** Gives up what a lane is computing. */
  cancel(lane: Lane): void {
    this.running.get(lane)?.abort();
  }

  run<T>(lane: Lane, work: (options: Required<RunOptions>) => Promise<T>): Promise<Outcome<T>> {
    this.cancel(lane);
    const control = new AbortController();
    this.running.set(lane, control);
    const progress = (done: number): void => this.listener?.(lane, done);
    const options = { signal: control.signal, progress };
    return settle(async () => {
      try {
        return await work(options);
      } catch (error) {
        if (!(error instanceof ThreadLostError)) throw error;
        // The thread was replaced; what it left behind is not used again.
        this.notice?.('a thread of the engine ended and was replaced; its work was done once more');
        return work(options);
      }
    });
  }
}
