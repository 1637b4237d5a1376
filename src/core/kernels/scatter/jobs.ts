import { WASM } from '../generated/scatter';
import type { SharedMemory } from '../runtime/memory';
import type { Shared } from '../runtime/shared';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is a place in its memory (see assembly/plan.ts). */
interface ScatterExports {
  firstFree(): number;
  findRange(from: number, count: number, to: number): void;
  surveyStrip(plan: number, strip: number): void;
  surveyRest(plan: number): void;
  cutStrip(plan: number, strip: number): void;
  orderStrip(plan: number, strip: number): void;
  bandBytes(plan: number, rows: number): number;
  scatterBand(plan: number, from: number, to: number, scratch: number): void;
}

/** One call of the kernel on one strip or band. */
export type ScatterCall =
  | { step: 'surveyStrip' | 'cutStrip' | 'orderStrip'; strip: number }
  | { step: 'surveyRest' }
  | { step: 'clearScratch'; scratch: number; bytes: number }
  | {
      step: 'scatterBand';
      from: number;
      to: number;
      scratch: number;
      /** Floats of a row of the result; where the kernel leaves each channel, and where its rows go. */
      columns: number;
      planes: readonly number[];
      out: readonly Shared[];
    };

export type ScatterTask = ScatterCall & SharedMemory & { plan: number };

export const scatterKernel = onMemory<ScatterExports>(WASM);

export function scatter(task: ScatterTask): void {
  const kernel = scatterKernel(task);
  switch (task.step) {
    case 'surveyRest':
      return kernel.surveyRest(task.plan);
    case 'clearScratch':
      new Uint8Array(task.memory.buffer, task.scratch, task.bytes).fill(0);
      return;
    case 'scatterBand': {
      const { from, to, columns, out } = task;
      kernel.scatterBand(task.plan, from, to, task.scratch);
      task.planes.forEach((plane, c) => {
        const rows = new Float32Array(task.memory.buffer, plane + 4 * from * columns, (to - from) * columns);
        new Float32Array(out[c]!).set(rows, from * columns);
      });
      return;
    }
    default:
      return kernel[task.step](task.plan, task.strip);
  }
}

declare module '../runtime/parallel' {
  interface JobInputs {
    scatter: ScatterTask;
  }
}
