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
  return resample(plane, width, coverage(width, toWidth), coverage(height, toHeight));
}

/**
 * The same with a tent over two new pixels as the filter: fine patterns do not beat, and since it is nowhere below zero, no
 * lamp gets a dark ring. A larger picture is interpolated linearly.
 */
export function resampleTent(
  plane: Float32Array,
  width: number,
  height: number,
  toWidth: number,
  toHeight: number,
): Float32Array {
  if (toWidth === width && toHeight === height) return plane;
  return resample(plane, width, tents(width, toWidth), tents(height, toHeight));
}

/** The old cells that a new one is made of. */
interface Cell {
  first: number;
  weights: Float64Array;
}

function resample(
  plane: Float32Array,
  width: number,
  columns: readonly Cell[],
  rows: readonly Cell[],
): Float32Array {
  const height = plane.length / width;
  const [toWidth, toHeight] = [columns.length, rows.length];
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
function coverage(size: number, toSize: number): Cell[] {
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

/** For each new cell: the old cells under a tent about its middle, with weights that sum to 1. */
function tents(size: number, toSize: number): Cell[] {
  const step = size / toSize;
  const reach = Math.max(1, step);
  return Array.from({ length: toSize }, (_, index) => {
    const middle = (index + 0.5) * step - 0.5;
    const first = Math.max(0, Math.ceil(middle - reach));
    const last = Math.min(size - 1, Math.floor(middle + reach));
    const weights = Float64Array.from({ length: last - first + 1 }, (__, k) =>
      Math.max(0, 1 - Math.abs(first + k - middle) / reach),
    );
    const sum = weights.reduce((all, weight) => all + weight, 0);
    return { first, weights: weights.map((weight) => weight / sum) };
  });
}
