import type { Light } from '../../light/light';
import { mapRgb, type Rgb } from '../../image/rgb';
import { maskAt, maskKey } from '../../light/mask';
import { cutPlane } from '../../light/region';
import { lightPass, passLight, scaledSize, type Plate } from '../../light/plate';
import type { StationContext } from '../../light/station';
import { hexToLinear } from '../../color/hex';
import { SettingError } from '../../errors';
import { coverPlane } from '../../image/cover';
import { holdsLight, type Pass } from '../../image/passes';
import { resampleArea } from '../../image/resample';
import type { Look } from '../../look/look';
import { NO_COLOUR } from '../../settings/setting';
import { clampFireflies, despike, type Cleaned } from './clean';
import { isPrepared, liftHighlights, mixByMask, prepareLight } from './prepare';
import { plateUnderLook } from './primaries';
import { componentsOf, shareOfSum, summedPasses, sumPasses } from './sum';

/** What the plate's station uses of the bench. */
export type PlateContext = Pick<StationContext, 'plate' | 'cache' | 'backdrop'>;

/** How many pixels of the full-size picture the cleaning touched, and which. */
export type CleanReport = Omit<Cleaned, 'rgb'>;

/**
 * Plate: the render as it came in, made ready for the lens: the beauty or the sum of its passes, cleaned, lifted, over its
 * background, and prepared.
 */
export async function plateLight(
  bench: PlateContext,
  look: Look,
  scale: number,
): Promise<{ light: Light; cleaned: CleanReport | undefined }> {
  const { plate } = look;
  const context = { ...bench, plate: plateUnderLook(bench.plate, look) };
  const { source, cleaned, key } = await sourceLight(context, look, scale);
  const backed = layOverBackground(source, plate.background, context);
  const light = await prepared(context, look, backed, key);
  return { light, cleaned };
}

/** A pass, chosen by the setting at `path`, under the plate's preparation. */
export async function preparedPass(
  bench: PlateContext,
  name: string,
  path: string,
  look: Look,
  scale: number,
): Promise<Light> {
  const context = { ...bench, plate: plateUnderLook(bench.plate, look) };
  const pass = lightPass(context.plate, name, path);
  const raw = await passAtScale(context, pass, scale);
  const { plate } = context;
  const isPart = look.plate.source === 'sum' && componentsOf(plate, look.plate.order).includes(pass);
  if (!isPart) return prepared(context, look, raw, raw.key);
  const key = `${raw.key} in the sum ${JSON.stringify([look.plate.passes, look.plate.order])}`;
  const lights = await summedLights(context, look, scale);
  const rgb = shareOfSum(plate, look, raw, (one) => lights.get(one)!, pass);
  return prepared(context, look, { ...raw, base: rgb, total: rgb, key }, key);
}

async function prepared(context: PlateContext, look: Look, light: Light, key: string): Promise<Light> {
  const { plate } = look;
  const { exposure, highlightLift } = plate;
  const fullKey = `${key} prepared ${JSON.stringify({ ...plate, passes: 0, order: 0 })} ${maskKey(look, plate.mask)}`;
  if (exposure === 0 && highlightLift === 0 && !isPrepared(plate)) return { ...light, key: fullKey };
  return context.cache.getOrCompute(
    fullKey,
    async () => {
      const lifted = highlightLift > 0 ? liftHighlights(light.base, highlightLift) : light.base;
      const done = prepareLight(lifted, plate);
      const mask = await maskAt(look, plate.mask, 'plate.mask', context.plate, light.scale, context.cache);
      const rgb = mask ? mixByMask(light.base, done, mask) : done;
      return { ...light, base: rgb, total: rgb, key: fullKey };
    },
    lightByteLength,
  );
}

const lightByteLength = (light: Light): number => light.width * light.height * 4 * (light.alpha ? 4 : 3);

