import { WASM } from '../generated/scatter';
import type { SharedMemory } from '../runtime/memory';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is a place in its memory (see assembly/plan.ts). */
interface ScatterExports {
  firstFree(): number;
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
  | { step: 'scatterBand'; from: number; to: number; scratch: number };

export type ScatterTask = ScatterCall & SharedMemory & { plan: number };

export const scatterKernel = onMemory<ScatterExports>(WASM);

export function scatter(task: ScatterTask): void {
  const kernel = scatterKernel(task);
  switch (task.step) {
    case 'surveyRest':
      return kernel.surveyRest(task.plan);
    case 'scatterBand':
      return kernel.scatterBand(task.plan, task.from, task.to, task.scratch);
    default:
      return kernel[task.step](task.plan, task.strip);
  }
}

declare module '../runtime/parallel' {
  interface JobInputs {
    scatter: ScatterTask;
  }
}
