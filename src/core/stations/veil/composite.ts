import { mapRgb, toRgb, type Rgb } from '../../image/rgb';
import { LUMINANCE } from '../../color/primaries';
import { kernelSums, type Blend } from './blend';

interface CompositeOptions {
  /** The light that was fed, of which `removed`, 0 or 1, leaves its place. */
  feed: Rgb;
  blend: Blend;
  removed: number;
  /** Share of the scattered light that is seen, per pixel. */
  modulation: Float32Array | undefined;
}

/** A separation made from what a blend scattered, the light with it added, and how much of a light of 1 arrived. */
export function applyScatter(
  total: Rgb,
  scattered: Rgb,
  { feed, blend, removed, modulation }: CompositeOptions,
): { rgb: Rgb; total: Rgb; arrived: number } {
  const { amount, gains } = blend;
  const sums = kernelSums(blend);
  let arrived = 0;
  const sum: Float32Array[] = [];
  const rgb = mapRgb(scattered, (plane, c) => {
    const out = { separation: new Float32Array(plane.length), sum: new Float32Array(plane.length) };
    const inFrame = compositePlane(
      plane,
      feed[c],
      total[c],
      modulation,
      amount * gains[c],
      amount * removed,
      out,
    );
    if (sums[c] > 0) arrived += (LUMINANCE[c] * inFrame) / sums[c];
    sum.push(out.sum);
    return out.separation;
  });
  return { rgb, total: toRgb(sum), arrived };
}

/** Composites one plane; returns the sum of what was scattered. Separate, so that the loop stays monomorphic. */
function compositePlane(
  scattered: Float32Array,
  feed: Float32Array,
  before: Float32Array,
  modulation: Float32Array | undefined,
  gain: number,
  removed: number,
  { separation, sum }: { separation: Float32Array; sum: Float32Array },
): number {
  let all = 0;
  for (let i = 0; i < scattered.length; i++) all += scattered[i]!;
  if (modulation)
    for (let i = 0; i < scattered.length; i++)
      separation[i] = gain * scattered[i]! * modulation[i]! - removed * feed[i]!;
  else for (let i = 0; i < scattered.length; i++) separation[i] = gain * scattered[i]! - removed * feed[i]!;
  for (let i = 0; i < scattered.length; i++) sum[i] = before[i]! + separation[i]!;
  return all;
}
