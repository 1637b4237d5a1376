import { withGain, type Light } from '../../bench/light';
import { lightPass, passLight, scaledSize, type Plate } from '../../bench/plate';
import type { ContentCache } from '../../bench/cache';
import type { Look } from '../../look/look';

/** Plate: the render as it came in. Chooses the pass that goes into the lens and its exposure. */
export function plateLight(plate: Plate, look: Look, scale: number, cache: ContentCache): Promise<Light> {
  return exposedPass(plate, look.plate.pass, 'plate.pass', look, scale, cache);
}

/** A pass, chosen by the setting at `path`, under the plate's exposure. */
export async function exposedPass(
  plate: Plate,
  name: string,
  path: string,
  look: Look,
  scale: number,
  cache: ContentCache,
): Promise<Light> {
  const raw = await passAtScale(plate, name, path, scale, cache);
  const { exposure } = look.plate;
  return { ...withGain(raw, 2 ** exposure), key: `${raw.key} x${exposure}` };
}

/** A pass as light, without exposure; kept, since every drag starts from it. */
function passAtScale(
  plate: Plate,
  name: string,
  path: string,
  scale: number,
  cache: ContentCache,
): Promise<Light> {
  const pass = lightPass(plate, name, path);
  const key = `${plate.id} pass ${pass.name} @${scale}`;
  return cache.take(
    key,
    (): Light => {
      const { rgb, alpha } = passLight(plate, pass, scale);
      return { ...scaledSize(plate, scale), scale, base: rgb, alpha, separations: [], total: rgb, key };
    },
    (light) => light.width * light.height * 4 * (light.alpha ? 4 : 3),
  );
}
