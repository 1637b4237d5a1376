import { WASM } from './generated/scatter';
import { wasmBytes } from './wasm';

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

/** The memory of one picture. Threads know it by its number: what arrives by message is a new object each time. */
export interface ScatterMemory {
  id: number;
  memory: WebAssembly.Memory;
}

/** One call of the kernel on one strip or band. */
export type ScatterCall =
  | { step: 'surveyStrip' | 'cutStrip' | 'orderStrip'; strip: number }
  | { step: 'surveyRest' }
  | { step: 'scatterBand'; from: number; to: number; room: number };

export type ScatterTask = ScatterCall & ScatterMemory & { plan: number };

let compiled: WebAssembly.Module | undefined;
/** The kernel of this thread on the memory it was last used with. */
let current: { id: number; kernel: ScatterExports } | undefined;

export function scatterKernel({ id, memory }: ScatterMemory): ScatterExports {
  if (current?.id === id) return current.kernel;
  compiled ??= new WebAssembly.Module(wasmBytes(WASM));
  const abort = (): never => {
    throw new Error('the scatter kernel stopped');
  };
  const { exports } = new WebAssembly.Instance(compiled, { env: { memory, abort } });
  current = { id, kernel: exports as unknown as ScatterExports };
  return current.kernel;
}

export function scatter(task: ScatterTask): void { const t0=performance.now(); try { return scatter_(task);} finally { const g=(globalThis as any); g.T??={}; g.T[task.step]=(g.T[task.step]??0)+performance.now()-t0; } }
function scatter_(task: ScatterTask): void {
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
