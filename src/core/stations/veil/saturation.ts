import type { Size } from '../../image/rectangle';
import type { Rgb } from '../../image/rgb';
import type { StationContext } from '../../light/station';

/** Light at another saturation about its luminance, which stays; no channel falls below zero. At 1 it is the same light. */
export async function withSaturation(
  light: Rgb,
  { width, height }: Size,
  saturation: number,
  { kernels }: Pick<StationContext, 'kernels'>,
): Promise<Rgb> {
  if (saturation === 1) return light;
  return kernels.grade.grade({ width, height, light, steps: [{ kind: 'colour', saturation }] });
}
