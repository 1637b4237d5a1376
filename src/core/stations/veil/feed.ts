import { smoothStep } from '../../image/smooth-step';
import { luminance } from '../../color/primaries';
import type { Feed } from '../../light/station';
import type { Light } from '../../light/light';
import type { Rgb } from '../../image/rgb';
import type { FeedSettings } from './parts/part';

/** The light that feeds the veil, and how much of the picture it is. */
export type FedLight = Feed;

/**
 * How much of a pixel of some brightness feeds: nothing well below the threshold, all of it well above. Between
 * `knee` stops below and above the threshold it goes over smoothly.
 */
export function feedWeight(brightness: number, threshold: number, knee: number): number {
  if (brightness <= 0) return 0;
  if (threshold <= 0) return 1;
  if (knee <= 0) return brightness >= threshold ? 1 : 0;
  const t = (Math.log2(brightness / threshold) + knee) / (2 * knee);
  return smoothStep(t);
}

/** What a feed compares with its threshold. */
function brightnessOf(r: number, g: number, b: number, measure: FeedSettings['measure']): number {
  return measure === 'brightest' ? Math.max(r, g, b) : luminance(r, g, b);
}

/** What part of a picture is wished to feed: a share of its pixels, or of its light. */
export interface WishedFeed {
  share: number;
  of: 'pixels' | 'light';
}

/** Thresholds that settings can have, and how often the way between two is halved. */
const [LEAST, MOST] = [0.001, 10000];
const HALVINGS = 32;

/**
 * The threshold at which the wished share feeds, all else as it is set, to a ten thousandth of it; the lowest or highest there is, if
 * no threshold comes to it. `feed` selects at one.
 */
export function thresholdFor(wished: WishedFeed, feed: (threshold: number) => FedLight): number {
  const shareAt = (threshold: number): number => feed(threshold)[wished.of];
  if (shareAt(LEAST) <= wished.share) return LEAST;
  if (shareAt(MOST) > wished.share) return MOST;
  let [low, high] = [LEAST, MOST];
  for (let k = 0; k < HALVINGS && high > low * 1.0001; k++) {
    const middle = Math.sqrt(low * high);
    if (shareAt(middle) > wished.share) low = middle;
    else high = middle;
  }
  return high;
}

/**
 * Chooses what feeds. `source` is the light the choice is made from; `light` is what stands on the bench. If they
 * differ (a single pass feeds), no more can be taken from a pixel than the picture has there. Where a mask is below 1, so
 * much less feeds. `measured` is what is compared with the threshold, if not the source itself. What feeds is held under the
 * ceiling, its colour kept. With a boost, what lies below its threshold feeds by one over its gain.
 */
export function selectFeed(
  source: Rgb,
  light: Light,
  settings: FeedSettings,
  { mask, measured = source }: { mask?: Float32Array | undefined; measured?: Rgb } = {},
): FedLight {
  const { threshold, knee, measure, ceiling, boost } = settings;
  const count = source[0].length;
  const weight = new Float32Array(count);
  const rgb: Rgb = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  const [r, g, b] = measured;
  const [sourceR, sourceG, sourceB] = source;
  const [totalR, totalG, totalB] = light.total;
  const own = source === light.total;
  const low = threshold * 2 ** -knee;
  let [fedPixels, justBelow] = [0, 0];
  let fedLight = 0;
  let allLight = 0;
  for (let i = 0; i < count; i++) {
    const brightness = brightnessOf(r[i]!, g[i]!, b[i]!, measure);
    allLight += luminance(totalR[i]!, totalG[i]!, totalB[i]!);
    // Most of a picture lies below; only what may feed is worth a logarithm.
    if (brightness < low) {
      if (brightness >= low * Math.SQRT1_2) justBelow++;
      continue;
    }
    let w = feedWeight(brightness, threshold, knee) * (mask ? mask[i]! : 1);
    if (w === 0) continue;
    if (boost) w *= 1 / boost.gain + (1 - 1 / boost.gain) * feedWeight(brightness, boost.above, knee);
    weight[i] = w;
    const peak = ceiling > 0 ? Math.max(sourceR[i]!, sourceG[i]!, sourceB[i]!) : 0;
    const share = peak > ceiling ? (w * ceiling) / peak : w;
    for (let c = 0; c < 3; c++) {
      const fed = share * Math.max(0, source[c]![i]!);
      rgb[c]![i] = own ? fed : Math.min(fed, Math.max(0, light.total[c]![i]!));
    }
    fedPixels++;
    fedLight += luminance(rgb[0][i]!, rgb[1][i]!, rgb[2][i]!);
  }
  return {
    weight,
    rgb,
    pixels: fedPixels / count,
    light: allLight > 0 ? fedLight / allLight : 0,
    below: justBelow / count,
  };
}
