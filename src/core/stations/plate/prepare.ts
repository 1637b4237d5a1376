import { mapRgb, type Rgb } from '../../image/rgb';
import { luminance } from '../../color/primaries';
import { applyLevels, contrastMap, curveMap, levelsAreNeutral, ToneTable } from '../../color/tone';
import type { Look } from '../../look/look';
import { smoothStep } from '../../image/smooth-step';

type PlateSettings = Look['plate'];

/** Below this share of white nothing is lifted. */
const LIFT_KNEE = 0.8;

const eachPlane = (rgb: Rgb, change: (plane: Float32Array) => Float32Array): Rgb => mapRgb(rgb, change);

/**
 * Gives display pictures light above white again: from the knee up to white the brightest channel's gain rises smoothly
 * to `stops`, and stays there.
 */
export function liftHighlights(rgb: Rgb, stops: number): Rgb {
  const out = eachPlane(rgb, (plane) => plane.slice());
  for (let i = 0; i < rgb[0].length; i++) {
    const level = Math.max(rgb[0][i]!, rgb[1][i]!, rgb[2][i]!);
    if (level <= LIFT_KNEE) continue;
    const t = Math.min(1, (level - LIFT_KNEE) / (1 - LIFT_KNEE));
    const gain = 2 ** (stops * t * t);
    for (let c = 0; c < 3; c++) out[c]![i]! *= gain;
  }
  return out;
}

/** Whether the preparation changes anything but exposure. */
export function isPrepared({ contrast, curve, levels, highlightSaturation }: PlateSettings): boolean {
  return contrast !== 1 || curve.length > 0 || highlightSaturation !== 1 || !levelsAreNeutral(levels);
}

/** Exposure, contrast, curve, levels and the highlights' saturation, in this order. */
export function prepareLight(rgb: Rgb, settings: PlateSettings): Rgb {
  const { exposure, contrast, pivot, curve, levels, highlightSaturation } = settings;
  let out = rgb;
  if (exposure !== 0) {
    const gain = 2 ** exposure;
    out = eachPlane(out, (plane) => plane.map((value) => value * gain));
  }
  if (contrast !== 1 || curve.length) {
    const [contrasted, curved] = [contrastMap(contrast, pivot), curveMap(curve)];
    const table = new ToneTable((light) => curved(contrasted(light)));
    out = eachPlane(out, (plane) => table.apply(plane));
  }
  if (!levelsAreNeutral(levels)) out = eachPlane(out, (plane) => applyLevels(plane, levels));
  if (highlightSaturation !== 1) out = saturateHighlights(out, highlightSaturation, pivot);
  return out;
}

/** Saturation by luminance, weighted by a smooth step from one to three stops above the pivot. */
function saturateHighlights(rgb: Rgb, saturation: number, pivot: number): Rgb {
  const out = eachPlane(rgb, (plane) => plane.slice());
  const start = pivot * 2;
  for (let i = 0; i < rgb[0].length; i++) {
    const light = luminance(rgb[0][i]!, rgb[1][i]!, rgb[2][i]!);
    if (light <= start) continue;
    const factor = 1 + (saturation - 1) * smoothStep(Math.log2(light / start) / 2);
    // No channel is driven below zero: the colour stops at the most saturated one of its hue.
    const least = Math.min(rgb[0][i]!, rgb[1][i]!, rgb[2][i]!);
    const held = least >= 0 && least < light ? Math.min(factor, light / (light - least)) : factor;
    for (let c = 0; c < 3; c++) out[c]![i] = light + (rgb[c]![i]! - light) * held;
  }
  return out;
}

/** What is prepared where the mask is 1, what came in where it is 0. */
export function mixByMask(before: Rgb, after: Rgb, mask: Float32Array): Rgb {
  return mapRgb(after, (plane, c) => {
    const from = before[c as 0 | 1 | 2];
    return plane.map((value, i) => from[i]! + (value - from[i]!) * mask[i]!);
  });
}

/** Whether the preparation of all changes anything. */
export const changesLight = ({ plate }: Look): boolean =>
  plate.exposure !== 0 || plate.highlightLift !== 0 || isPrepared(plate);

/** Lifted and prepared, held to a mask. */
export function preparedPlanes(rgb: Rgb, { plate }: Look, mask: Float32Array | undefined): Rgb {
  const lifted = plate.highlightLift > 0 ? liftHighlights(rgb, plate.highlightLift) : rgb;
  const done = prepareLight(lifted, plate);
  return mask ? mixByMask(rgb, done, mask) : done;
}
