import type { SharedMemory } from '../runtime/memory';
import { WASM } from '../generated/convolution';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is a place in its memory (see assembly/plan.ts). */
interface ConvolutionExports {
  firstFree(): number;
  rowsForward(plan: number, from: number, to: number, scratch: number): void;
  rowsMirrored(plan: number, from: number, to: number, scratch: number): void;
  rowsInverse(plan: number, from: number, to: number, scratch: number): void;
  columnsForward(plan: number, from: number, to: number): void;
  columnsConvolve(plan: number, from: number, to: number, spectrum: number): void;
  columnsMultiply(plan: number, from: number, to: number, spectrum: number, source: number): void;
}

/** One call of the kernel on some groups of rows or blocks of columns. */
export interface ConvolutionCall {
  step:
    'rowsForward' | 'rowsMirrored' | 'rowsInverse' | 'columnsForward' | 'columnsConvolve' | 'columnsMultiply';
  from: number;
  to: number;
  /** Where the spectrum lies that columns are multiplied by, and what was transformed before. */
  spectrum?: number;
  source?: number;
}

export type ConvolutionTask = ConvolutionCall & SharedMemory & { plan: number; scratch: number };

export const convolutionKernel = onMemory<ConvolutionExports>(WASM);

export function convolution(task: ConvolutionTask): void {
  const kernel = convolutionKernel(task);
  const { step, plan, from, to, scratch, spectrum, source } = task;
  switch (step) {
    case 'rowsForward':
    case 'rowsMirrored':
    case 'rowsInverse':
      return kernel[step](plan, from, to, scratch);
    case 'columnsForward':
      return kernel.columnsForward(plan, from, to);
    case 'columnsConvolve':
      return kernel.columnsConvolve(plan, from, to, spectrum!);
    case 'columnsMultiply':
      return kernel.columnsMultiply(plan, from, to, spectrum!, source!);
  }
}

declare module '../runtime/parallel' {
  interface JobInputs {
    convolution: ConvolutionTask;
  }
}
