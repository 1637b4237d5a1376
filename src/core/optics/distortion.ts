/** Radial distortion: where a point at a distance from the axis comes to lie. Distances in half diagonals of the frame. */
export interface Distortion {
  k1: number;
  k2: number;
}

/** `r (1 + k1 r^2 + k2 r^4)`: over 0 the corners are drawn out, below 0 they are drawn in (Brown 1966). */
export function distort({ k1, k2 }: Distortion, r: number): number {
  const square = r * r;
  return r * (1 + square * (k1 + square * k2));
}

/** Slope of {@link distort}. */
function slopeAt({ k1, k2 }: Distortion, r: number): number {
  const square = r * r;
  return 1 + square * (3 * k1 + 5 * square * k2);
}

/**
 * The distance up to which points keep their order: beyond it a strong barrel folds the picture back. Infinite if it never
 * does.
 */
export function foldRadius({ k1, k2 }: Distortion): number {
  // Least positive root of 1 + 3 k1 q + 5 k2 q^2 with q the square of the distance.
  if (k2 === 0) return k1 < 0 ? Math.sqrt(-1 / (3 * k1)) : Infinity;
  const root = 9 * k1 * k1 - 20 * k2;
  if (root < 0) return Infinity;
  const squares = [-1, 1].map((sign) => (-3 * k1 + sign * Math.sqrt(root)) / (10 * k2)).filter((q) => q > 0);
  return squares.length ? Math.sqrt(Math.min(...squares)) : Infinity;
}

/** Shares of a fold's distance up to which the inverse is sought. */
const BEFORE_FOLD = 0.999;

/** Distortion below this moves nothing by a millionth of a pixel. */
const NOTHING = 1e-10;

/** The point that comes to lie at `r`: the true inverse, by Newton's method. What lies beyond a fold is held at it. */
export function undistort(distortion: Distortion, r: number): number {
  if (Math.abs(distortion.k1) + Math.abs(distortion.k2) < NOTHING) return r;
  const most = BEFORE_FOLD * foldRadius(distortion);
  if (Number.isFinite(most) && r >= distort(distortion, most)) return most;
  // Between 0 and the fold the law rises, so that halving always helps where Newton leaps too far.
  let [low, high] = [0, Number.isFinite(most) ? most : Math.max(1, r)];
  while (distort(distortion, high) < r) high *= 2;
  let u = Math.min(r, high);
  for (let k = 0; k < 60; k++) {
    const miss = distort(distortion, u) - r;
    if (Math.abs(miss) < 1e-13 * Math.max(1, r)) break;
    if (miss > 0) high = u;
    else low = u;
    const next = u - miss / slopeAt(distortion, u);
    u = next > low && next < high ? next : (low + high) / 2;
  }
  return u;
}
