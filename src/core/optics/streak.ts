import { smoothStep } from '../image/smooth-step';
import { DEVIATIONS_AT_HALF_HEIGHT, normalShare } from './gaussian';
import { seeded } from './seeded';

/** Light drawn out to a line. Lengths in pixels. */
export interface Streak {
  /** Of the exponential, the distance over which it fades to 1/e; of the Lorentzian, half its width at half its height. */
  length: number;
  /** The same to the side that the angle points away from; 0 is none, and without it both sides are alike. */
  back?: number;
  /** Across the line at half its height. */
  thickness: number;
  /** Radians, clockwise from level. */
  angle: number;
  fading: 'exponential' | 'lorentzian';
  /** Light along the line besides its fading, about 1; `u` is the place on it, positive ahead. It must be smooth. */
  weight?: ((u: number) => number) | undefined;
}

/** Standard deviations at which the line ends across. */
const END = 5;
/** Variance that is added across a line besides that of the pixels' own squares: less, and it would be beaded at a slant. */
const SMOOTHING = 1 / 6;

/** The lengths to both sides, and the share of the light that each has. */
function sidesOf({ length, back = length }: Streak): Record<'ahead' | 'behind', Side> {
  const all = length + back;
  return { ahead: { length, share: length / all }, behind: { length: back, share: back / all } };
}

interface Side {
  length: number;
  share: number;
}

/** Share of a side's light within a distance of the source. */
function shareWithin(distance: number, length: number, fading: Streak['fading']): number {
  if (length === 0) return 1;
  return fading === 'lorentzian'
    ? (2 / Math.PI) * Math.atan(distance / length)
    : 1 - Math.exp(-distance / length);
}

/** The same integrated over the distance. */
function integralWithin(distance: number, length: number, fading: Streak['fading']): number {
  if (length === 0) return distance;
  const t = distance / length;
  return fading === 'lorentzian'
    ? (2 / Math.PI) * (distance * Math.atan(t) - (length / 2) * Math.log1p(t * t))
    : distance - length * (1 - Math.exp(-t));
}

