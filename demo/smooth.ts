/** Pictures that tell one surface from another: planes, and how far values on one surface lie apart. */
export interface Guide {
  plane: Float32Array;
  spread: number;
}

/** One dimension of the B3 spline that the transform of holes is built on. */
const SPLINE = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16];

/**
 * Smooths noisy light within surfaces: an edge-stopping transform with holes (Dammertz, Sewtz, Hanika and Lensch 2010).
 * Every pass over the planes doubles the distance of its 25 taps. `width` times the height are the planes' pixels.
 */
export function smoothWithin(
  planes: readonly Float32Array[],
  guides: readonly Guide[],
  width: number,
  levels: number,
): Float32Array[] {
  let current = [...planes];
  for (let level = 0; level < levels; level++) current = spread(current, guides, width, 1 << level);
  return current;
}

function spread(
  planes: readonly Float32Array[],
  guides: readonly Guide[],
  width: number,
  stride: number,
): Float32Array[] {
  const height = planes[0]!.length / width;
  const out = planes.map((plane) => new Float32Array(plane.length));
  const sums = new Float64Array(planes.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      let total = 0;
      sums.fill(0);
      for (let j = -2; j <= 2; j++)
        for (let i = -2; i <= 2; i++) {
          const [u, v] = [x + i * stride, y + j * stride];
          if (u < 0 || v < 0 || u >= width || v >= height) continue;
          const from = v * width + u;
          let apart = 0;
          for (const { plane, spread: own } of guides) apart += ((plane[from]! - plane[at]!) / own) ** 2;
          const weight = SPLINE[i + 2]! * SPLINE[j + 2]! * Math.exp(-apart);
          total += weight;
          planes.forEach((plane, k) => (sums[k]! += weight * plane[from]!));
        }
      out.forEach((plane, k) => (plane[at] = sums[k]! / total));
    }
  return out;
}
