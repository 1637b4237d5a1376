/** Memory that several workers see at once. */
export type Shared = SharedArrayBuffer;

/** One piece of work: the name of a job in {@link ../kernels/jobs} and what it gets. */
export interface Task {
  job: string;
  input: unknown;
}

export interface RunOptions {
  signal?: AbortSignal | undefined;
  /** Told the share done, 0 to 1. */
  progress?: ((done: number) => void) | undefined;
}

/** The options with progress mapped to a part of the whole. */
export function portion({ signal, progress }: RunOptions, from: number, to: number): RunOptions {
  return { signal, progress: progress && ((done) => progress(from + (to - from) * done)) };
}

/**
 * Runs independent tasks on as many threads as there are, and resolves when all are done. Tasks write to disjoint
 * parts of shared memory, so the result does not depend on their order or number of threads.
 */
export interface Parallel {
  readonly threads: number;
  run(tasks: readonly Task[], options?: RunOptions): Promise<void>;
}
