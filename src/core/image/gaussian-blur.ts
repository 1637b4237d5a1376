/** Deviations at which the weights end. */
const END = 3.5;

/** Weights of a Gaussian of a standard deviation in pixels, an odd number of them, together 1. */
export function gaussianWeights(deviation: number): Float64Array {
  if (!(deviation > 0.1)) return Float64Array.of(1);
  const reach = Math.ceil(END * deviation);
  const weights = Float64Array.from({ length: 2 * reach + 1 }, (_, k) =>
    Math.exp(-0.5 * ((k - reach) / deviation) ** 2),
  );
  const sum = weights.reduce((all, weight) => all + weight, 0);
  return weights.map((weight) => weight / sum);
}

/** A plane blurred by a Gaussian with its own deviation across and down; beyond its edges it is 0. */
export function gaussianBlur(
  plane: Float32Array,
  width: number,
  height: number,
  across: number,
  down: number,
): Float32Array {
  const rows = gaussianWeights(across);
  const columns = gaussianWeights(down);
  const half = new Float32Array(plane.length);
  const reachX = (rows.length - 1) / 2;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = Math.max(-reachX, -x); k <= Math.min(reachX, width - 1 - x); k++)
        sum += rows[k + reachX]! * plane[y * width + x + k]!;
      half[y * width + x] = sum;
    }
  const out = new Float32Array(plane.length);
  const reachY = (columns.length - 1) / 2;
  for (let y = 0; y < height; y++)
    for (let k = Math.max(-reachY, -y); k <= Math.min(reachY, height - 1 - y); k++) {
      const weight = columns[k + reachY]!;
      for (let x = 0; x < width; x++) out[y * width + x]! += weight * half[(y + k) * width + x]!;
    }
  return out;
}
