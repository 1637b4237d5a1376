import { WASM } from '../generated/warp';
import type { SharedMemory } from '../runtime/memory';
import type { Shared } from '../runtime/shared';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is the address of its plan (see assembly/plan.ts). */
interface WarpExports {
  firstFree(): number;
  findExtremes(plan: number, from: number, to: number): void;
  findSharpness(plan: number, from: number, to: number): void;
  warpRows(plan: number, from: number, to: number, out: number, pitch: number): void;
}

/** One call on rows `from` to `to`: of tiles of the source with its border, or of the result. */
export type WarpCall =
  | { step: 'findExtremes' | 'findSharpness'; from: number; to: number }
  | {
      step: 'warpRows';
      from: number;
      to: number;
      scratch: number;
      columns: number;
      /** Floats of a row in scratch memory. */
      pitch: number;
      out: readonly Shared[];
    };

export type WarpTask = WarpCall & SharedMemory & { plan: number };

export const warpKernel = onMemory<WarpExports>(WASM);

export function warp(task: WarpTask): void {
  const kernel = warpKernel(task);
  const { plan, from, to } = task;
  if (task.step !== 'warpRows') return kernel[task.step](plan, from, to);
  const { scratch, columns, pitch, out } = task;
  kernel.warpRows(plan, from, to, scratch, pitch);
  const rows = to - from;
  out.forEach((buffer, c) => {
    const made = new Float32Array(task.memory.buffer, scratch + 4 * c * pitch * rows, pitch * rows);
    const target = new Float32Array(buffer);
    for (let k = 0; k < rows; k++)
      target.set(made.subarray(k * pitch, k * pitch + columns), (from + k) * columns);
  });
}

declare module '../runtime/parallel' {
  interface JobInputs {
    warp: WarpTask;
  }
}
