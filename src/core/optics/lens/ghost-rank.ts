import { LINES } from '../glass';
import type { LensDesign } from './design';
import type { GhostKernel, StopMask } from '../../kernels/ghosts';
import { NO_MARKS, pupilMask } from '../pupil-mask';
import { exactRays, lightDirection, type MountedLens } from './ghost-rays';
import { ghostName, openRadius } from './ghosts';
import { ghostPairs, paraxialPath, type GhostPair, type ParaxialPath } from './paraxial';

/** A ghost as rays near the axis tell it. */
interface DescribedGhost extends GhostPair {
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

/** Every two-reflection ghost of a design. */
function describeGhosts(design: LensDesign): DescribedGhost[] {
  return ghostPairs(design).map((pair) => {
    const path = paraxialPath(design, LINES.d, pair);
    const radius = Math.abs(path.sensor.a) * openRadius(design, path);
    return { ...pair, name: ghostName(pair), path, radius, diffraction: edgeBlur(path) };
  });
}

/** Places of the light, as shares of half the diagonal; rays along each side of the start, and their colours, nm. */
const FIELDS = [0, 0.3, 0.6, 0.9];
const NODES = 17;
const [MIDDLE, COLOURS] = [545, [545, 450, 640] as const];
/** A round stop. */
const ROUND_SIZE = 64;
const ROUND: StopMask = {
  size: ROUND_SIZE,
  plane: pupilMask({ blades: 0, curvature: 1, rotation: 0 }, NO_MARKS, ROUND_SIZE),
};

/**
 * Every two-reflection ghost, the brightest over the field first: an order that does not change as a light moves. By real rays,
 * since many that are small near the axis are spread far by aberrations. `half` is half the picture's diagonal on the sensor, mm.
 */
export async function rankGhosts(
  lens: MountedLens,
  half: number,
  kernel: GhostKernel,
): Promise<RankedGhost[]> {
  const ghosts = describeGhosts(lens.design);
  const asked = FIELDS.flatMap((field) => {
    const direction = lightDirection((field * half) / lens.design.focalLength, 0);
    return ghosts.map((ghost) => ({ ghost, rays: exactRays(lens, direction, ghost) }));
  });
  const bounds = await kernel.survey(
    asked.map(({ rays }) => rays),
    COLOURS,
    NODES,
  );
  const lit = asked.flatMap(({ ghost, rays }, k) => {
    const area = bounds[k];
    const isSeen = area && Math.min(Math.abs(area.left), Math.abs(area.right)) < half;
    return isSeen || (area && area.left < 0 && area.right > 0) ? [{ ghost, rays, bounds: area }] : [];
  });
  const fluxes = await kernel.measure(lit, [MIDDLE], ROUND, NODES);
  const brightness = new Map(ghosts.map(({ name }) => [name, 0]));
  lit.forEach(({ ghost, bounds: { left, right, top, bottom } }, k) => {
    const area = (Math.PI / 4) * (right - left) * (bottom - top) + 4 * Math.PI * ghost.diffraction ** 2;
    const own = fluxes[k]![0]! / area / FIELDS.length;
    brightness.set(ghost.name, brightness.get(ghost.name)! + own);
  });
  return ghosts
    .map((ghost) => ({ ...ghost, brightness: brightness.get(ghost.name)! }))
    .sort((a, b) => b.brightness - a.brightness);
}
