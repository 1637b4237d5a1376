/** Where the first pixel of what is made lies in a plane, and how far the next are apart, in its pixels. */
export interface Placement {
  x: number;
  y: number;
  step: number;
}

interface Size {
  width: number;
  height: number;
}

/** The old cells that a new one is made of. */
interface Cell {
  first: number;
  weights: Float64Array;
}

/**
 * A plane moved and scaled into another: interpolated linearly where it is enlarged, under a tent over two new pixels where it is
 * made smaller. Beside the plane there is nothing; by whole pixels it is moved bit for bit.
 */
export function placePlane(
  plane: Float32Array,
  { width, height }: Size,
  to: Size,
  { x, y, step }: Placement,
): Float32Array {
  const [columns, rows] = [cells(width, to.width, x, step), cells(height, to.height, y, step)];
  const narrow = new Float32Array(to.width * height);
  for (let row = 0; row < height; row++)
    for (let column = 0; column < to.width; column++) {
      const { first, weights } = columns[column]!;
      let sum = 0;
      for (let k = 0; k < weights.length; k++) sum += weights[k]! * plane[row * width + first + k]!;
      narrow[row * to.width + column] = sum;
    }
  const out = new Float32Array(to.width * to.height);
  for (let row = 0; row < to.height; row++) {
    const { first, weights } = rows[row]!;
    for (let k = 0; k < weights.length; k++) {
      const [from, at] = [(first + k) * to.width, row * to.width];
      for (let column = 0; column < to.width; column++)
        out[at + column]! += weights[k]! * narrow[from + column]!;
    }
  }
  return out;
}

/** The same without mixing pixels, for distances and ids; `outside` stands beside the plane. */
export function placeNearest(
  plane: Float32Array,
  { width, height }: Size,
  to: Size,
  { x, y, step }: Placement,
  outside: number,
): Float32Array {
  const out = new Float32Array(to.width * to.height).fill(outside);
  for (let row = 0; row < to.height; row++) {
    const v = Math.round(y + row * step);
    if (v < 0 || v >= height) continue;
    for (let column = 0; column < to.width; column++) {
      const u = Math.round(x + column * step);
      if (u >= 0 && u < width) out[row * to.width + column] = plane[v * width + u]!;
    }
  }
  return out;
}

/** For each new cell the old ones under a tent about its middle; what falls beside the plane is left out. */
function cells(size: number, toSize: number, from: number, step: number): Cell[] {
  const reach = Math.max(1, step);
  return Array.from({ length: toSize }, (_, index) => {
    const middle = from + index * step;
    const [low, high] = [Math.floor(middle - reach) + 1, Math.ceil(middle + reach) - 1];
    let all = 0;
    for (let k = low; k <= high; k++) all += reach - Math.abs(k - middle);
    const [first, last] = [Math.max(0, low), Math.min(size - 1, high)];
    const weights = new Float64Array(Math.max(0, last - first + 1)).map(
      (__, k) => (reach - Math.abs(first + k - middle)) / all,
    );
    return { first, weights };
  });
}
