import { mapRgb, type Rgb } from '../../image/rgb';
import type { Pass } from '../../image/passes';
import { holdsLight } from '../../image/passes';
import { resampleArea } from '../../image/resample';
import type { ContentCache } from '../../light/cache';
import type { Element } from '../../light/elements';
import type { Light } from '../../light/light';
import { lightPass, passLight, scaledSize, type Plate } from '../../light/plate';
import { clampFireflies, despike, type Cleaned } from './clean';
import { componentsOf, shareOfSum, summedPasses, sumPasses } from './sum';

/** How many pixels of the full-size picture the cleaning touched, and which. */
export type CleanReport = Omit<Cleaned, 'rgb'>;

export const lightByteLength = (light: Light): number =>
  light.width * light.height * 4 * (light.alpha ? 4 : 3);

/** What of an element its sum of passes depends on. */
const sumReads = ({ settings: { passes, order } }: Element): string => JSON.stringify([passes, order]);

/** A render's beauty or the sum of its passes, cleaned if that is asked for. Cleaning looks at single pixels, so it is done at full size. */
export async function renderLight(
  element: Element,
  scale: number,
  cache: ContentCache,
): Promise<{ source: Light; cleaned: CleanReport | undefined }> {
  const { plate, index } = element;
  const { source, pass, clamp, despike: times } = element.settings;
  const chosen = source === 'beauty' ? lightPass(plate, pass, `elements[${index}].pass`) : undefined;
  const what = chosen ? `pass ${chosen.name}` : `sum ${sumReads(element)}`;
  if (clamp === 0 && times === 0) {
    const light = chosen
      ? await passAtScale(plate, chosen, scale, cache)
      : await cache.getOrCompute(
          `${plate.id} ${what} @${scale}`,
          () => sumAtScale(element, scale, cache),
          lightByteLength,
        );
    return { source: light, cleaned: undefined };
  }
  const key = `${plate.id} ${what} clean ${clamp} ${times}`;
  const { rgb, ...cleaned } = await cache.getOrCompute(
    `${key} full`,
    () => cleanFull(element, chosen),
    (made) => made.touched.byteLength * 13,
  );
  const { width, height } = plate.picture;
  const size = scaledSize(plate, scale);
  const reduced = mapRgb(rgb, (plane) => resampleArea(plane, width, height, size.width, size.height));
  const { alpha } = await passAtScale(plate, chosen ?? plate.beauty, scale, cache);
  const scaledKey = `${key} @${scale}`;
  const light = { ...size, scale, base: reduced, alpha, separations: [], total: reduced, key: scaledKey };
  return { source: light, cleaned };
}

/** A pass of a render as it is part of its light: as it came in, or, in a sum, what it brings to that. */
export async function partOfRender(
  element: Element,
  pass: Pass,
  scale: number,
  cache: ContentCache,
): Promise<Light> {
  const { plate, settings } = element;
  const raw = await passAtScale(plate, pass, scale, cache);
  const isPart = settings.source === 'sum' && componentsOf(plate, settings.order).includes(pass);
  if (!isPart) return raw;
  const lights = await summedLights(element, scale, cache);
  const rgb = shareOfSum(element, raw, (one) => lights.get(one)!, pass);
  return { ...raw, base: rgb, total: rgb, key: `${raw.key} in the sum ${sumReads(element)}` };
}

async function sumAtScale(element: Element, scale: number, cache: ContentCache): Promise<Light> {
  const { plate } = element;
  const lights = await summedLights(element, scale, cache);
  const size = scaledSize(plate, scale);
  const rgb = sumPasses(element, size, (pass) => lights.get(pass)!);
  const { alpha } = await passAtScale(plate, plate.beauty, scale, cache);
  const key = `${plate.id} sum ${sumReads(element)} @${scale}`;
  return { ...size, scale, base: rgb, alpha, separations: [], total: rgb, key };
}

/** The passes that are summed, as they came in. */
async function summedLights(element: Element, scale: number, cache: ContentCache): Promise<Map<Pass, Rgb>> {
  const lights = new Map<Pass, Rgb>();
  for (const pass of summedPasses(element))
    lights.set(pass, (await passAtScale(element.plate, pass, scale, cache)).base);
  return lights;
}

/** Despikes all but the emission, then clamps. */
function cleanFull(element: Element, chosen: Pass | undefined): Cleaned {
  const { plate, settings } = element;
  const { width, height } = plate.picture;
  const { clamp, despike: times } = settings;
  const touched = new Uint8Array(width * height);
  const spikes = (rgb: Rgb): Rgb => {
    if (times === 0) return rgb;
    const result = despike(rgb, width, height, times);
    for (const i of result.places) touched[i] = 1;
    return result.rgb;
  };
  const full = (pass: Pass): Rgb => passLight(plate, pass, 1).rgb;
  let rgb: Rgb;
  if (chosen) {
    const emission = plate.passes.find((pass) => pass.role === 'emission' && holdsLight(pass));
    const own = full(chosen);
    if (chosen.role === 'emission') rgb = own;
    // The lamps stand in the beauty; what is left without them is looked at.
    else if (emission && chosen === plate.beauty) rgb = withoutAndBack(own, full(emission), spikes);
    else rgb = spikes(own);
  } else {
    rgb = sumPasses(element, { width, height }, (pass) => {
      const light = full(pass);
      return pass.role === 'emission' ? light : spikes(light);
    });
  }
  let clamped = 0;
  if (clamp > 0) {
    const result = clampFireflies(rgb, clamp);
    rgb = result.rgb;
    clamped = result.places.length;
    for (const i of result.places) touched[i]! += 2;
  }
  let despiked = 0;
  for (const mark of touched) if (mark & 1) despiked++;
  return { rgb, touched, despiked, clamped };
}

function withoutAndBack(all: Rgb, part: Rgb, change: (rgb: Rgb) => Rgb): Rgb {
  const rest = mapRgb(all, (plane, c) => {
    const own = part[c as 0 | 1 | 2];
    return plane.map((value, i) => value - own[i]!);
  });
  const changed = change(rest);
  return mapRgb(all, (plane, c) => {
    const [before, after] = [rest[c as 0 | 1 | 2], changed[c as 0 | 1 | 2]];
    // Untouched pixels keep their very bits.
    return plane.map((value, i) => (before[i] === after[i] ? value : after[i]! + part[c as 0 | 1 | 2][i]!));
  });
}

/** A pass as light, as it came in; kept, since every drag starts from it. */
function passAtScale(plate: Plate, pass: Pass, scale: number, cache: ContentCache): Promise<Light> {
  const key = `${plate.id} pass ${pass.name} @${scale}`;
  return cache.getOrCompute(
    key,
    (): Light => {
      const { rgb, alpha } = passLight(plate, pass, scale);
      return { ...scaledSize(plate, scale), scale, base: rgb, alpha, separations: [], total: rgb, key };
    },
    lightByteLength,
  );
}
