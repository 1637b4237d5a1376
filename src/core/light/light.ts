import type { LayerStack } from './layers';
import { addPlanes, mapRgb, scalePlane, type Rgb } from '../image/rgb';

/** What one effect alone added to or took from the picture. May be negative. */
export interface Separation {
  /** `veil.bloom` */
  name: string;
  rgb: Rgb;
}

/**
 * Light at one place on the bench. `total` is the base plus the separations, summed in order in single precision:
 * who adds the parts up again gets the same bits.
 */
export interface Light {
  width: number;
  height: number;
  /** Share of the plate's full size. */
  scale: number;
  base: Rgb;
  alpha: Float32Array | undefined;
  separations: readonly Separation[];
  total: Rgb;
  /** What the picture is made of in depth, before the lens has joined it; none for a single surface. */
  layers?: LayerStack | undefined;
  /** Equal keys mean equal light; the bench sets it. */
  key: string;
}

/** The light with one more separation on it. */
export function withSeparation(light: Light, separation: Separation): Light {
  return {
    ...light,
    separations: [...light.separations, separation],
    total: mapRgb(light.total, (plane, c) => addPlanes(plane, separation.rgb[c])),
  };
}

/** The light with everything on it multiplied by one gain. A gain of 1 gives the light itself. */
export function withGain(light: Light, gain: number): Light {
  if (gain === 1) return light;
  const times = (rgb: Rgb): Rgb => mapRgb(rgb, (plane) => scalePlane(plane, gain));
  const base = times(light.base);
  if (light.separations.length === 0) return { ...light, base, total: base };
  const separations = light.separations.map(({ name, rgb }) => ({ name, rgb: times(rgb) }));
  const total = separations.reduce(
    (sum, { rgb }) => mapRgb(sum, (plane, c) => addPlanes(plane, rgb[c])),
    base,
  );
  return { ...light, base, separations, total };
}

/** The light with its separations in its base. */
export function merged(light: Light): Light {
  return light.separations.length === 0 ? light : { ...light, base: light.total, separations: [] };
}

/** The light with its base and every separation changed in the same linear way, and summed anew. */
export async function mapParts(light: Light, change: (rgb: Rgb) => Rgb | Promise<Rgb>): Promise<Light> {
  const base = await change(light.base);
  const separations: Separation[] = [];
  for (const { name, rgb } of light.separations) separations.push({ name, rgb: await change(rgb) });
  const total = separations.reduce(
    (sum, { rgb }) => mapRgb(sum, (plane, c) => addPlanes(plane, rgb[c])),
    base,
  );
  return { ...light, base, separations, total };
}
