import { type Shared } from '../runtime/shared';
import type { RunOptions } from '../runtime/parallel';

/** A kernel's transform, ready to be multiplied with; what it holds is its maker's own. */
export interface Spectrum {
  /** Size of the planes it was made for. */
  width: number;
  height: number;
  bytes: number;
  /** Says that it will not be used again, so that its memory can be. */
  dispose(): void;
}

/** Writes one row of a kernel for `dx` from `-(width - 1)` to `width - 1`. */
export type KernelRows = (dy: number, out: Float32Array) => void;

/** A part of a kernel, in memory that threads share. */
export interface KernelPlane {
  /**
   * A quadrant, `width * height` values by `[dy * width + dx]`, is even in x and y. A half is the same turned half way round: it
   * has the rows from the source's own downwards, each for `dx` from `-(width - 1)` to `width - 1`. Runs hold of the rows from
   * `-(height - 1)` to `height - 1` the part of each that is not 0 (see {@link runsOfRows}).
   */
  kind: 'quadrant' | 'half' | 'runs';
  data: Shared;
  gain: number;
}

/**
 * The heavy loop of the veil, behind an interface so that a faster one can take its place. Both planes and results
 * are `width * height` floats, row-major. What lies outside the picture is black; nothing wraps round.
 */
export interface ConvolutionKernel {
  /**
   * Prepares a kernel for planes of `width * height`: the sum of planes, each times its gain, or rows, which are asked for
   * from `-(height - 1)` to `height - 1`.
   */
  prepare(
    width: number,
    height: number,
    kernel: KernelRows | readonly KernelPlane[],
    options?: RunOptions,
  ): Promise<Spectrum>;
  /** Transforms planes that are to be convolved with one kernel after the other. */
  transform(
    width: number,
    height: number,
    planes: readonly Float32Array[],
    options?: RunOptions,
  ): Promise<Spectrum[]>;
  /** Convolves each plane with its own kernel, or all with one. Planes that were transformed before give the same bits. */
  convolve(
    planes: readonly (Float32Array | Spectrum)[],
    spectra: readonly Spectrum[],
    options?: RunOptions,
  ): Promise<Float32Array[]>;
}
