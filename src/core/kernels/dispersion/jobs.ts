import { WASM } from '../generated/dispersion';
import type { Rectangle } from '../../image/rectangle';
import type { SharedMemory } from '../runtime/memory';
import type { Shared } from '../runtime/shared';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is the address of its plan (see assembly/plan.ts). */
interface DispersionExports {
  firstFree(): number;
  disperseRows(plan: number, from: number, to: number): void;
}

export interface DispersionTask extends SharedMemory {
  plan: number;
  from: number;
  to: number;
  /** Where the kernel leaves each channel of the part of the picture that it works on. */
  planes: readonly number[];
  box: Rectangle;
  /** The whole picture's planes, and how many columns they have. */
  out: readonly Shared[];
  columns: number;
}

export const dispersionKernel = onMemory<DispersionExports>(WASM);

export function dispersion(task: DispersionTask): void {
  const { plan, from, to, planes, box, columns, out } = task;
  dispersionKernel(task).disperseRows(plan, from, to);
  planes.forEach((plane, c) => {
    const made = new Float32Array(task.memory.buffer, plane, to * box.width);
    const target = new Float32Array(out[c]!);
    for (let row = from; row < to; row++)
      target.set(made.subarray(row * box.width, (row + 1) * box.width), (box.y + row) * columns + box.x);
  });
}

declare module '../runtime/parallel' {
  interface JobInputs {
    dispersion: DispersionTask;
  }
}
