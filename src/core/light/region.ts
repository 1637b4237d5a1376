import { SettingError } from '../errors';
import type { Rectangle } from '../image/rectangle';
import { type Light } from './light';
import { mapRgb } from '../image/rgb';

/** Cuts a rectangle out of a plane whose rows are `across` long. */
export function cutPlane(
  plane: Float32Array,
  across: number,
  { x, y, width, height }: Rectangle,
): Float32Array {
  const out = new Float32Array(width * height);
  for (let row = 0; row < height; row++) {
    const from = (y + row) * across + x;
    out.set(plane.subarray(from, from + width), row * width);
  }
  return out;
}

/**
 * Cuts a rectangle out of light, in all its parts. A lens brings light to a place from the whole picture, so the
 * stations compute the whole and the region is cut at the end: its pixels are those of the whole to the bit.
 */
export function cutRegion(light: Light, region: Rectangle): Light {
  const { x, y, width, height } = region;
  const whole = [x, y, width, height].every(Number.isInteger);
  if (
    !whole ||
    x < 0 ||
    y < 0 ||
    width < 1 ||
    height < 1 ||
    x + width > light.width ||
    y + height > light.height
  ) {
    throw new SettingError(
      `region ${x},${y},${width},${height} does not lie in ${light.width} x ${light.height}`,
    );
  }
  const cut = (plane: Float32Array): Float32Array => cutPlane(plane, light.width, region);
  return {
    ...light,
    width,
    height,
    base: mapRgb(light.base, cut),
    alpha: light.alpha && cut(light.alpha),
    separations: light.separations.map(({ name, rgb }) => ({ name, rgb: mapRgb(rgb, cut) })),
    total: mapRgb(light.total, cut),
    key: `${light.key} region ${x},${y},${width},${height}`,
  };
}
