import { GAUSS } from './radial';

/** Standard deviations in the width of a Gaussian at half its height. */
export const DEVIATIONS_AT_HALF_HEIGHT = 2 * Math.sqrt(2 * Math.LN2);

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
