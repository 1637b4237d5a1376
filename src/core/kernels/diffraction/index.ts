import type { RunOptions } from '../runtime/parallel';
import type { Shared } from '../runtime/shared';

/** A step of the logarithm of distance from one row of an image to the next. */
export const STEP = 0.02;
/** Angles over half a turn; the other half is the same. */
export const ANGLES = 1024;

/** The amplitude that a pupil lets through, on a square. */
export interface Pupil {
  /** `size * size` values. `size` is a power of two from 64 on. */
  mask: Float32Array;
  size: number;
  /** Pixels across the unit disc. */
  across: number;
}

/** How an image is kept by distance: rows of {@link ANGLES} values. Distances in wavelengths times f-number. */
export interface PolarGrid {
  /** Of the first row. */
  nearest: number;
  rows: number;
  /** How often the square is repeated by the transform's length, of the middle, up to `middleTo`, and far out. */
  nearSamples: number;
  farSamples: number;
  middleTo: number;
}

/** An image to be laid on pixels. */
export interface RasterInput {
  /** For each row and angle the densities of three channels per square pixel, and a fourth float that is not used. */
  image: Float32Array;
  rows: number;
  /** Logarithm of the first row's distance, in pixels. */
  first: number;
  /** Distances across count by so much, over 0: less than 1 draws the image out sideways. */
  squeeze: number;
  width: number;
  height: number;
  /** For each channel the rows from the source's own downwards, each from `-(width - 1)` to `width - 1`. */
  out: readonly [Shared, Shared, Shared];
}

/** The heavy loops of the spikes. */
export interface DiffractionKernel {
  /**
   * The diffraction image of a pupil at one wavelength, `|FFT(P)|^2`, by distance and angle: `rows * ANGLES` values, whose
   * integral over the plane is 1.
   */
  diffract(pupil: Pupil, grid: PolarGrid, options?: RunOptions): Promise<Float32Array>;
  /** Blurs an image along the angle by an even blur of `2 reach + 1` cells, thrice. */
  blurAngles(density: Float32Array, reach: number, options?: RunOptions): Promise<Float32Array>;
  /**
   * Sums an image over wavelengths, each a row farther out than the one before it: three planes of as many rows. A weight
   * is what a wavelength brings to red, green and blue; what is negative in the end is 0.
   */
  mixWavelengths(
    density: Float32Array,
    weights: readonly (readonly number[])[],
    options?: RunOptions,
  ): Promise<[Float32Array, Float32Array, Float32Array]>;
  /**
   * Lays an image on the pixels around its source, anti-aliased, all but the source's own. Gives the sum of each channel
   * over these rows and those above the source, which are the same turned half way round.
   */
  rasterize(input: RasterInput, options?: RunOptions): Promise<[number, number, number]>;
}
