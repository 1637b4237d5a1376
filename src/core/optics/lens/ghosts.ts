import { reflectance, type CoatingOptions } from '../coating';
import { LINES } from '../glass';
import type { LensDesign } from './design';
import { ghostPairs, mediaAt, paraxialPath, type GhostPair, type ParaxialPath } from './paraxial';

/** A ghost of a light near the axis. */
export interface Ghost extends GhostPair {
  /** The two surfaces as the design numbers them: `3-7`. */
  name: string;
  /** Radius of its disc on the sensor, mm. */
  radius: number;
  /** How far from the axis a light moves it, mm a degree; negative on the other side than the light's own image. */
  perDegree: number;
  /** Its light as a share of that of the light's own image. */
  flux: number;
  /** The same over its area, per square millimetre. */
  irradiance: number;
}

export const ghostName = ({ first, second }: GhostPair): string => `${first}-${second}`;

/** Radius in the first vertex's plane within which rays along the axis come through: that of the tightest aperture on the way. */
export function openRadius({ surfaces }: LensDesign, { crossings }: ParaxialPath): number {
  return crossings.reduce(
    (least, { surface, a }) => Math.min(least, surfaces[surface]!.semiAperture / Math.abs(a)),
    Infinity,
  );
}

/** Share of a ray along the axis that comes through by a path. */
export function pathWeight(
  design: LensDesign,
  { crossings }: ParaxialPath,
  coating: CoatingOptions,
  wavelength: number,
  ghost?: GhostPair,
): number {
  const media = mediaAt(design, wavelength);
  let [weight, turns] = [1, 0];
  crossings.forEach(({ surface }) => {
    const [from, to] = [media[surface]!, media[surface + 1]!];
    if (from === to) return;
    const share = reflectance({ from, to, cosine: 1, wavelength }, coating);
    const isTurn = ghost && surface === (turns === 0 ? ghost.second : turns === 1 ? ghost.first : -1);
    if (isTurn) turns++;
    weight *= isTurn ? share : 1 - share;
  });
  return weight;
}

/**
 * Every two-reflection ghost of a design, the brightest on the sensor first, by ray-transfer matrices: the pupil's image in
 * each is a disc, whose light is that of the rays that come through times the reflectances at right incidence.
 * (Hullin et al. 2011; Lee & Eisemann 2013)
 */
export function listGhosts(
  design: LensDesign,
  coating: CoatingOptions,
  wavelength: number = LINES.d,
): Ghost[] {
  const direct = paraxialPath(design, wavelength);
  const pupil = openRadius(design, direct);
  const passed = pathWeight(design, direct, coating, wavelength);
  return ghostPairs(design)
    .map((pair): Ghost => {
      const path = paraxialPath(design, wavelength, pair);
      const open = openRadius(design, path);
      const radius = Math.abs(path.sensor.a) * open;
      const flux = (pathWeight(design, path, coating, wavelength, pair) / passed) * (open / pupil) ** 2;
      return {
        ...pair,
        name: ghostName(pair),
        radius,
        perDegree: path.sensor.b * Math.tan(Math.PI / 180),
        flux,
        irradiance: flux / (Math.PI * radius * radius),
      };
    })
    .sort((a, b) => b.irradiance - a.irradiance);
}
