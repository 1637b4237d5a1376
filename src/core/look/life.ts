/** Lengths in frames. */
export interface BlinkTimes {
  on: number;
  off: number;
  /** From off to on, and back. */
  rise: number;
  fall: number;
}

/** How far on a light is, 0 to 1, at a frame: it begins to rise at frame 0. */
export function blinkLevel({ on, off, rise, fall }: BlinkTimes, frame: number): number {
  const period = rise + on + fall + off;
  if (period === 0) return 1;
  const at = ((frame % period) + period) % period;
  if (at < rise) return at / rise;
  if (at < rise + on) return 1;
  return at < rise + on + fall ? 1 - (at - rise - on) / fall : 0;
}

/** The same as a sine, from 0 at frame 0. */
export const pulseLevel = ({ period }: { period: number }, frame: number): number =>
  0.5 - 0.5 * Math.cos((2 * Math.PI * frame) / period);

/** A number between -1 and 1 that hangs on two whole ones alone. [Wellons, integer hash functions; from memory] */
function lattice(place: number, seed: number): number {
  let h = (Math.imul(place | 0, 0x9e3779b1) ^ Math.imul(seed + 1, 0x85ebca6b)) >>> 0;
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d) >>> 0;
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b) >>> 0;
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 31 - 1;
}

/** Noise between -1 and 1 without jumps or bends: values at whole numbers, joined by a quintic. [Perlin 2002 for the quintic] */
export function smoothNoise(at: number, seed: number): number {
  const place = Math.floor(at);
  const t = at - place;
  const blend = t * t * t * (t * (6 * t - 15) + 10);
  const [a, b] = [lattice(place, seed), lattice(place + 1, seed)];
  return a + (b - a) * blend;
}
