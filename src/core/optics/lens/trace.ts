import { LINES } from '../glass';
import { reflectance, type CoatingOptions } from '../coating';
import type { LensDesign } from './design';
import { mediaAt, type GhostPair } from './paraxial';

/** A ray in space: x to the right, y down, z along the axis from the first vertex. The direction has length 1. */
export interface Ray {
  x: number;
  y: number;
  z: number;
  dx: number;
  dy: number;
  dz: number;
}

export interface TraceOptions {
  /** nm; the d line by default. */
  wavelength?: number;
  /** Whose path is followed; without one, that of the picture. */
  ghost?: GhostPair;
  /** Reflectances weigh the ray; without them it weighs 1. */
  coating?: CoatingOptions;
}

/** A ray that came through. */
export interface TracedRay {
  /** On the plane of the sensor. */
  x: number;
  y: number;
  /** Share of its light that is left. */
  weight: number;
  /** Places of the surfaces that it met, for drawing. */
  path: { y: number; z: number }[];
}

/**
 * Follows a ray through every surface by Snell's law. Undefined if a surface's edge, or total reflection, ends it.
 * (Spencer & Murty 1962, General ray-tracing procedure)
 */
export function traceRay(design: LensDesign, start: Ray, options: TraceOptions = {}): TracedRay | undefined {
  const { wavelength = LINES.d, ghost, coating } = options;
  const media = mediaAt(design, wavelength);
  const places = vertexPlaces(design);
  const ray = { ...start };
  let weight = 1;
  const path = [{ y: ray.y, z: ray.z }];
  const meet = (surface: number, reflects: boolean): boolean => {
    const { radius, semiAperture } = design.surfaces[surface]!;
    const vertex = places[surface]!;
    if (!moveTo(ray, vertex, radius)) return false;
    if (ray.x * ray.x + ray.y * ray.y > semiAperture * semiAperture) return false;
    path.push({ y: ray.y, z: ray.z });
    const normal = normalAt(ray, vertex, radius);
    const forward = ray.dz > 0;
    const [from, to] = forward
      ? [media[surface]!, media[surface + 1]!]
      : [media[surface + 1]!, media[surface]!];
    const cosine = Math.abs(ray.dx * normal.x + ray.dy * normal.y + ray.dz * normal.z);
    const share = coating && from !== to ? reflectance({ from, to, cosine, wavelength }, coating) : 0;
    if (coating) weight *= reflects ? share : 1 - share;
    if (reflects) return reflect(ray, normal);
    return refract(ray, normal, from / to);
  };
  for (const { surface, reflects } of meetingsOf(design, ghost))
    if (!meet(surface, reflects)) return undefined;
  const last = design.surfaces.length - 1;
  const sensor = places[last]! + design.surfaces[last]!.thickness;
  const distance = (sensor - ray.z) / ray.dz;
  const [x, y] = [ray.x + distance * ray.dx, ray.y + distance * ray.dy];
  path.push({ y, z: sensor });
  return { x, y, weight, path };
}

/** Surfaces that a path meets in order, whether each reflects, and whether light comes from the left. */
export function meetingsOf(
  { surfaces }: LensDesign,
  ghost: GhostPair | undefined,
): { surface: number; reflects: boolean; forward: boolean }[] {
  const range = (from: number, to: number): number[] =>
    Array.from({ length: Math.max(0, to - from + 1) }, (_, k) => from + k);
  const last = surfaces.length - 1;
  const go = (surface: number, forward: boolean, reflects = false) => ({ surface, reflects, forward });
  if (!ghost) return range(0, last).map((surface) => go(surface, true));
  const { first, second } = ghost;
  return [
    ...range(0, second - 1).map((surface) => go(surface, true)),
    go(second, true, true),
    ...range(first + 1, second - 1)
      .reverse()
      .map((surface) => go(surface, false)),
    go(first, false, true),
    ...range(first + 1, last).map((surface) => go(surface, true)),
  ];
}

/** The ray that passes the first vertex's plane at a place, from a far light at a field angle (radians, upwards positive). */
export function fieldRay(x: number, y: number, angle: number): Ray {
  return { x, y, z: 0, dx: 0, dy: Math.sin(angle), dz: Math.cos(angle) };
}

/** Of each vertex along the axis. */
export function vertexPlaces({ surfaces }: LensDesign): number[] {
  let z = 0;
  return surfaces.map(({ thickness }) => {
    const place = z;
    z += thickness;
    return place;
  });
}

/** Moves a ray to a surface; false if it misses it. */
function moveTo(ray: Ray, vertex: number, radius: number | null): boolean {
  if (radius === null) {
    const distance = (vertex - ray.z) / ray.dz;
    advance(ray, distance);
    return Number.isFinite(distance);
  }
  // From the sphere's middle.
  const oz = ray.z - vertex - radius;
  const along = ray.x * ray.dx + ray.y * ray.dy + oz * ray.dz;
  const root = along * along - (ray.x * ray.x + ray.y * ray.y + oz * oz - radius * radius);
  if (root < 0) return false;
  // Of the two, the one on the vertex's side.
  const distance = -along + (radius > 0 === ray.dz > 0 ? -1 : 1) * Math.sqrt(root);
  advance(ray, distance);
  return true;
}

function advance(ray: Ray, distance: number): void {
  ray.x += distance * ray.dx;
  ray.y += distance * ray.dy;
  ray.z += distance * ray.dz;
}

interface Vector {
  x: number;
  y: number;
  z: number;
}

/** Of length 1, against the ray. */
function normalAt(ray: Ray, vertex: number, radius: number | null): Vector {
  const n =
    radius === null
      ? { x: 0, y: 0, z: 1 }
      : { x: ray.x / radius, y: ray.y / radius, z: (ray.z - vertex - radius) / radius };
  const towards = ray.dx * n.x + ray.dy * n.y + ray.dz * n.z;
  return towards > 0 ? { x: -n.x, y: -n.y, z: -n.z } : n;
}

function refract(ray: Ray, { x, y, z }: Vector, ratio: number): boolean {
  const cosine = -(ray.dx * x + ray.dy * y + ray.dz * z);
  const square = 1 - ratio * ratio * (1 - cosine * cosine);
  if (square < 0) return false;
  const factor = ratio * cosine - Math.sqrt(square);
  ray.dx = ratio * ray.dx + factor * x;
  ray.dy = ratio * ray.dy + factor * y;
  ray.dz = ratio * ray.dz + factor * z;
  return true;
}

function reflect(ray: Ray, { x, y, z }: Vector): boolean {
  const twice = 2 * (ray.dx * x + ray.dy * y + ray.dz * z);
  ray.dx -= twice * x;
  ray.dy -= twice * y;
  ray.dz -= twice * z;
  return true;
}
