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

/** Values before the first of a row and before the first row (assembly/index.ts). */
export const BORDER = 8;

/** One call on rows `from` to `to`: of tiles of the source with its border, or of the result. */
export type WarpCall =
  | { step: 'findExtremes' | 'findSharpness'; from: number; to: number }
  | {
      step: 'writePadded';
      from: number;
      to: number;
      /** A plane, and where it goes with its border. */
      plane: Shared;
      target: number;
      width: number;
      height: number;
      across: number;
    }
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
  if (task.step === 'writePadded') return writePadded(task);
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

/** Copies a plane into rows `from` to `to` of one with a border on which its edge goes on. */
function writePadded({
  memory,
  from,
  to,
  plane,
  target,
  width,
  height,
  across,
}: SharedMemory & Extract<WarpCall, { step: 'writePadded' }>): void {
  const source = new Float32Array(plane);
  const padded = new Float32Array(memory.buffer, target, across * to);
  for (let row = from; row < to; row++) {
    const y = Math.min(height - 1, Math.max(0, row - BORDER)) * width;
    const at = row * across;
    padded.fill(source[y]!, at, at + BORDER);
    padded.set(source.subarray(y, y + width), at + BORDER);
    padded.fill(source[y + width - 1]!, at + BORDER + width, at + across);
  }
}

declare module '../runtime/parallel' {
  interface JobInputs {
    warp: WarpTask;
  }
}
