import { LINES, refractiveIndex } from '../glass';
import type { LensDesign } from './design';

/** A ray close to the axis: its height is `a` times that at the first vertex, and `b` times the tangent of its field angle. */
export interface Height {
  a: number;
  b: number;
}

/** A surface that a path passes, and how high a ray is there. */
export interface Crossing extends Height {
  surface: number;
}

/** A path through a lens to its sensor. */
export interface ParaxialPath {
  /** Every surface that is met, in order. */
  crossings: Crossing[];
  /** On the sensor: height, and slope. */
  sensor: Height;
  slope: Height;
}

/** Two surfaces that reflect: light comes back from `second`, and again from `first` before it. */
export interface GhostPair {
  first: number;
  second: number;
}

/** Indices of the media of a lens, that before it first, at a wavelength in nm. */
export function mediaAt({ surfaces }: LensDesign, wavelength: number): number[] {
  return [1, ...surfaces.map((surface) => refractiveIndex(surface, wavelength))];
}

/** A ray's height and its slope times the index, as factors of the height and slope that it came with. */
interface State {
  height: Height;
  slope: Height;
}

/**
 * Follows rays near the axis by ray-transfer matrices. Both directions share one form: with the slope times the index, light
 * that runs back has index and distance negative, and their ratio is the same (Gerrard & Burch 1975).
 */
class ParaxialWalk {
  readonly crossings: Crossing[] = [];
  private state: State = { height: { a: 1, b: 0 }, slope: { a: 0, b: 1 } };

  constructor(
    private readonly design: LensDesign,
    private readonly media: readonly number[],
  ) {}

  /** Bends the ray by a power: `slope - power * height`. */
  private bend(power: number): void {
    const { height, slope } = this.state;
    this.state = { height, slope: { a: slope.a - power * height.a, b: slope.b - power * height.b } };
  }

  private curvature(surface: number): number {
    const { radius } = this.design.surfaces[surface]!;
    return radius === null ? 0 : 1 / radius;
  }

  refract(surface: number): void {
    this.crossings.push({ surface, ...this.state.height });
    this.bend((this.media[surface + 1]! - this.media[surface]!) * this.curvature(surface));
  }

  /** Turns light back that came from the left (`forward`) or from the right. */
  reflect(surface: number, forward: boolean): void {
    this.crossings.push({ surface, ...this.state.height });
    const index = forward ? -this.media[surface]! : this.media[surface + 1]!;
    this.bend(2 * index * this.curvature(surface));
  }

  /** Goes through the medium behind a surface, either way. */
  cross(surface: number): void {
    const distance = this.design.surfaces[surface]!.thickness / this.media[surface + 1]!;
    const { height, slope } = this.state;
    this.state = {
      height: { a: height.a + distance * slope.a, b: height.b + distance * slope.b },
      slope,
    };
  }

  get now(): State {
    return this.state;
  }
}

/** The path of the picture itself, or of a ghost, at a wavelength in nm. */
export function paraxialPath(
  design: LensDesign,
  wavelength: number = LINES.d,
  ghost?: GhostPair,
): ParaxialPath {
  const walk = new ParaxialWalk(design, mediaAt(design, wavelength));
  const last = design.surfaces.length - 1;
  const turn = ghost?.second ?? last + 1;
  for (let k = 0; k < turn; k++) {
    walk.refract(k);
    walk.cross(k);
  }
  if (ghost) {
    walk.reflect(ghost.second, true);
    for (let k = ghost.second - 1; k > ghost.first; k--) {
      walk.cross(k);
      walk.refract(k);
    }
    walk.cross(ghost.first);
    walk.reflect(ghost.first, false);
    walk.cross(ghost.first);
    for (let k = ghost.first + 1; k <= last; k++) {
      walk.refract(k);
      walk.cross(k);
    }
  }
  const { height, slope } = walk.now;
  return { crossings: walk.crossings, sensor: height, slope };
}

/** What a lens does as a whole, at a wavelength. Millimetres. */
export interface LensFacts {
  focalLength: number;
  /** From the last vertex to the focus. */
  backFocus: number;
  /** From the first vertex to the last. */
  length: number;
  fNumber: number;
  entrancePupilDiameter: number;
  /** From the first vertex, positive behind it. */
  entrancePupilPlace: number;
}

export function lensFacts(design: LensDesign, wavelength: number = LINES.d): LensFacts {
  const walk = new ParaxialWalk(design, mediaAt(design, wavelength));
  const { surfaces } = design;
  surfaces.forEach((_, k) => {
    walk.refract(k);
    if (k < surfaces.length - 1) walk.cross(k);
  });
  const { height, slope } = walk.now;
  const focalLength = -1 / slope.a;
  const stop = walk.crossings.find(({ surface }) => surfaces[surface]!.stop)!;
  const entrancePupilDiameter = (2 * surfaces[stop.surface]!.semiAperture) / Math.abs(stop.a);
  return {
    focalLength,
    backFocus: -height.a / slope.a,
    length: surfaces.slice(0, -1).reduce((sum, { thickness }) => sum + thickness, 0),
    fNumber: focalLength / entrancePupilDiameter,
    entrancePupilDiameter,
    // Where rays through the stop's middle seem to cross the axis.
    entrancePupilPlace: stop.b / stop.a,
  };
}

/** Surfaces that reflect: those between two media. */
export function reflectingSurfaces({ surfaces }: LensDesign): number[] {
  return surfaces.flatMap(({ nd, vd }, k) => {
    const before = k === 0 ? { nd: 1, vd: null } : surfaces[k - 1]!;
    return nd === before.nd && vd === before.vd ? [] : [k];
  });
}

/** Every pair of surfaces that sends light back and forth once: n (n - 1) / 2 of n. */
export function ghostPairs(design: LensDesign): GhostPair[] {
  const reflecting = reflectingSurfaces(design);
  return reflecting.flatMap((first, at) => reflecting.slice(at + 1).map((second) => ({ first, second })));
}
