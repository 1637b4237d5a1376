import { WASM } from '../generated/diffraction';
import type { SharedMemory } from '../runtime/memory';
import type { Shared } from '../runtime/shared';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is the address of its plan (see assembly/plan.ts). */
interface DiffractionExports {
  firstFree(): number;
  powerRows(spectrum: number, from: number, to: number): void;
  polarRows(plan: number, from: number, to: number): void;
  blurRows(plan: number, from: number, to: number, scratch: number): void;
  mixRows(plan: number, from: number, to: number): void;
  antialiasRows(plan: number, from: number, to: number, scratch: number): void;
  rasterRows(plan: number, from: number, to: number, out: number, task: number): void;
}

/** Rows of one step; `address` is that of the plan, or of a spectrum for step `powerRows`. */
export type DiffractionCall =
  | { step: 'powerRows' | 'polarRows' | 'mixRows'; address: number; from: number; to: number }
  | { step: 'blurRows' | 'antialiasRows'; address: number; from: number; to: number; scratch: number }
  | {
      step: 'rasterRows';
      address: number;
      from: number;
      to: number;
      scratch: number;
      task: number;
      /** Floats of a row of the result, and where each channel's rows go. */
      columns: number;
      out: readonly Shared[];
    };

export type DiffractionTask = DiffractionCall & SharedMemory;

export const diffractionKernel = onMemory<DiffractionExports>(WASM);

export function diffraction(task: DiffractionTask): void {
  const kernel = diffractionKernel(task);
  const { address, from, to } = task;
  switch (task.step) {
    case 'blurRows':
    case 'antialiasRows':
      return kernel[task.step](address, from, to, task.scratch);
    case 'rasterRows': {
      kernel.rasterRows(address, from, to, task.scratch, task.task);
      const count = task.columns * (to - from);
      task.out.forEach((buffer, c) => {
        const laid = new Float32Array(task.memory.buffer, task.scratch + 4 * c * count, count);
        new Float32Array(buffer).set(laid, from * task.columns);
      });
      return;
    }
    default:
      return kernel[task.step](address, from, to);
  }
}

declare module '../runtime/parallel' {
  interface JobInputs {
    diffraction: DiffractionTask;
  }
}
