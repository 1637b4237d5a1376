/**
 * How a value goes from one key to the next: not until the next, evenly, smoothly through its neighbours, or by the handles of a cubic
 * Bezier curve in the unit square, [x1, y1, x2, y2] (W3C CSS Easing Functions Level 1, `cubic-bezier`).
 */
export type Ease = 'hold' | 'linear' | 'smooth' | readonly [number, number, number, number];

const STEPS = 60;

/** How far a value has come, 0 to 1 and with handles beyond, at a share of the time. */
export function easeCurve(ease: Exclude<Ease, 'hold' | 'smooth'>, t: number): number {
  if (ease === 'linear' || t <= 0 || t >= 1) return Math.min(1, Math.max(0, t));
  const [x1, y1, x2, y2] = ease;
  // Time is monotone along the curve: its place is found by halving.
  let [low, high] = [0, 1];
  for (let step = 0; step < STEPS; step++) {
    const middle = (low + high) / 2;
    if (bezier(x1, x2, middle) < t) low = middle;
    else high = middle;
  }
  return bezier(y1, y2, (low + high) / 2);
}

/** A cubic Bezier curve from 0 to 1 with two handles. */
const bezier = (a: number, b: number, s: number): number =>
  3 * (1 - s) ** 2 * s * a + 3 * (1 - s) * s ** 2 * b + s ** 3;

/** Slopes at points under which cubics through them never overshoot. [Fritsch & Butland 1984; flat at the ends] */
export function monotoneSlopes(points: readonly { x: number; y: number }[]): number[] {
  const secants = points
    .slice(1)
    .map(({ x, y }, k) => ({ width: x - points[k]!.x, slope: (y - points[k]!.y) / (x - points[k]!.x) }));
  return points.map((_, k) => {
    const [before, after] = [secants[k - 1], secants[k]];
    if (!before || !after || before.slope * after.slope <= 0) return 0;
    const [w1, w2] = [2 * after.width + before.width, after.width + 2 * before.width];
    return (w1 + w2) / (w1 / before.slope + w2 / after.slope);
  });
}
