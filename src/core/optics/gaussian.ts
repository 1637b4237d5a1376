import { GAUSS } from './radial';

/** Standard deviations in the width of a Gaussian at half its height. */
export const DEVIATIONS_AT_HALF_HEIGHT = 2 * Math.sqrt(2 * Math.LN2);

/**
 * Share of the normal distribution below `t` standard deviations, to 1e-7 (Abramowitz & Stegun 1964, Handbook of
 * Mathematical Functions, 26.2.17).
 */
export function normalShare(t: number): number {
  const k = 1 / (1 + 0.2316419 * Math.abs(t));
  const series =
    k * (0.31938153 + k * (-0.356563782 + k * (1.781477937 + k * (-1.821255978 + k * 1.330274429))));
  const tail = (Math.exp(-0.5 * t * t) / Math.sqrt(2 * Math.PI)) * series;
  return t > 0 ? 1 - tail : tail;
}

/** Standard deviations at which it counts as ended. */
const END = 6;

/**
 * A Gaussian of a standard deviation in pixels, integrated over the pixels around a source in the middle of pixel (0, 0):
 * a quadrant of `width * height` values. All of it together is 1.
 */
export function gaussianQuadrant(deviation: number, width: number, height: number): Float32Array {
  const reach = Math.ceil(END * deviation) + 1;
  const side = Float64Array.from({ length: reach + 1 }, (_, d) =>
    GAUSS[8].reduce(
      (sum, [u, weight]) => sum + weight * Math.exp(-0.5 * ((d + u - 0.5) / deviation) ** 2),
      0,
    ),
  );
  const total = side.reduce((sum, value, d) => sum + (d === 0 ? value : 2 * value), 0);
  const out = new Float32Array(width * height);
  for (let dy = 0; dy < Math.min(height, reach); dy++)
    for (let dx = 0; dx < Math.min(width, reach); dx++)
      out[dy * width + dx] = (side[dy]! * side[dx]!) / total ** 2;
  return out;
}