/** The beauty or the sum, cleaned if that is asked for. Cleaning looks at single pixels, so it is done at full size. */
async function sourceLight(
  context: PlateContext,
  look: Look,
  scale: number,
): Promise<{ source: Light; cleaned: CleanReport | undefined; key: string }> {
  const { plate, cache } = context;
  const { source, pass, clamp, despike: times } = look.plate;
  const chosen = source === 'beauty' ? lightPass(plate, pass, 'plate.pass') : undefined;
  const what = chosen
    ? `pass ${chosen.name}`
    : `sum ${JSON.stringify([look.plate.passes, look.plate.order])}`;
  if (clamp === 0 && times === 0) {
    const light = chosen
      ? await passAtScale(context, chosen, scale)
      : await cache.getOrCompute(
          `${plate.id} ${what} @${scale}`,
          () => sumAtScale(context, look, scale),
          lightByteLength,
        );
    return { source: light, cleaned: undefined, key: light.key };
  }
  const key = `${plate.id} ${what} clean ${clamp} ${times}`;
  const { rgb, ...cleaned } = await cache.getOrCompute(
    `${key} full`,
    () => cleanFull(context, look, chosen),
    (made) => made.touched.byteLength * 13,
  );
  const { width, height } = plate.picture;
  const size = scaledSize(plate, scale);
  const reduced = mapRgb(rgb, (plane) => resampleArea(plane, width, height, size.width, size.height));
  const { alpha } = await passAtScale(context, chosen ?? plate.beauty, scale);
  const scaledKey = `${key} @${scale}`;
  const light = { ...size, scale, base: reduced, alpha, separations: [], total: reduced, key: scaledKey };
  return { source: light, cleaned, key: scaledKey };
}

async function sumAtScale(context: PlateContext, look: Look, scale: number): Promise<Light> {
  const { plate } = context;
  const key = `${plate.id} sum ${JSON.stringify([look.plate.passes, look.plate.order])} @${scale}`;
  const lights = await summedLights(context, look, scale);
  const size = scaledSize(plate, scale);
  const rgb = sumPasses(plate, look, size, (pass) => lights.get(pass)!);
  const { alpha } = await passAtScale(context, plate.beauty, scale);
  return { ...size, scale, base: rgb, alpha, separations: [], total: rgb, key };
}

/** The passes that are summed, as they came in. */
async function summedLights(context: PlateContext, look: Look, scale: number): Promise<Map<Pass, Rgb>> {
  const lights = new Map<Pass, Rgb>();
  for (const pass of summedPasses(context.plate, look))
    lights.set(pass, (await passAtScale(context, pass, scale)).base);
  return lights;
}

/** Despikes all but the emission, then clamps. */
function cleanFull(context: PlateContext, look: Look, chosen: Pass | undefined): Cleaned {
  const { plate } = context;
  const { width, height } = plate.picture;
  const { clamp, despike: times } = look.plate;
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
    rgb = sumPasses(plate, look, { width, height }, (pass) => {
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

/** Puts the light over its background (associated alpha): `light + (1 - alpha) * background`. */
function layOverBackground(light: Light, background: string, context: PlateContext): Light {
  if (background === NO_COLOUR || !light.alpha) return light;
  const under = backgroundPlanes(background, light, context);
  const { alpha } = light;
  const rgb = mapRgb(light.base, (plane, c) => {
    const back = under[c]!;
    return plane.map((value, i) => value + (1 - alpha[i]!) * (typeof back === 'number' ? back : back[i]!));
  });
  return { ...light, base: rgb, total: rgb, alpha: undefined };
}

function backgroundPlanes(
  background: string,
  light: Light,
  context: PlateContext,
): (number | Float32Array)[] {
  if (background.startsWith('#')) return hexToLinear(background);
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
  return passLight(plate, plate.beauty, 1).rgb.map((plane) => {
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

/** A pass as light, as it came in; kept, since every drag starts from it. */
export function passAtScale({ plate, cache }: PlateContext, pass: Pass, scale: number): Promise<Light> {
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
