import { WASM } from '../generated/dispersion';
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
  /** Where the kernel leaves each channel, and where its rows go. */
  planes: readonly number[];
  columns: number;
  out: readonly Shared[];
}

export const dispersionKernel = onMemory<DispersionExports>(WASM);

export function dispersion(task: DispersionTask): void {
  const { plan, from, to, planes, columns, out } = task;
  dispersionKernel(task).disperseRows(plan, from, to);
  planes.forEach((plane, c) => {
    const rows = new Float32Array(task.memory.buffer, plane + 4 * from * columns, (to - from) * columns);
    new Float32Array(out[c]!).set(rows, from * columns);
  });
}

declare module '../runtime/parallel' {
  interface JobInputs {
    dispersion: DispersionTask;
  }
}
