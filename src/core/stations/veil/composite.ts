import { mapRgb, toRgb, type Rgb } from '../../image/rgb';
import { LUMINANCE } from '../../color/primaries';
import { kernelSums, type Blend } from './blend';

interface CompositeOptions {
  /** What was scattered, in the colours in which it is seen. */
  coloured: Rgb;
  /** The light that was fed, of which `removed`, 0 or 1, leaves its place. */
  feed: Rgb;
  blend: Blend;
  removed: number;
  /** Share of the scattered light that is seen, per pixel. */
  modulation: Float32Array | undefined;
  /** Whether the separation is wanted by itself. */
  separate: boolean;
}

/**
 * The light with what a blend scattered added, the separation that it is, if it is wanted, and how much of a light of 1
 * arrived.
 */
export function applyScatter(
  total: Rgb,
  scattered: Rgb,
  { coloured, feed, blend, removed, modulation, separate }: CompositeOptions,
): { separation: Rgb | undefined; total: Rgb; arrived: number } {
  const { amount, gains } = blend;
  const sums = kernelSums(blend);
  let arrived = 0;
  const separation: Float32Array[] = [];
  const sum = mapRgb(scattered, (plane, c) => {
    const out = new Float32Array(plane.length);
    const part = separate ? new Float32Array(plane.length) : out;
    const inFrame = compositePlane(
      plane,
      coloured[c],
      feed[c],
      total[c],
      modulation,
      amount * gains[c],
      amount * removed,
      part,
      out,
    );
    if (sums[c] > 0) arrived += (LUMINANCE[c] * inFrame) / sums[c];
    separation.push(part);
    return out;
  });
  return { separation: separate ? toRgb(separation) : undefined, total: sum, arrived };
}

/**
 * Composites one plane into `sum`; returns the sum of what was scattered. `separation` may be the same plane as `sum`. A
 * function of its own, so that the loop stays monomorphic.
 */
function compositePlane(
  scattered: Float32Array,
  coloured: Float32Array,
  feed: Float32Array,
  before: Float32Array,
  modulation: Float32Array | undefined,
  gain: number,
  removed: number,
  separation: Float32Array,
  sum: Float32Array,
): number {
  let all = 0;
  for (let i = 0; i < scattered.length; i++) {
    all += scattered[i]!;
    const seen = modulation ? coloured[i]! * modulation[i]! : coloured[i]!;
    // Rounded when it is stored, so that separations add up to the total to the bit.
    separation[i] = gain * seen - removed * feed[i]!;
    sum[i] = before[i]! + separation[i]!;
  }
  return all;
}
