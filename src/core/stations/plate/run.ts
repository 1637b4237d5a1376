import { hexToLinear } from '../../color/hex';
import { SettingError } from '../../errors';
import { coverPlane } from '../../image/cover';
import { BEAUTY } from '../../image/passes';
import { mapRgb, toRgb, type Rgb } from '../../image/rgb';
import { layerDistances } from '../../light/distances';
import {
  alphaInPlace,
  alphaOf,
  elementsOf,
  isAlone,
  passesNamed,
  placed,
  seenPass,
  type Element,
  type NamedPass,
} from '../../light/elements';
import type { Light } from '../../light/light';
import { maskAt, maskKey, masksKey } from '../../light/mask';
import { lightPass, passLight, scaledSize, type Plate } from '../../light/plate';
import { cutPlane } from '../../light/region';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { elementOf } from '../../settings/element';
import { NO_COLOUR } from '../../settings/setting';
import { composite, overByDepth, withOpacity, type Part } from './composite';
import { correct, correctionsOf, isCorrected, onColours } from './correct';
import { isPrepared, liftHighlights, mixByMask, prepareLight } from './prepare';
import { plateUnderLook } from './primaries';
import { lightByteLength, partOfRender, renderLight, type CleanReport } from './render';

export type { CleanReport } from './render';

/** What the plate's station uses of the bench. */
export type PlateContext = Pick<StationContext, 'plate' | 'cache' | 'backdrop' | 'kernels'>;

interface PreparedPlate {
  light: Light;
  cleaned: CleanReport | undefined;
}

/** What of a look a plate's light depends on, besides the plate itself. */
export const plateReads = (look: Look): unknown => [look.plate, look.elements, masksKey(look)];

/**
 * Plate: the renders as they came in, made ready for the lens: of each the beauty or the sum of its passes, cleaned and corrected,
 * laid over each other and over the background, and prepared.
 */
export async function plateLight(bench: PlateContext, look: Look, scale: number): Promise<PreparedPlate> {
  const context = { ...bench, plate: plateUnderLook(bench.plate, look) };
  if (!isSingle(context.plate, look)) return stackedLight(context, look, scale);
  const [element] = elementsOf(context.plate, look);
  const { source, cleaned } = await renderLight(element!, scale, context.cache);
  const backed = layOverBackground(source, look.plate.background, context);
  return { light: await prepared(context, look, backed, source.key), cleaned };
}

/** Whether a plate is one render and nothing is done to it by itself but to choose and clean its passes. */
const isSingle = (plate: Plate, look: Look): boolean =>
  isAlone(plate, look) && !isCorrected(elementOf(look, 0));

/** A pass, chosen by the setting at `path`, under the plate's preparation. Of several elements, what is seen of it. */
export async function preparedPass(
  bench: PlateContext,
  name: string,
  path: string,
  look: Look,
  scale: number,
): Promise<Light> {
  const context = { ...bench, plate: plateUnderLook(bench.plate, look) };
  const { plate, cache } = context;
  if (isSingle(plate, look)) {
    const [element] = elementsOf(plate, look);
    const raw = await partOfRender(element!, lightPass(plate, name, path), scale, cache);
    return prepared(context, look, raw, raw.key);
  }
  if (name === BEAUTY) return (await stackedLight(context, look, scale)).light;
  const named = passesNamed(plate, look, name);
  // Says what there is, if nothing has the name.
  for (const { element, pass } of named) lightPass(element.plate, pass.name, path);
  if (named.length === 0) lightPass(plate, name, path);
  const key = `${plate.id} pass ${name} of elements ${JSON.stringify(look.elements)} ${JSON.stringify(masksKey(look))} @${scale}`;
  const seen = await cache.getOrCompute(
    key,
    async (): Promise<Light> => {
      const lights = new Map<NamedPass, Rgb>();
      for (const one of named) lights.set(one, await passInPlace(one, context, look, scale));
      const rgb = seenPass(named, plate, look, scale, (one) => lights.get(one)!);
      const size = scaledSize(plate, scale);
      return { ...size, scale, base: rgb, alpha: undefined, separations: [], total: rgb, key };
    },
    lightByteLength,
  );
  return prepared(context, look, seen, key);
}

/** One pass of an element, corrected and in place. */
async function passInPlace(
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
  const own = settings.alpha === 'unassociated' ? alphaOf(element, scale) : undefined;
  const associated = own
    ? mapRgb(rgb, (plane) => plane.map((value, i) => value * Math.min(1, Math.max(0, own[i]!))))
    : rgb;
  let out = mapRgb(associated, (plane) => placed(plane, element, plate, scale));
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

/** All elements over each other, each prepared, with the layers that the picture is made of. */
async function stackedLight(context: PlateContext, look: Look, scale: number): Promise<PreparedPlate> {
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

const changesLight = ({ plate }: Look): boolean =>
  plate.exposure !== 0 || plate.highlightLift !== 0 || isPrepared(plate);

function preparedPlanes(rgb: Rgb, { plate }: Look, mask: Float32Array | undefined): Rgb {
  const lifted = plate.highlightLift > 0 ? liftHighlights(rgb, plate.highlightLift) : rgb;
  const done = prepareLight(lifted, plate);
  return mask ? mixByMask(rgb, done, mask) : done;
}

async function prepared(context: PlateContext, look: Look, light: Light, key: string): Promise<Light> {
  const { plate } = look;
  const fullKey = `${key} prepared ${JSON.stringify(plate)} ${maskKey(look, plate.mask)}`;
  if (!changesLight(look)) return { ...light, key: fullKey };
  return context.cache.getOrCompute(
    fullKey,
    async () => {
      const mask = await maskAt(look, plate.mask, 'plate.mask', context.plate, light.scale, context.cache);
      const rgb = preparedPlanes(light.base, look, mask);
      return { ...light, base: rgb, total: rgb, key: fullKey };
    },
    lightByteLength,
  );
}

/** Puts the light over its background (associated alpha): `light + (1 - alpha) * background`. */
function layOverBackground(light: Light, background: string, context: PlateContext): Light {
  if (background === NO_COLOUR || !light.alpha) return light;
  const under = backgroundPlanes(background, light, context);
  const { alpha } = light;
  const rgb = mapRgb(light.base, (plane, c) =>
    plane.map((value, i) => value + (1 - alpha[i]!) * under[c][i]!),
  );
  return { ...light, base: rgb, total: rgb, alpha: undefined };
}

function backgroundPlanes(
  background: string,
  light: Pick<Light, 'width' | 'height' | 'scale'>,
  context: PlateContext,
): Rgb {
  if (background.startsWith('#'))
    return toRgb(
      hexToLinear(background).map((value) => new Float32Array(light.width * light.height).fill(value)),
    );
  const plate: Plate | undefined = context.backdrop?.(background.slice(background.indexOf(':') + 1));
  if (!plate)
    throw new SettingError(`the background ${background} is not at hand`, {
      where: 'plate.background',
      todo: 'Choose a colour or a plate of the shot',
    });
  const { width, height } = plate.picture;
  const { whole } = context.plate;
  const size = {
    width: Math.round(whole.width * light.scale),
    height: Math.round(whole.height * light.scale),
  };
  return mapRgb(passLight(plate, plate.beauty, 1).rgb, (plane) => {
    const cover = coverPlane(plane, width, height, size.width, size.height);
    if (size.width === light.width && size.height === light.height) return cover;
    return cutPlane(cover, size.width, {
      x: Math.round(-whole.x * light.scale),
      y: Math.round(-whole.y * light.scale),
      width: light.width,
      height: light.height,
    });
  });
}
