import { hexToLinear } from '../../color/hex';
import { SettingError } from '../../errors';
import { coverPlane } from '../../image/cover';
import { mapRgb, toRgb, type Rgb } from '../../image/rgb';
import type { Light } from '../../light/light';
import { passLight, type Plate } from '../../light/plate';
import { cutPlane } from '../../light/region';
import { NO_COLOUR } from '../../settings/setting';
import type { PlateContext } from './context';

/** Puts the light over its background (associated alpha): `light + (1 - alpha) * background`. */
export function layOverBackground(light: Light, background: string, context: PlateContext): Light {
  if (background === NO_COLOUR || !light.alpha) return light;
  const under = backgroundPlanes(background, light, context);
  const { alpha } = light;
  const rgb = mapRgb(light.base, (plane, c) =>
    plane.map((value, i) => value + (1 - alpha[i]!) * under[c][i]!),
  );
  return { ...light, base: rgb, total: rgb, alpha: undefined };
}

/** A background's colour, or its plate, as planes of a light's size. */
export function backgroundPlanes(
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
