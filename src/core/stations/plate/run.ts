import { BEAUTY } from '../../image/passes';
import type { Rgb } from '../../image/rgb';
import {
  elementsOf,
  geometryReads,
  isAlone,
  passesNamed,
  seenPass,
  type NamedPass,
} from '../../light/elements';
import type { Light } from '../../light/light';
import { maskAt, maskKey, masksKey } from '../../light/mask';
import { lightPass, scaledSize, type Plate } from '../../light/plate';
import type { Look } from '../../look/look';
import { elementOf } from '../../settings/element';
import { layOverBackground } from './background';
import type { PlateContext } from './context';
import { isCorrected } from './correct';
import { changesLight, preparedPlanes } from './prepare';
import { plateUnderLook } from './primaries';
import { lightByteLength, partOfRender, renderLight } from './render';
import { passInPlace, stackedLight, type PreparedPlate } from './stack';

export type { PlateContext } from './context';
export type { CleanReport } from './render';
export { plateReads } from './stack';

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
  const key = `${plate.id} pass ${name} of elements ${JSON.stringify([look.elements, masksKey(look), geometryReads(look)])} @${scale}`;
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
