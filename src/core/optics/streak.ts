import { DEVIATIONS_AT_HALF_HEIGHT } from './gaussian';

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
/** Variance of what pixels add across a line that runs over them at a slant: less, and it would be beaded. */
const PIXEL = 0.25;

/** Share of the line on one side of a distance along it. */
function shareUpTo(u: number, { length, fading }: Streak): number {
  if (fading === 'lorentzian') return 0.5 + Math.atan(u / length) / Math.PI;
  return u < 0 ? 0.5 * Math.exp(u / length) : 1 - 0.5 * Math.exp(-u / length);
}

/**
 * A streak on the pixels around a source in the middle of pixel (0, 0), which is the same turned half way round: rows from
 * the source's own downwards, each from `-(width - 1)` to `width - 1`. All of it together, on and off them, is 1.
 */
export function streakRows(streak: Streak, width: number, height: number): Float32Array {
  const columns = 2 * width - 1;
  const out = new Float32Array(columns * height);
  const deviation = Math.sqrt((streak.thickness / DEVIATIONS_AT_HALF_HEIGHT) ** 2 + PIXEL);
  const [c, s] = [Math.cos(streak.angle), Math.sin(streak.angle)];
  const across = 1 / (deviation * Math.sqrt(2 * Math.PI));
  for (let dy = 0; dy < height; dy++)
    for (let dx = 1 - width; dx < width; dx++) {
      const v = dy * c - dx * s;
      if (Math.abs(v) > END * deviation) continue;
      const u = dx * c + dy * s;
      const along = shareUpTo(u + 0.5, streak) - shareUpTo(u - 0.5, streak);
      out[dy * columns + width - 1 + dx] = along * across * Math.exp(-0.5 * (v / deviation) ** 2);
    }
  return out;
}
