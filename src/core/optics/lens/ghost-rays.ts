import type { Triple } from '../../color/primaries';
import {
  AFFINE_NUMBERS,
  TABLE_STEPS,
  type GhostPath,
  type GhostRays,
  type StartArea,
} from '../../kernels/ghosts';
import { reflectance, type CoatingOptions } from '../coating';
import type { LensDesign } from './design';
import { openRadius, pathWeight } from './ghosts';
import { mediaAt, paraxialPath, type GhostPair, type ParaxialPath } from './paraxial';
import { fieldRay, meetingsOf, traceRay } from './trace';

/** A lens as a light meets it: scaled, stopped down, coated. */
export interface MountedLens {
  design: LensDesign;
  coating: CoatingOptions;
}

/** Direction of the rays of a light whose own image lies at tangents of the field angle: x to the right, y down. */
export function lightDirection(tangentX: number, tangentY: number): Triple {
  const length = Math.hypot(tangentX, tangentY, 1);
  return [-tangentX / length, -tangentY / length, 1 / length];
}

/** Tables of what goes on at surfaces, by all that they depend on: the same for every ghost and every light. */
const tables = new Map<string, Float32Array>();
const MOST_TABLES = 6000;

interface Passage {
  from: number;
  to: number;
  reflects: boolean;
  wavelength: number;
}

function passageTable(
  { coating }: MountedLens,
  { from, to, reflects, wavelength }: Passage,
): Float32Array | undefined {
  if (from === to) return undefined;
  const key = [from, to, reflects, wavelength, coating.coating, coating.coatingWavelength].join(' ');
  const found = tables.get(key);
  if (found) return found;
  const table = Float32Array.from({ length: TABLE_STEPS + 1 }, (_, k) => {
    const share = reflectance({ from, to, cosine: k / TABLE_STEPS, wavelength }, coating);
    return reflects ? share : 1 - share;
  });
  if (tables.size >= MOST_TABLES) tables.clear();
  tables.set(key, table);
  return table;
}

function exactPath(lens: MountedLens, ghost: GhostPair | undefined, wavelength: number): GhostPath {
  const { surfaces } = lens.design;
  const media = mediaAt(lens.design, wavelength);
  const meetings = meetingsOf(lens.design, ghost);
  const legs: number[] = [];
  let before = 0;
  const pathTables = meetings.map(({ surface, reflects, forward }) => {
    const { radius, semiAperture, stop } = surfaces[surface]!;
    const [front, back] = [media[surface]!, media[surface + 1]!];
    const [from, to] = forward ? [front, back] : [back, front];
    legs.push(
      before,
      radius === null ? 0 : 1 / radius,
      reflects ? 0 : from / to,
      1 / semiAperture,
      stop ? 1 : 0,
      forward ? 1 : -1,
    );
    // What lies ahead: the way goes on as it came, or back.
    const onward = forward !== reflects;
    before = onward ? surfaces[surface]!.thickness : -(surfaces[surface - 1]?.thickness ?? 0);
    return passageTable(lens, { from, to, reflects, wavelength });
  });
  legs.push(before, 0, 0, 0, 0, 1);
  return {
    affine: false,
    meetings: meetings.length,
    legs: Float32Array.from(legs),
    tables: pathTables,
  };
}

/** The square on the first vertex's plane from which any ray may come through the first surface. */
function frontArea({ surfaces }: LensDesign, [dx, dy, dz]: Triple): StartArea {
  const { semiAperture, radius } = surfaces[0]!;
  const sag =
    radius === null
      ? 0
      : radius - Math.sign(radius) * Math.sqrt(Math.max(0, radius ** 2 - semiAperture ** 2));
  const half = 1.05 * semiAperture;
  const [shiftX, shiftY] = [(-sag * dx) / dz, (-sag * dy) / dz];
  // The edge lies behind the vertex by the sag, so that oblique rays pass the plane elsewhere.
  return {
    x: shiftX / 2,
    y: shiftY / 2,
    halfX: half + Math.abs(shiftX) / 2,
    halfY: half + Math.abs(shiftY) / 2,
  };
}

