import { cellsOf, medianAndSpread, type LightSource, type PolarLight } from './polar';

/** What spikes there are by the light's directions. */
export interface SpikeCount {
  /** Even: diffraction is the same on opposite sides. */
  count: number;
  /** Direction of one of them, in radians clockwise from the right, within a turn over the count. */
  angle: number;
  /** Of that direction, by fours of the turn. */
  deviation: number;
  /** How far they stand out, in deviations of the light about its median. */
  strength: number;
}

/** Harmonics of the turn that are looked at. */
const HARMONICS = 90;
const FEWEST_SPIKES = 4;
const MOST_SPIKES = 36;
/** Spikes stand out by so many deviations, and make up so much of what varies with the direction. */
const LEAST_STRENGTH = 0.5;
const LEAST_SHARE = 0.5;
/** Their direction is known to this share of the angle from one to the next. */
const MOST_ERROR = 0.05;
/** A larger count is taken if it explains nearly as much as a smaller one that divides it. */
const AS_GOOD = 0.9;

/** How the light varies with the direction, in deviations about the median of each ring, over all rings from a distance on. */
export function directions(polar: PolarLight, source: LightSource): number[] {
  const { radii, sectors } = polar;
  const sums = new Float64Array(sectors);
  const counts = new Float64Array(sectors);
  for (const [ring, radius] of radii.entries()) {
    if (radius < 2 * source.radius) continue;
    const row = cellsOf(polar, polar.luminance, ring);
    const { median, spread } = medianAndSpread(row);
    const unit = Math.max(spread, 0.01 * Math.abs(median), 1e-9);
    for (let sector = 0; sector < sectors; sector++) {
      const value = (row[sector]! - median) / unit;
      // Another lamp in one ring is no spike.
      if (!Number.isFinite(value)) continue;
      sums[sector]! += Math.min(12, Math.max(-4, value));
      counts[sector]!++;
    }
  }
  return Array.from(sums, (sum, k) => (counts[k]! > 0 ? sum / counts[k]! : 0));
}

/** Counts the spikes: the number whose multiples, as harmonics of the turn, explain most of what varies with the direction. */
export function countSpikes(contrast: readonly number[]): SpikeCount | undefined {
  const sectors = contrast.length;
  const harmonics = Array.from({ length: Math.min(HARMONICS, sectors / 2 - 1) + 1 }, (_, m) => {
    let [re, im] = [0, 0];
    for (const [k, value] of contrast.entries()) {
      const angle = (2 * Math.PI * m * (k + 0.5)) / sectors;
      re += (value * Math.cos(angle)) / sectors;
      im += (value * Math.sin(angle)) / sectors;
    }
    return { re, im, power: re * re + im * im };
  });
  // What varies slower is what lies behind the light.
  const total = harmonics.slice(FEWEST_SPIKES).reduce((sum, { power }) => sum + power, 0);
  if (!(total > 0)) return undefined;
  const shares = Array.from({ length: MOST_SPIKES / 2 - 1 }, (_, k) => {
    const count = FEWEST_SPIKES + 2 * k;
    let sum = 0;
    for (let m = count; m < harmonics.length; m += count) sum += harmonics[m]!.power;
    return { count, share: sum / total };
  });
  const best = Math.max(...shares.map(({ share }) => share));
  const { count, share } = shares.findLast((one) => one.share >= AS_GOOD * best)!;
  const peak = Math.max(...contrast);
  if (share < LEAST_SHARE || peak < LEAST_STRENGTH) return undefined;
  const { re, im } = harmonics[count]!;
  const angle = Math.atan2(im, re) / count;
  const deviation = directionError(contrast, count, angle);
  // What lies behind a light has no common direction in all quarters of the turn.
  return deviation * count < MOST_ERROR * 2 * Math.PI
    ? { count, angle, deviation, strength: peak }
    : undefined;
}

/** The standard error of the spikes' direction: by how much it differs between the four quarters of the turn. */
function directionError(contrast: readonly number[], count: number, angle: number): number {
  const quarter = contrast.length / 4;
  const apart = [0, 1, 2, 3].map((part) => {
    let [re, im] = [0, 0];
    for (let k = Math.floor(part * quarter); k < Math.floor((part + 1) * quarter); k++) {
      const phase = count * ((2 * Math.PI * (k + 0.5)) / contrast.length - angle);
      re += contrast[k]! * Math.cos(phase);
      im += contrast[k]! * Math.sin(phase);
    }
    return Math.atan2(im, re) / count;
  });
  return Math.sqrt(apart.reduce((sum, one) => sum + one * one, 0) / 12);
}

/** Blades that can make so many spikes: an odd number makes two each. The likelier in a lens first. */
export function bladesOf(count: number): number[] {
  if (count % 4 === 0) return [count];
  return count === 6 ? [6, 3] : [count / 2, count];
}

/** The rotation of so many blades whose spikes lie in a direction, in degrees, as the pupil has it: a spike stands at right angles to a blade. */
export function rotationOf(blades: number, angle: number): number {
  const count = blades % 2 ? 2 * blades : blades;
  const period = 360 / count;
  const turn = (angle * 180) / Math.PI + 90 - 180 / blades;
  return ((turn % period) + period) % period;
}
