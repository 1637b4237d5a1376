/**
 * The input type of every job, by the job's name. A module that defines a job adds it here by declaration merging, so that
 * a task with the wrong input does not compile; `core/jobs.ts` lists the functions.
 */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface JobInputs {}

export type JobName = keyof JobInputs;

/** One unit of work for a thread: the name of a job and its input. */
export type Task<Job extends JobName = JobName> = {
  [Name in Job]: { job: Name; input: JobInputs[Name] };
}[Job];

export interface RunOptions {
  signal?: AbortSignal | undefined;
  /** Called with the share that is done, 0 to 1. */
  progress?: ((done: number) => void) | undefined;
}

/** The options with progress mapped to the part `from` to `to` of the whole. */
export function subProgress({ signal, progress }: RunOptions, from: number, to: number): RunOptions {
  return { signal, progress: progress && ((done) => progress(from + (to - from) * done)) };
}

/**
 * The tasks of one job over rows (or blocks, or calls) from `first` up to `count`: each gets `input` and a range `from` to
 * `to`, at most `size` long.
 */
export function rangeTasks<Name extends JobName>(
  job: Name,
  input: Omit<JobInputs[Name], 'from' | 'to'>,
  count: number,
  size: number,
  first = 0,
): Task<Name>[] {
  const tasks: { job: Name; input: unknown }[] = [];
  for (let from = first; from < count; from += size)
    tasks.push({ job, input: { ...input, from, to: Math.min(count, from + size) } });
  return tasks as Task<Name>[];
}

/**
 * Runs independent tasks on all threads, and resolves when all are done. Tasks write to disjoint parts of shared memory,
 * so the result depends neither on their order nor on the number of threads.
 */
export interface TaskRunner {
  readonly threads: number;
  run(tasks: readonly Task[], options?: RunOptions): Promise<void>;
}