/** Share of the line up to a place along it, and the same integrated over the place. */
function shareAlong(streak: Streak): Record<'share' | 'integral', (u: number) => number> {
  const { ahead, behind } = sidesOf(streak);
  const { fading } = streak;
  return {
    share: (u) =>
      u < 0
        ? behind.share * (1 - shareWithin(-u, behind.length, fading))
        : behind.share + ahead.share * shareWithin(u, ahead.length, fading),
    integral: (u) =>
      u < 0
        ? behind.share * (u + integralWithin(-u, behind.length, fading))
        : behind.share * u + ahead.share * integralWithin(u, ahead.length, fading),
  };
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

/** After so many turns {@link unevenness} begins anew. */
const KNOTS = 1024;

/** Streaks that fade within fewer pixels than these are measured: the two profiles are only nearly independent. */
const SHORT = 12;

/** What a pixel gets of a streak, by its place; all pixels together 1, or nearly so. */
function pixelReader(streak: Streak): { valueAt: (dx: number, dy: number) => number; deviation: number } {
  const deviation = Math.sqrt((streak.thickness / DEVIATIONS_AT_HALF_HEIGHT) ** 2 + SMOOTHING);
  const [c, s] = [Math.cos(streak.angle), Math.sin(streak.angle)];
  const wide = Math.max(Math.abs(c), Math.abs(s));
  const narrow = Math.min(Math.abs(c), Math.abs(s));
  const along = shareAlong(streak);
  const shareAcross = (v: number): number => normalShare(v / deviation);
  const acrossFrom = (v: number): number => integralAcross(v, deviation);
  const { weight } = streak;
  const valueAt = (dx: number, dy: number): number => {
    const v = dy * c - dx * s;
    if (Math.abs(v) > END * deviation + 1) return 0;
    const u = dx * c + dy * s;
    const value =
      overPixel(u, wide, narrow, along.share, along.integral) *
      overPixel(v, wide, narrow, shareAcross, acrossFrom);
    return Math.max(0, weight ? value * weight(u) : value);
  };
  return { valueAt, deviation };
}

/** The sum of a short streak over all pixels. */
function measuredSum({ valueAt, deviation }: ReturnType<typeof pixelReader>, length: number): number {
  const reach = Math.ceil(14 * length + END * deviation) + 2;
  let sum = 0;
  for (let dy = -reach; dy <= reach; dy++) for (let dx = -reach; dx <= reach; dx++) sum += valueAt(dx, dy);
  return sum;
}

/** Steps of each side in which {@link weightedSum} is measured. */
const STEPS = 4000;

/** The light of a streak whose light along the line is weighted: 1 without a weight. */
export function weightedSum(streak: Streak, weight: (u: number) => number): number {
  const { ahead, behind } = sidesOf(streak);
  const side = ({ length, share }: Side, sign: 1 | -1): number => {
    if (length === 0) return 0;
    // At places that part the side into equal shares of light.
    let sum = 0;
    for (let k = 0; k < STEPS; k++) {
      const t = (k + 0.5) / STEPS;
      const distance = streak.fading === 'lorentzian' ? Math.tan((Math.PI / 2) * t) : -Math.log1p(-t);
      sum += weight(sign * length * distance);
    }
    return (share * sum) / STEPS;
  };
  return side(ahead, 1) + side(behind, -1);
}

/**
 * What gives the rows of a streak on the pixels around a source in the middle of pixel (0, 0), each from `-(width - 1)` to
 * `width - 1`. Without a weight all of it together, on and off them, is 1.
 */
export function streakRow(streak: Streak, width: number): (dy: number, out: Float32Array) => void {
  const reader = pixelReader(streak);
  // The long tails of the other fading end nowhere; it has no cusp either.
  const longest = Math.max(streak.length, streak.back ?? 0);
  const isMeasured = streak.fading === 'exponential' && longest < SHORT;
  const scale = isMeasured ? 1 / measuredSum(pixelReader({ ...streak, weight: undefined }), longest) : 1;
  const [c, s] = [Math.cos(streak.angle), Math.sin(streak.angle)];
  const across = END * reader.deviation + 1;
  return (dy, out) => {
    out.fill(0);
    // Only what is near the line: `|dy c - dx s|` is its distance from there.
    const [a, b] = [(dy * c - across) / s, (dy * c + across) / s];
    const isLevel = Math.abs(s) < 1e-9;
    if (isLevel && Math.abs(dy * c) > across) return;
    const from = isLevel ? 1 - width : Math.max(1 - width, Math.ceil(Math.min(a, b)));
    const to = isLevel ? width - 1 : Math.min(width - 1, Math.floor(Math.max(a, b)));
    for (let dx = from; dx <= to; dx++) out[width - 1 + dx] = scale * reader.valueAt(dx, dy);
  };
}

/** The rows from the source's own downwards, which is all there is to know of a streak that is the same turned half way round. */
export function streakHalf(streak: Streak, width: number, height: number): Float32Array {
  const columns = 2 * width - 1;
  const out = new Float32Array(columns * height);
  const rowAt = streakRow(streak, width);
  for (let dy = 0; dy < height; dy++) rowAt(dy, out.subarray(dy * columns, (dy + 1) * columns));
  return out;
}

/** A random curve along a line, smooth, between 0 and 2 and about 1: the same for the same seed. `period` is how far apart its turns lie. */
export function unevenness(seed: number, period: number): (u: number) => number {
  const next = seeded(seed);
  const knots = Float64Array.from({ length: KNOTS }, () => 2 * next());
  return (u) => {
    const place = u / period;
    const whole = Math.floor(place);
    const at = (k: number): number => knots[(((whole + k) % KNOTS) + KNOTS) % KNOTS]!;
    return at(0) + (at(1) - at(0)) * smoothStep(place - whole);
  };
}
