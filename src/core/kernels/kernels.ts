import { wasmConvolution } from './convolution-wasm';
import type { ConvolutionKernel } from './convolution';
import type { Parallel } from './parallel';
import { wasmScatter, type ScatterKernel } from './scatter';

/** The heavy loops that stations use. */
export interface Kernels {
  convolution: ConvolutionKernel;
  scatter: ScatterKernel;
  /** The threads themselves, for jobs that are not worth a kernel. */
  parallel: Parallel;
}

/** The kernels, their work shared out over threads. */
export function kernelsOn(parallel: Parallel): Kernels {
  return { convolution: wasmConvolution(parallel), scatter: wasmScatter(parallel), parallel };
}