/** Real rays: Snell's law and reflectances at each ray's own angle. Without a pair, those of the light's own image. */
export function exactRays(lens: MountedLens, direction: Triple, ghost?: GhostPair): GhostRays {
  return {
    direction,
    start: frontArea(lens.design, direction),
    path: (wavelength) => exactPath(lens, ghost, wavelength),
  };
}

/** Heights, as shares of what comes through, at which real rays are followed to see how far a ghost spreads. */
const HEIGHTS = [0.15, 0.35, 0.5, 0.65, 0.8, 0.95];
const MOST_SPREAD = 6;

/**
 * How much larger a ghost comes out with real rays than with those near the axis, at least 1: one that is focused near the
 * sensor is spread by aberrations.
 */
export function spreadOf({ design }: MountedLens, ghost: GhostPair, path: ParaxialPath): number {
  const open = openRadius(design, path);
  let [real, ideal] = [0, 0];
  for (const share of HEIGHTS) {
    const height = share * open;
    const traced = traceRay(design, fieldRay(0, height, 0), { ghost });
    if (!traced) continue;
    // Rings farther out hold more of the light.
    real += share * traced.y ** 2;
    ideal += share * (path.sensor.a * height) ** 2;
  }
  return ideal > 0 ? Math.min(MOST_SPREAD, Math.max(1, Math.sqrt(real / ideal))) : 1;
}

function affinePath(
  lens: MountedLens,
  [dx, dy, dz]: Triple,
  ghost: GhostPair | undefined,
  spread: number,
  wavelength: number,
): GhostPath {
  const { design, coating } = lens;
  const path = paraxialPath(design, wavelength, ghost);
  const [slopeX, slopeY] = [dx / dz, dy / dz];
  const weight = pathWeight(design, path, coating, wavelength, ghost);
  const { a, b } = path.sensor;
  // The sensor's picture is turned upright.
  const legs = [-a * spread, -b * slopeX, -b * slopeY, weight];
  for (const { surface, a: scale, b: shift } of path.crossings) {
    const { semiAperture, stop } = design.surfaces[surface]!;
    legs.push(
      scale / semiAperture,
      (shift * slopeX) / semiAperture,
      (shift * slopeY) / semiAperture,
      stop ? 1 : 0,
    );
  }
  return {
    affine: true,
    meetings: legs.length / AFFINE_NUMBERS - 1,
    legs: Float32Array.from(legs),
    tables: [],
  };
}

/** Rays near the axis: each ghost an affine image of the stop, cut by the other apertures (Lee & Eisemann 2013). */
export function affineRays(lens: MountedLens, direction: Triple, ghost?: GhostPair, spread = 1): GhostRays {
  return {
    direction,
    start: affineArea(lens.design, direction, ghost),
    path: (wavelength) => affinePath(lens, direction, ghost, spread, wavelength),
  };
}

/** The rectangle that lies in the disc of every aperture, as starts see them. */
function affineArea(design: LensDesign, [dx, dy, dz]: Triple, ghost: GhostPair | undefined): StartArea {
  let [left, right, top, bottom] = [-1e6, 1e6, -1e6, 1e6];
  for (const { surface, a, b } of paraxialPath(design, undefined, ghost).crossings) {
    const radius = design.surfaces[surface]!.semiAperture / Math.abs(a);
    const [x, y] = [(-b * (dx / dz)) / a, (-b * (dy / dz)) / a];
    left = Math.max(left, x - radius);
    right = Math.min(right, x + radius);
    top = Math.max(top, y - radius);
    bottom = Math.min(bottom, y + radius);
  }
  const halfX = Math.max(1e-6, (right - left) / 2);
  const halfY = Math.max(1e-6, (bottom - top) / 2);
  return { x: (left + right) / 2, y: (top + bottom) / 2, halfX: 1.1 * halfX, halfY: 1.1 * halfY };
}
