import { WASM } from '../generated/grade';
import type { SharedMemory } from '../runtime/memory';
import type { Shared } from '../runtime/shared';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is the address of a plan (see assembly/plan.ts). */
interface GradeExports {
  firstFree(): number;
  gradeRows(plan: number, from: number, to: number): void;
  levelRows(plan: number, from: number, to: number): void;
  blurRows(plan: number, from: number, to: number): void;
  sharpenRows(plan: number, from: number, to: number, scratch: number): void;
  noiseRows(
    out: number,
    across: number,
    left: number,
    top: number,
    seed: number,
    from: number,
    to: number,
  ): void;
  filterRows(
    white: number,
    across: number,
    weights: number,
    reach: number,
    out: number,
    width: number,
    from: number,
    to: number,
    scratch: number,
  ): void;
}

/** Where finished rows of the planes go. */
interface Finish {
  planes: readonly number[];
  columns: number;
  out: readonly Shared[];
}

/** Planes whose rows are copied in before they are worked on, each to its place. */
interface Start {
  planes: readonly { from: Shared; to: number }[];
  columns: number;
}

/** One call on rows `from` to `to`. */
export type GradeCall =
  | { step: 'gradeRows'; plan: number; from: number; to: number; start: Start; finish?: Finish | undefined }
  | { step: 'levelRows' | 'blurRows'; plan: number; from: number; to: number }
  | { step: 'sharpenRows'; plan: number; from: number; to: number; scratch: number; finish: Finish }
  | {
      step: 'noiseRows';
      from: number;
      to: number;
      out: number;
      across: number;
      left: number;
      top: number;
      seed: number;
    }
  | {
      step: 'filterRows';
      from: number;
      to: number;
      white: number;
      across: number;
      weights: number;
      reach: number;
      width: number;
      /** Room for the rows and one row of `across` behind them. */
      scratch: number;
      out: Shared;
    };

export type GradeTask = GradeCall & SharedMemory;

export const gradeKernel = onMemory<GradeExports>(WASM);

export function grade(task: GradeTask): void {
  const kernel = gradeKernel(task);
  const { from, to } = task;
  switch (task.step) {
    case 'gradeRows':
      copyIn(task, task.start);
      kernel.gradeRows(task.plan, from, to);
      if (task.finish) copyOut(task, task.finish);
      return;
    case 'sharpenRows':
      kernel.sharpenRows(task.plan, from, to, task.scratch);
      return copyOut(task, task.finish);
    case 'noiseRows':
      return kernel.noiseRows(task.out, task.across, task.left, task.top, task.seed, from, to);
    case 'filterRows': {
      const { white, across, weights, reach, width, scratch, out } = task;
      const count = width * (to - from);
      kernel.filterRows(
        white,
        across,
        weights,
        reach,
        scratch,
        width,
        from,
        to,
        (scratch + 4 * count + 15) & ~15,
      );
      new Float32Array(out).set(new Float32Array(task.memory.buffer, scratch, count), from * width);
      return;
    }
    default:
      return kernel[task.step](task.plan, from, to);
  }
}

function copyIn(
  { memory, from, to }: SharedMemory & { from: number; to: number },
  { planes, columns }: Start,
): void {
  const [first, count] = [from * columns, (to - from) * columns];
  for (const plane of planes)
    new Float32Array(memory.buffer, plane.to + 4 * first, count).set(
      new Float32Array(plane.from, 4 * first, count),
    );
}

function copyOut(
  { memory, from, to }: SharedMemory & { from: number; to: number },
  { planes, columns, out }: Finish,
): void {
  planes.forEach((plane, c) => {
    const rows = new Float32Array(memory.buffer, plane + 4 * from * columns, (to - from) * columns);
    new Float32Array(out[c]!).set(rows, from * columns);
  });
}

declare module '../runtime/parallel' {
  interface JobInputs {
    grade: GradeTask;
  }
}
