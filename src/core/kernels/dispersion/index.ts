import type { Triple } from '../../color/primaries';
import type { Rgb } from '../../image/rgb';
import type { RunOptions } from '../runtime/parallel';

/** Steps of a table over how far a normal leans. */
export const LEAN_STEPS = 256;

/** One wavelength: how far its place lies from the pixel's own by how far the normal leans, and what it brings to each channel. */
export interface DispersedSample {
  /** Pixels, `LEAN_STEPS + 1` values from no lean to the input's `steepest`. */
  shifts: Float32Array;
  weight: Triple;
}

export interface DispersionInput {
  width: number;
  height: number;
  /** The light that came through the glass. */
  seen: Rgb;
  /** Where the glass is, 0 to 1. */
  matte: Float32Array;
  /** How far normals lean from the view, right and down, as sines. */
  right: Float32Array;
  down: Float32Array;
  /** The steepest lean that counts. */
  steepest: number;
  /** Wavelengths by how far normals lean, the least lean first: the farther, the more are needed. */
  levels: readonly DispersionLevel[];
}

/** The wavelengths for normals that lean by less than `upTo`, and by more than the level before takes. */
export interface DispersionLevel {
  upTo: number;
  samples: readonly DispersedSample[];
}

/**
 * Reads the light seen through glass again, each wavelength from its own place along the lean of the normal, and gives what
 * that adds and takes within the matte. Where a place lies outside the matte the pixel's own light stands in.
 */
export interface DispersionKernel {
  disperse(input: DispersionInput, options?: RunOptions): Promise<Rgb>;
}
