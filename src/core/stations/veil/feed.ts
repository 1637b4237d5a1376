import { smoothStep } from '../../image/smooth-step';
import { luminance } from '../../color/primaries';
import type { Feed } from '../../light/station';
import type { Light } from '../../light/light';
import type { Rgb } from '../../image/rgb';
import type { Look } from '../../look/look';

/** The light that feeds the veil, and how much of the picture it is. */
export interface FedLight extends Feed {
  rgb: Rgb;
}

type FeedSettings = Look['veil']['feed'];

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

/** The threshold over which a share of a light's pixels lies. */
export function thresholdFor(
  { total }: Pick<Light, 'total'>,
  { measure }: Pick<FeedSettings, 'measure'>,
  share: number,
): number {
  const [r, g, b] = total;
  const brightness = r.map((_, i) => brightnessOf(r[i]!, g[i]!, b[i]!, measure)).sort();
  const value = brightness[Math.min(brightness.length - 1, Math.floor((1 - share) * brightness.length))]!;
  return Math.max(0, value);
}

/**
 * Chooses what feeds. `source` is the light the choice is made from; `light` is what stands on the bench. If they
 * differ (a single pass feeds), no more can be taken from a pixel than the picture has there. Where a mask is below 1, so
 * much less feeds.
 */
export function selectFeed(source: Rgb, light: Light, settings: FeedSettings, mask?: Float32Array): FedLight {
  const { threshold, knee, measure } = settings;
  const count = source[0].length;
  const weight = new Float32Array(count);
  const rgb: Rgb = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  const [r, g, b] = source;
  const [totalR, totalG, totalB] = light.total;
  const own = source === light.total;
  const low = threshold * 2 ** -knee;
  let fedPixels = 0;
  let fedLight = 0;
  let allLight = 0;
  for (let i = 0; i < count; i++) {
    const brightness = brightnessOf(r[i]!, g[i]!, b[i]!, measure);
    allLight += luminance(totalR[i]!, totalG[i]!, totalB[i]!);
    // Most of a picture lies below; only what may feed is worth a logarithm.
    if (brightness < low) continue;
    const w = feedWeight(brightness, threshold, knee) * (mask ? mask[i]! : 1);
    if (w === 0) continue;
    weight[i] = w;
    for (let c = 0; c < 3; c++) {
      const fed = w * Math.max(0, source[c]![i]!);
      rgb[c]![i] = own ? fed : Math.min(fed, Math.max(0, light.total[c]![i]!));
    }
    fedPixels++;
    fedLight += luminance(rgb[0][i]!, rgb[1][i]!, rgb[2][i]!);
  }
  return { weight, rgb, pixels: fedPixels / count, light: allLight > 0 ? fedLight / allLight : 0 };
}
