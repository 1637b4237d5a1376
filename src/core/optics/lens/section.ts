import { LINES } from '../glass';
import type { LensDesign } from './design';
import type { GhostPair } from './paraxial';
import { traceRay, vertexPlaces, type Ray } from './trace';

/** A point of the drawing: along the axis from the first vertex, and up from it, mm. */
export type SectionPoint = [z: number, y: number];

/** A lens cut through its axis, with rays. */
export interface LensSection {
  /** Outlines of the glasses, and their indices at the d line. */
  glasses: { outline: SectionPoint[]; nd: number }[];
  /** The stop's blades, above and below the axis: from its edge outward. */
  stop: { z: number; edge: number; outer: number };
  sensor: { z: number; half: number };
  /** Rays of the light's own image, and of the ghost that was asked for, with the places where it is reflected. */
  rays: SectionPoint[][];
  ghost: { rays: SectionPoint[][]; turns: SectionPoint[] } | undefined;
}

export interface SectionOptions {
  /** Field angle of the light, radians; from above. */
  angle: number;
  /** Of the light, mm from the first vertex; undefined if it is far. */
  distance?: number | undefined;
  /** nm */
  wavelength?: number;
  ghost?: GhostPair | undefined;
  /** Half the height of the sensor that is drawn, mm. */
  half: number;
}

const ARC_POINTS = 12;
const HEIGHTS = 41;
const RAYS = 5;
const GHOST_RAYS = 3;
/** How far before the lens rays begin, in focal lengths. */
const LEAD = 0.35;

/** Points of a surface from one edge to the other, upward. */
function arc(vertex: number, radius: number | null, semiAperture: number): SectionPoint[] {
  return Array.from({ length: 2 * ARC_POINTS + 1 }, (_, k): SectionPoint => {
    const y = ((k - ARC_POINTS) / ARC_POINTS) * semiAperture;
    const sag = radius === null ? 0 : radius - Math.sign(radius) * Math.sqrt(radius ** 2 - y * y);
    return [vertex + sag, y];
  });
}

/** A ray from the light through a height of the first vertex's plane. Heights go up, light comes from above. */
function rayFrom({ angle, distance }: SectionOptions, height: number): Ray {
  const slope = distance === undefined ? -Math.tan(angle) : (height - distance * Math.tan(angle)) / distance;
  const length = Math.hypot(1, slope);
  return { x: 0, y: height, z: 0, dx: 0, dy: slope / length, dz: 1 / length };
}

/** Paths of a few rays that come through, evenly over all that do. */
function bundle(
  design: LensDesign,
  options: SectionOptions,
  ghost: GhostPair | undefined,
  count: number,
): SectionPoint[][] {
  const { wavelength = LINES.d } = options;
  const front = 1.4 * design.surfaces[0]!.semiAperture;
  const through: SectionPoint[][] = [];
  for (let k = 0; k < HEIGHTS; k++) {
    const start = rayFrom(options, front * ((2 * k) / (HEIGHTS - 1) - 1));
    const traced = traceRay(design, start, { wavelength, ...(ghost && { ghost }) });
    if (!traced) continue;
    const lead = LEAD * design.focalLength;
    through.push([
      [-lead, start.y - (lead * start.dy) / start.dz],
      ...traced.path.map(({ y, z }): SectionPoint => [z, y]),
    ]);
  }
  if (through.length <= count) return through;
  return Array.from(
    { length: count },
    (_, k) => through[Math.round((k * (through.length - 1)) / (count - 1))]!,
  );
}

/** The drawing of a lens for a light at a field angle. */
export function lensSection(design: LensDesign, options: SectionOptions): LensSection {
  const { surfaces } = design;
  const places = vertexPlaces(design);
  const last = surfaces.length - 1;
  const glasses = surfaces.flatMap(({ nd, radius, semiAperture }, k) => {
    const next = surfaces[k + 1];
    if (nd <= 1.05 || !next) return [];
    const front = arc(places[k]!, radius, semiAperture);
    const back = arc(places[k + 1]!, next.radius, next.semiAperture);
    return [{ outline: [...front, ...back.reverse()], nd }];
  });
  const stop = surfaces.findIndex((surface) => surface.stop);
  const outer = Math.max(...surfaces.map(({ semiAperture }) => semiAperture));
  const { ghost } = options;
  const ghostRays = ghost ? bundle(design, options, ghost, GHOST_RAYS) : [];
  return {
    glasses,
    stop: { z: places[stop]!, edge: surfaces[stop]!.semiAperture, outer },
    sensor: { z: places[last]! + surfaces[last]!.thickness, half: options.half },
    rays: bundle(design, options, undefined, RAYS),
    ghost: ghost && {
      rays: ghostRays,
      // Behind the lead and the start, one point a surface: the first turn is at `second`, the other as far back as `first`.
      turns: ghostRays.flatMap((path) => [
        path[2 + ghost.second]!,
        path[2 + 2 * ghost.second - ghost.first]!,
      ]),
    },
  };
}
