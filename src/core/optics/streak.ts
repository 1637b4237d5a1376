import { DEVIATIONS_AT_HALF_HEIGHT, normalShare } from './gaussian';

/** Light drawn out to a line. Lengths in pixels. */
export interface Streak {
  /** Of the exponential, the distance over which it fades to 1/e; of the Lorentzian, half its width at half its height. */
  length: number;
  /** Across the line at half its height. */
  thickness: number;
  /** Radians, clockwise from level. */
  angle: number;
  fading: 'exponential' | 'lorentzian';
}

/** Standard deviations at which the line ends across. */
const END = 5;
/** Variance that is added across a line besides that of the pixels' own squares: less, and it would be beaded at a slant. */
const SMOOTHING = 1 / 6;

/** Share of the line on one side of a distance along it. */
function shareUpTo(u: number, { length, fading }: Streak): number {
  if (fading === 'lorentzian') return 0.5 + Math.atan(u / length) / Math.PI;
  return u < 0 ? 0.5 * Math.exp(u / length) : 1 - 0.5 * Math.exp(-u / length);
}

/** Twice integrated over `x`, a Gaussian of a standard deviation. */
function secondIntegral(x: number, deviation: number): number {
  const t = x / deviation;
  return x * normalShare(t) + (deviation * Math.exp(-0.5 * t * t)) / Math.sqrt(2 * Math.PI);
}

/**
 * Share of a Gaussian line that falls into a pixel at a distance `v` from it: the Gaussian integrated over the shadow of the
 * pixel's square across the line, a trapezoid. `a` and `b` are the cosine and sine of the line's angle, neither negative.
 */
function shareAcross(v: number, deviation: number, a: number, b: number): number {
  const [wide, narrow] = a > b ? [a, b] : [b, a];
  if (narrow < 1e-3)
    return (normalShare((v + wide / 2) / deviation) - normalShare((v - wide / 2) / deviation)) / wide;
  const integral = (x: number): number => secondIntegral(v + x, deviation);
  const [outer, inner] = [(wide + narrow) / 2, (wide - narrow) / 2];
  return (integral(outer) - integral(inner) - integral(-inner) + integral(-outer)) / (wide * narrow);
}

/**
 * A streak on the pixels around a source in the middle of pixel (0, 0), which is the same turned half way round: rows from
 * the source's own downwards, each from `-(width - 1)` to `width - 1`. All of it together, on and off them, is 1.
 */
export function streakRows(streak: Streak, width: number, height: number): Float32Array {
  const columns = 2 * width - 1;
  const out = new Float32Array(columns * height);
  const deviation = Math.sqrt((streak.thickness / DEVIATIONS_AT_HALF_HEIGHT) ** 2 + SMOOTHING);
  const [c, s] = [Math.cos(streak.angle), Math.sin(streak.angle)];
  for (let dy = 0; dy < height; dy++)
    for (let dx = 1 - width; dx < width; dx++) {
      const v = dy * c - dx * s;
      if (Math.abs(v) > END * deviation + 1) continue;
      const u = dx * c + dy * s;
      const along = shareUpTo(u + 0.5, streak) - shareUpTo(u - 0.5, streak);
      const across = shareAcross(v, deviation, Math.abs(c), Math.abs(s));
      out[dy * columns + width - 1 + dx] = along * Math.max(0, across);
    }
  return out;
}
