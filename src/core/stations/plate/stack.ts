import type { Rgb } from '../../image/rgb';
import { layerDistances } from '../../light/distances';
import {
  alphaInPlace,
  associatedInPlace,
  elementsOf,
  type Element,
  type NamedPass,
} from '../../light/elements';
import type { Light } from '../../light/light';
import { maskAt, maskKey, masksKey } from '../../light/mask';
import { scaledSize, type Plate } from '../../light/plate';
import type { Look } from '../../look/look';
import { NO_COLOUR } from '../../settings/setting';
import { backgroundPlanes } from './background';
import { composite, overByDepth, withOpacity, type Part } from './composite';
import type { PlateContext } from './context';
import { correct, correctionsOf, isCorrected, onColours } from './correct';
import { changesLight, preparedPlanes } from './prepare';
import { lightByteLength, partOfRender, renderLight, type CleanReport } from './render';

/** A plate's light, and what was cleaned of it. */
export interface PreparedPlate {
  light: Light;
  cleaned: CleanReport | undefined;
}

/** What of a look a plate's light depends on, besides the plate itself. */
export const plateReads = (look: Look): unknown => [look.plate, look.elements, masksKey(look)];

/** All elements over each other, each prepared, with the layers that the picture is made of. */
export async function stackedLight(context: PlateContext, look: Look, scale: number): Promise<PreparedPlate> {
  const { plate, cache } = context;
  const key = `${plate.id} stack ${JSON.stringify(plateReads(look))} @${scale}`;
  return cache.getOrCompute(
    key,
    async () => {
      const size = scaledSize(plate, scale);
      const pixels = size.width * size.height;
      const parts: Part[] = [];
      let cleaned: CleanReport | undefined;
      if (look.plate.background !== NO_COLOUR) {
        const rgb = backgroundPlanes(look.plate.background, { ...size, scale }, context);
        parts.push({
          element: undefined,
          rgb,
          alpha: undefined,
          mode: 'over',
          heldOut: false,
          byDepth: false,
        });
      }
      for (const element of elementsOf(plate, look)) {
        const made = await partOfStack(element, context, look, scale);
        parts.push(made.part);
        cleaned = joinReports(cleaned, made.cleaned, plate);
      }
      const ready: Part[] = [];
      for (const part of parts)
        ready.push({ ...part, rgb: await preparedColours(part, context, look, scale) });
      const { layers, alpha, ...byOrder } = composite(ready, pixels);
      const total = layers.some(({ byDepth }) => byDepth)
        ? overByDepth(layers, await layerDistances(layers, context, look, scale), pixels)
        : byOrder.total;
      const light: Light = {
        ...size,
        scale,
        base: total,
        alpha,
        separations: [],
        total,
        layers: { layers, total },
        key,
      };
      return { light, cleaned };
    },
    ({ light }) => lightByteLength(light) * (1 + light.layers!.layers.length),
  );
}

/** One element as it is laid over others; kept, so that a change to another does not touch it. */
async function partOfStack(
  element: Element,
  context: PlateContext,
  look: Look,
  scale: number,
): Promise<{ part: Part; cleaned: CleanReport | undefined }> {
  const { plate, cache } = context;
  const { settings, index } = element;
  const { mode, heldOut, byDepth, opacity } = settings;
  const own = { ...settings, mode: 0, heldOut: 0, byDepth: 0, opacity: 0, distance: 0 };
  const masks = correctionsOf(settings).map(({ mask }) => maskKey(look, mask));
  const made = await cache.getOrCompute(
    `${plate.id} element ${index} ${JSON.stringify([own, masks])} @${scale}`,
    async () => {
      const { source, cleaned } = await renderLight(element, scale, cache);
      const rgb = await corrected(element, source.base, context, look, scale);
      return { rgb, alpha: alphaInPlace(element, plate, scale), cleaned };
    },
    ({ rgb, alpha }) => rgb[0].byteLength * (alpha ? 4 : 3),
  );
  const { width, height } = scaledSize(plate, scale);
  const part = { element: index, rgb: made.rgb, alpha: made.alpha, mode, heldOut, byDepth };
  return { part: withOpacity(part, opacity, width * height), cleaned: made.cleaned };
}

/** What was cleaned of two elements; places are told of those that have the plate's size. */
function joinReports(
  a: CleanReport | undefined,
  b: CleanReport | undefined,
  { picture }: Plate,
): CleanReport | undefined {
  if (!a || !b) return a ?? b;
  const { length } = a.touched;
  const fits = length === picture.width * picture.height && b.touched.length === length;
  return {
    touched: fits ? a.touched.map((mark, i) => mark | b.touched[i]!) : a.touched,
    despiked: a.despiked + b.despiked,
    clamped: a.clamped + b.clamped,
  };
}

/** A part under the preparation of all. */
async function preparedColours(
  { rgb, alpha }: Part,
  context: PlateContext,
  look: Look,
  scale: number,
): Promise<Rgb> {
  const { plate } = look;
  if (!changesLight(look)) return rgb;
  const mask = await maskAt(look, plate.mask, 'plate.mask', context.plate, scale, context.cache);
  return onColours(rgb, alpha, (colours) => preparedPlanes(colours, look, mask));
}

/** One pass of an element, corrected and in place. */
export async function passInPlace(
  { element, pass }: NamedPass,
  context: PlateContext,
  look: Look,
  scale: number,
): Promise<Rgb> {
  const raw = await partOfRender(element, pass, scale, context.cache);
  return corrected(element, raw.base, context, look, scale);
}

/** An element's light in the plate, corrected within its masks, multiplied by its alpha. */
async function corrected(
  element: Element,
  rgb: Rgb,
  context: PlateContext,
  look: Look,
  scale: number,
): Promise<Rgb> {
  const { plate, kernels, cache } = context;
  const { settings, index } = element;
  let out = associatedInPlace(element, rgb, plate, scale);
  if (!isCorrected(settings)) return out;
  const alpha = alphaInPlace(element, plate, scale);
  for (const [k, correction] of correctionsOf(settings).entries()) {
    const path = `elements[${index}]${k === 0 ? '' : `.corrections[${k - 1}]`}.mask`;
    const mask = await maskAt(look, correction.mask, path, plate, scale, cache);
    const size = scaledSize(plate, scale);
    out = await onColours(out, alpha, (colours) => correct(colours, size, correction, mask, kernels.grade));
  }
  return out;
}
