import { WASM } from './generated/scatter';
import type { SharedMemory } from './arena';
import { onMemory } from './wasm';

/** What the WebAssembly kernel offers; `plan` is a place in its memory (see kernels/scatter/plan.ts). */
interface ScatterExports {
  firstFree(): number;
  surveyStrip(plan: number, strip: number): void;
  surveyRest(plan: number): void;
  cutStrip(plan: number, strip: number): void;
  orderStrip(plan: number, strip: number): void;
  bandBytes(plan: number, rows: number): number;
  scatterBand(plan: number, from: number, to: number, room: number): void;
}

/** One call of the kernel on one strip or band. */
export type ScatterCall =
  | { step: 'surveyStrip' | 'cutStrip' | 'orderStrip'; strip: number }
  | { step: 'surveyRest' }
  | { step: 'scatterBand'; from: number; to: number; room: number };

export type ScatterTask = ScatterCall & SharedMemory & { plan: number };

export const scatterKernel = onMemory<ScatterExports>(WASM);

export function scatter(task: ScatterTask): void {
  const kernel = scatterKernel(task);
  switch (task.step) {
    case 'surveyRest':
      return kernel.surveyRest(task.plan);
    case 'scatterBand':
      return kernel.scatterBand(task.plan, task.from, task.to, task.room);
    default:
      return kernel[task.step](task.plan, task.strip);
  }
}
