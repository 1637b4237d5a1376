import type { RunOptions } from '../core/kernels/runtime/parallel';
import type { Lane, Outcome } from './messages';
import { settle } from './outcome';

/** Called with a lane's progress, 0 to 1. */
export type ProgressListener = (lane: Lane, done: number) => void;

/** Work by lanes: a newer request of a lane gives up the older one. */
export class Lanes {
  private readonly running = new Map<Lane, AbortController>();
  private listener: ProgressListener | undefined;

  listen(listener: ProgressListener): void {
    this.listener = listener;
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
    return settle(() => work({ signal: control.signal, progress }));
  }
}
