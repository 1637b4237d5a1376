/**
 * Brings a plane to another size: each new pixel is the mean of the area it covers, so that light is kept.
 * Shapes: `width * height` in, `toWidth * toHeight` out, row-major.
 */
export function resampleArea(
  plane: Float32Array,
  width: number,
  height: number,
  toWidth: number,
  toHeight: number,
): Float32Array {
  if (toWidth === width && toHeight === height) return plane;
  const columns = coverage(width, toWidth);
  const rows = coverage(height, toHeight);
  const narrow = new Float32Array(toWidth * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < toWidth; x++) {
      const { first, weights } = columns[x]!;
      let sum = 0;
      for (let k = 0; k < weights.length; k++) sum += weights[k]! * plane[y * width + first + k]!;
      narrow[y * toWidth + x] = sum;
    }
  }
  const out = new Float32Array(toWidth * toHeight);
  const line = new Float64Array(toWidth);
  for (let y = 0; y < toHeight; y++) {
    line.fill(0);
    const { first, weights } = rows[y]!;
    for (let k = 0; k < weights.length; k++) {
      const from = (first + k) * toWidth;
      for (let x = 0; x < toWidth; x++) line[x]! += weights[k]! * narrow[from + x]!;
    }
    out.set(line, y * toWidth);
  }
  return out;
}

/** For each new cell: the first old cell it touches and the share each touched cell has in it. */
function coverage(size: number, toSize: number): { first: number; weights: Float64Array }[] {
  const step = size / toSize;
  return Array.from({ length: toSize }, (_, index) => {
    const from = index * step;
    const to = Math.min(size, from + step);
    const first = Math.floor(from);
    const last = Math.min(size, Math.ceil(to - 1e-9));
    const weights = new Float64Array(last - first);
    for (let k = first; k < last; k++) weights[k - first] = (Math.min(k + 1, to) - Math.max(k, from)) / step;
    return { first, weights };
  });
}
