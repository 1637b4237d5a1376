import type { Rgb } from '../../image/rgb';
import type { Triple } from '../../color/primaries';
import type { RunOptions } from '../runtime/parallel';

/** Steps of a table over the square of the distance from the axis. */
export const RATIO_STEPS = 1024;

/** Where one wavelength comes from, and what it brings to each channel. */
export interface WarpSample {
  /**
   * Distance from the axis in the source over that in the result, `RATIO_STEPS + 1` values over the square of the latter,
   * from 0 to the input's `limit`.
   */
  ratios: Float32Array;
  weight: Triple;
}

/** Turns, scales and moves offsets from the axis: `(xx x + xy y + x0, yx x + yy y + y0)`. */
export interface AffineMove {
  xx: number;
  xy: number;
  yx: number;
  yy: number;
  /** Pixels. */
  x0: number;
  y0: number;
}

export const NO_MOVE: AffineMove = { xx: 1, xy: 0, yx: 0, yy: 1, x0: 0, y0: 0 };

export interface WarpInput {
  width: number;
  height: number;
  light: Rgb;
  /**
   * The light by whose contrast it is decided where samples are taken softly, so that nothing rings about lamps: the same for
   * all parts of a picture, so that their sum stays the whole. `light` itself by default.
   */
  guide?: Rgb;
  /** Where the axis meets the pixels; the first one's centre is at (0.5, 0.5). */
  axisX: number;
  axisY: number;
  /** Where the source lies for the rays, as with a camera that shakes: of their offsets, after the ratios. In its place by default. */
  move?: AffineMove;
  /** Largest square of a distance from the axis, pixels. */
  limit: number;
  /** The weights of all samples sum to 1 in each channel. */
  samples: readonly WarpSample[];
}

/**
 * Resamples a picture along rays from its axis, each wavelength by its own law, in one step: the sum over wavelengths of
 * their weights times the source, read with a six-tap windowed sinc (Lanczos 1956; Turkowski 1990), or linearly where the
 * contrast is that of lamps. Beyond its edges the picture goes on with its last pixels.
 */
export interface WarpKernel {
  warp(input: WarpInput, options?: RunOptions): Promise<Rgb>;
}
