import { wasmConvolution } from './convolution/wasm';
import type { ConvolutionKernel } from './convolution';
import type { DiffractionKernel } from './diffraction';
import { wasmDiffraction } from './diffraction/wasm';
import type { DispersionKernel } from './dispersion';
import { wasmDispersion } from './dispersion/wasm';
import type { GhostKernel } from './ghosts';
import { wasmGhosts } from './ghosts/wasm';
import type { GradeKernel } from './grade';
import { wasmGrade } from './grade/wasm';
import type { TaskRunner } from './runtime/parallel';
import type { ScatterKernel } from './scatter';
import { wasmScatter } from './scatter/wasm';
import type { WarpKernel } from './warp';
import { wasmWarp } from './warp/wasm';

/** The heavy loops that stations use. */
export interface Kernels {
  convolution: ConvolutionKernel;
  scatter: ScatterKernel;
  diffraction: DiffractionKernel;
  ghosts: GhostKernel;
  warp: WarpKernel;
  dispersion: DispersionKernel;
  grade: GradeKernel;
  /** The threads themselves, for jobs that are not worth a kernel. */
  parallel: TaskRunner;
}

/** The kernels, their work shared out over threads. */
export function kernelsOn(parallel: TaskRunner): Kernels {
  return {
    convolution: wasmConvolution(parallel),
    scatter: wasmScatter(parallel),
    diffraction: wasmDiffraction(parallel),
    ghosts: wasmGhosts(parallel),
    warp: wasmWarp(parallel),
    dispersion: wasmDispersion(parallel),
    grade: wasmGrade(parallel),
    parallel,
  };
}
