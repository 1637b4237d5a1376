/**
 * A piecewise cubic through points that is monotone wherever they are (Fritsch & Carlson, "Monotone Piecewise Cubic
 * Interpolation", SIAM J. Numer. Anal. 17, 1980): tangents from the mean of the neighbouring slopes, held to the circle
 * of radius 3. Outside the points it goes on with `outerSlope`.
 */
export function monotoneCubic(
  points: readonly (readonly [x: number, y: number])[],
  outerSlope: number,
): (x: number) => number {
  const count = points.length;
  if (count === 0) return (x) => x;
  const [first, last] = [points[0]!, points[count - 1]!];
  const tangents = monotoneTangents(points);
  return (x) => {
    if (x <= first[0]) return first[1] + outerSlope * (x - first[0]);
    if (x >= last[0]) return last[1] + outerSlope * (x - last[0]);
    let low = 0;
    let high = count - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (points[middle]![0] <= x) low = middle;
      else high = middle;
    }
    const [x0, y0] = points[low]!;
    const [x1, y1] = points[high]!;
    const h = x1 - x0;
    const t = (x - x0) / h;
    const u = 1 - t;
    return (
      u * u * (1 + 2 * t) * y0 +
      t * t * (1 + 2 * u) * y1 +
      h * t * u * (u * tangents[low]! - t * tangents[high]!)
    );
  };
}

/** Slopes at the points. */
export function monotoneTangents(points: readonly (readonly [x: number, y: number])[]): number[] {
  const slopes = points.slice(1).map(([x, y], i) => (y - points[i]![1]) / (x - points[i]![0]));
  if (slopes.length === 0) return points.map(() => 1);
  const tangents = points.map((_, i) => {
    const [before, after] = [slopes[i - 1], slopes[i]];
    if (before === undefined) return after!;
    if (after === undefined) return before;
    return before * after <= 0 ? 0 : (before + after) / 2;
  });
  for (const [i, slope] of slopes.entries()) {
    if (slope === 0) {
      tangents[i] = 0;
      tangents[i + 1] = 0;
      continue;
    }
    const reach = Math.hypot(tangents[i]! / slope, tangents[i + 1]! / slope);
    if (reach <= 3) continue;
    tangents[i]! *= 3 / reach;
    tangents[i + 1]! *= 3 / reach;
  }
  return tangents;
}
