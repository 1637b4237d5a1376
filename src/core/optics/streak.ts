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

/** The same integrated over `u`. */
function integralAlong(u: number, { length, fading }: Streak): number {
  if (fading === 'lorentzian') {
    const t = u / length;
    return u / 2 + (u * Math.atan(t) - (length / 2) * Math.log1p(t * t)) / Math.PI;
  }
  return Math.max(0, u) + (length / 2) * Math.exp(-Math.abs(u) / length);
}

/** Share of a Gaussian below `v`, integrated over `v`. */
function integralAcross(v: number, deviation: number): number {
  const t = v / deviation;
  return v * normalShare(t) + (deviation * Math.exp(-0.5 * t * t)) / Math.sqrt(2 * Math.PI);
}

/**
 * What a pixel gets of a profile: the profile integrated over the shadow that the pixel's square throws on its axis, a
 * trapezoid. `share` is the profile's integral, `integral` that of `share`; `wide` and `narrow` are cosine and sine of the angle
 * to the axis, the larger first.
 */
function overPixel(
  at: number,
  wide: number,
  narrow: number,
  share: (x: number) => number,
  integral: (x: number) => number,
): number {
  if (narrow < 1e-3) return (share(at + wide / 2) - share(at - wide / 2)) / wide;
  const [outer, inner] = [(wide + narrow) / 2, (wide - narrow) / 2];
  return (
    (integral(at + outer) - integral(at + inner) - integral(at - inner) + integral(at - outer)) /
    (wide * narrow)
  );
}

/** Streaks that fade within fewer pixels than these are measured: the two profiles are only nearly independent. */
const SHORT = 12;

/** What a pixel gets of a streak, by its place; all pixels together 1, or nearly so. */
function pixelReader(streak: Streak): { valueAt: (dx: number, dy: number) => number; deviation: number } {
  const deviation = Math.sqrt((streak.thickness / DEVIATIONS_AT_HALF_HEIGHT) ** 2 + SMOOTHING);
  const [c, s] = [Math.cos(streak.angle), Math.sin(streak.angle)];
  const wide = Math.max(Math.abs(c), Math.abs(s));
  const narrow = Math.min(Math.abs(c), Math.abs(s));
  const shareAlong = (u: number): number => shareUpTo(u, streak);
  const alongFrom = (u: number): number => integralAlong(u, streak);
  const shareAcross = (v: number): number => normalShare(v / deviation);
  const acrossFrom = (v: number): number => integralAcross(v, deviation);
  const valueAt = (dx: number, dy: number): number => {
    const v = dy * c - dx * s;
    if (Math.abs(v) > END * deviation + 1) return 0;
    const along = overPixel(dx * c + dy * s, wide, narrow, shareAlong, alongFrom);
    return Math.max(0, along * overPixel(v, wide, narrow, shareAcross, acrossFrom));
  };
  return { valueAt, deviation };
}

/** The sum of a short streak over all pixels. */
function measuredSum({ valueAt, deviation }: ReturnType<typeof pixelReader>, length: number): number {
  const reach = Math.ceil(14 * length + END * deviation) + 2;
  let sum = 0;
  for (let dy = 0; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) sum += (dy === 0 ? 1 : 2) * valueAt(dx, dy);
  return sum;
}

/**
 * A streak on the pixels around a source in the middle of pixel (0, 0), which is the same turned half way round: rows from
 * the source's own downwards, each from `-(width - 1)` to `width - 1`. All of it together, on and off them, is 1.
 */
export function streakRows(streak: Streak, width: number, height: number): Float32Array {
  const columns = 2 * width - 1;
  const out = new Float32Array(columns * height);
  const reader = pixelReader(streak);
  // The long tails of the other fading end nowhere; it has no cusp either.
  const isMeasured = streak.fading === 'exponential' && streak.length < SHORT;
  const scale = isMeasured ? 1 / measuredSum(reader, streak.length) : 1;
  for (let dy = 0; dy < height; dy++)
    for (let dx = 1 - width; dx < width; dx++)
      out[dy * columns + width - 1 + dx] = scale * reader.valueAt(dx, dy);
  return out;
}
