import { LINES } from '../glass';
import type { LensDesign } from './design';
import type { MountedLens } from './ghost-rays';
import { ghostName, openRadius, pathWeight } from './ghosts';
import { ghostPairs, paraxialPath, type GhostPair, type ParaxialPath } from './paraxial';

/** A ghost as rays near the axis tell it. */
export interface DescribedGhost extends GhostPair {
  /** `3-7` */
  name: string;
  /** Near the axis, at the d line. */
  path: ParaxialPath;
  /** Radius of its disc on the sensor for a light on the axis, mm. */
  radius: number;
  /** Standard deviation of what diffraction blurs its edge by, mm. */
  diffraction: number;
}

/** A ghost by what it is like over the whole field. */
export interface RankedGhost extends DescribedGhost {
  /** Its light a square millimetre as a share of the light's own, in the mean over places of the light on the picture. */
  brightness: number;
}

/** nm, and shares of what is seen. */
const COLOURS = [
  [460, 0.15],
  [545, 0.65],
  [620, 0.2],
] as const;
/** Places of the light, as shares of half the diagonal. */
const FIELDS = [0, 0.3, 0.6, 0.9];
const GRID = 16;
const WAVELENGTH = 0.55e-3;

/**
 * Width of the edge of a beam that is cut by an aperture, on a plane at a distance from its focus: Fresnel's straight edge
 * goes from a tenth to nine tenths of the light over 0.89 sqrt(lambda z) (Born & Wolf 1959, 8.7), a Gaussian's over 2.56
 * deviations.
 */
export function edgeBlur({ sensor, slope }: ParaxialPath): number {
  const distance = Math.abs(sensor.a / (slope.a || 1e-9));
  return (0.89 / 2.56) * Math.sqrt(WAVELENGTH * distance);
}

/** Area of the starts, square millimetres, from which rays at a field angle come through all apertures of a path. */
function throughArea({ surfaces }: LensDesign, { crossings }: ParaxialPath, tangent: number): number {
  const discs = crossings.map(({ surface, a, b }) => ({
    radius: surfaces[surface]!.semiAperture / Math.abs(a),
    y: (-b * tangent) / a,
  }));
  const smallest = discs.reduce((least, disc) => (disc.radius < least.radius ? disc : least));
  let count = 0;
  for (let row = 0; row < GRID; row++)
    for (let column = 0; column < GRID; column++) {
      const x = ((2 * (column + 0.5)) / GRID - 1) * smallest.radius;
      const y = smallest.y + ((2 * (row + 0.5)) / GRID - 1) * smallest.radius;
      if (discs.every((disc) => x * x + (y - disc.y) ** 2 <= disc.radius ** 2)) count++;
    }
  return count * ((2 * smallest.radius) / GRID) ** 2;
}

/** Every two-reflection ghost of a design. */
export function describeGhosts(design: LensDesign): DescribedGhost[] {
  return ghostPairs(design).map((pair) => {
    const path = paraxialPath(design, LINES.d, pair);
    const radius = Math.abs(path.sensor.a) * openRadius(design, path);
    return { ...pair, name: ghostName(pair), path, radius, diffraction: edgeBlur(path) };
  });
}

/**
 * Every two-reflection ghost, the brightest over the field first, by rays near the axis alone. `half` is
 * half the picture's diagonal on the sensor, mm.
 */
export function rankGhosts(lens: MountedLens, half: number): RankedGhost[] {
  const { design, coating } = lens;
  const direct = paraxialPath(design, LINES.d);
  const pupilArea = Math.PI * openRadius(design, direct) ** 2;
  const passed = COLOURS.map(([wavelength]) => pathWeight(design, direct, coating, wavelength));
  return describeGhosts(design)
    .map((ghost): RankedGhost => {
      const { path, radius, diffraction } = ghost;
      const weight = COLOURS.reduce(
        (sum, [wavelength, share], k) =>
          sum + (share * pathWeight(design, path, coating, wavelength, ghost)) / passed[k]!,
        0,
      );
      const at = (field: number): number => {
        const tangent = (field * half) / design.focalLength;
        const area = throughArea(design, path, tangent);
        const onSensor = path.sensor.a ** 2 * area + 4 * Math.PI * diffraction ** 2;
        const isSeen = Math.abs(path.sensor.b * tangent) - radius < half;
        return isSeen ? (weight * area) / pupilArea / onSensor : 0;
      };
      const brightness = FIELDS.reduce((sum, field) => sum + at(field), 0) / FIELDS.length;
      return { ...ghost, brightness };
    })
    .sort((a, b) => b.brightness - a.brightness);
}
