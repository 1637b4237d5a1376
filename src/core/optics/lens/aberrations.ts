import { LINES } from '../glass';
import type { LensDesign } from './design';
import { lensFacts } from './paraxial';
import { fieldRay, traceRay } from './trace';

/** Steps over the field, from the axis to the corner. */
const FIELD_STEPS = 16;
/** Wavelengths that rays are traced at, nm. */
const TRACED = [415, 450, LINES.F, 520, 550, LINES.d, 620, LINES.C, 685] as const;
/** Columns of the pupil, and halvings by which the ends of each are found. */
const [COLUMNS, HALVINGS] = [16, 12];

/** What a lens does to colour and brightness over its field. */
export interface LensAberrations {
  /** Tangents of the field angles of the steps, from 0 on. */
  tangents: readonly number[];
  wavelengths: readonly number[];
  /** Height of a wavelength's image over that of the d line's less 1: of each wavelength, by field step. */
  lateral: readonly (readonly number[])[];
  /** How far the focus of each wavelength lies behind the d line's, as a share of the focal length. */
  axial: readonly number[];
  /** Light through the pupil over that on the axis, by field step; without the cosines of the field angle. */
  passed: readonly number[];
  /** Field step up to which rays come through at all. */
  lastStep: number;
}

/**
 * Lateral colour by real chief rays, axial colour by rays near the axis, and the share of the pupil that edges leave at a
 * field angle by real rays, up to a tangent. `design` is stopped as it is used.
 */
export function lensAberrations(design: LensDesign, mostTangent: number): LensAberrations {
  const tangents = Array.from({ length: FIELD_STEPS + 1 }, (_, k) => (mostTangent * k) / FIELD_STEPS);
  const open = withoutEdges(design);
  const heights = TRACED.map((wavelength) =>
    tangents.map((tangent) => chiefHeight(open, tangent, wavelength)),
  );
  const reference = heights[TRACED.indexOf(LINES.d)]!;
  const lateral = heights.map((row) => {
    const ratios = row.map((height, k) => (k > 0 && reference[k]! > 0 ? height / reference[k]! - 1 : NaN));
    return filled(ratios);
  });
  const focus = lensFacts(design).backFocus;
  const { focalLength } = lensFacts(design);
  const axial = TRACED.map((wavelength) => (lensFacts(design, wavelength).backFocus - focus) / focalLength);
  const areas = tangents.map((tangent) => openArea(design, tangent));
  const passed = areas.map((area) => area / (areas[0]! || 1));
  const lastStep = passed.findLastIndex((share) => share > 0);
  return { tangents, wavelengths: TRACED, lateral, axial, passed, lastStep };
}

/** The design with no edges but the stop's, so that chief rays of every field come through. */
function withoutEdges(design: LensDesign): LensDesign {
  const surfaces = design.surfaces.map((surface) =>
    surface.stop ? surface : { ...surface, semiAperture: 1e6 },
  );
  return { ...design, surfaces };
}

/** Values with the gaps at the start and the end closed by their neighbours: near the axis a ratio of heights is even. */
function filled(values: readonly number[]): number[] {
  const out = [...values];
  const first = out.findIndex(Number.isFinite);
  if (first < 0) return out.map(() => 0);
  for (let k = 0; k < out.length; k++)
    if (!Number.isFinite(out[k])) out[k] = k < first ? out[first]! : out[k - 1]!;
  return out;
}

/** Height on the sensor of the ray through the middle of the stop; not a number if there is none. */
function chiefHeight(design: LensDesign, tangent: number, wavelength: number): number {
  const stop = design.surfaces.findIndex((surface) => surface.stop);
  const angle = Math.atan(tangent);
  const trace = (y: number) => traceRay(design, fieldRay(0, y, angle), { wavelength });
  const { entrancePupilPlace } = lensFacts(design);
  // Secants from the paraxial guess.
  let [y0, y1] = [-entrancePupilPlace * tangent, -entrancePupilPlace * tangent + 0.01 * design.focalLength];
  let h0 = trace(y0)?.path[stop + 1]?.y;
  let last: number | undefined;
  for (let k = 0; k < 20; k++) {
    const ray = trace(y1);
    const h1 = ray?.path[stop + 1]?.y;
    if (h0 === undefined || h1 === undefined) return last ?? NaN;
    last = ray!.y;
    if (Math.abs(h1) < 1e-10 || h1 === h0) return ray!.y;
    const next = y1 - (h1 * (y1 - y0)) / (h1 - h0);
    [y0, h0, y1] = [y1, h1, next];
  }
  return last ?? NaN;
}

/** Area on the plane of the first vertex of the rays of a far light that come through, square millimetres. */
function openArea(design: LensDesign, tangent: number): number {
  const angle = Math.atan(tangent);
  const { entrancePupilDiameter, entrancePupilPlace } = lensFacts(design);
  const middle = -entrancePupilPlace * tangent;
  const half = 0.75 * entrancePupilDiameter;
  const passes = (x: number, y: number): boolean => traceRay(design, fieldRay(x, y, angle)) !== undefined;
  let area = 0;
  for (let k = 0; k < COLUMNS; k++) {
    // Points of the midpoint rule in the angle about the pupil's middle: columns are densest at its sides.
    const turn = ((k + 0.5) / COLUMNS) * (Math.PI / 2);
    const x = half * Math.sin(turn);
    const width = half * Math.cos(turn) * (Math.PI / 2 / COLUMNS);
    area += 2 * width * columnLength(passes, x, middle, half);
  }
  return area;
}

/** Length of the part of a column that comes through: what does is one piece, since it is cut by discs. */
function columnLength(
  passes: (x: number, y: number) => boolean,
  x: number,
  middle: number,
  half: number,
): number {
  const TRIES = 24;
  const inside = Array.from(
    { length: TRIES },
    (_, k) => middle + half * ((2 * (k + 0.5)) / TRIES - 1),
  ).filter((y) => passes(x, y));
  if (inside.length === 0) return 0;
  const end = (within: number, beyond: number): number => {
    let [low, high] = [within, beyond];
    for (let k = 0; k < HALVINGS; k++) {
      const y = (low + high) / 2;
      if (passes(x, y)) low = y;
      else high = y;
    }
    return (low + high) / 2;
  };
  const step = (2 * half) / TRIES;
  return end(inside.at(-1)!, inside.at(-1)! + step) - end(inside[0]!, inside[0]! - step);
}

/** Area that two discs of radius 1 have in common, as a share of one, their middles apart by `shift` (lens formula). */
export function discOverlap(shift: number): number {
  const d = Math.min(2, Math.abs(shift));
  return (2 * Math.acos(d / 2) - (d / 2) * Math.sqrt(4 - d * d)) / Math.PI;
}

/** How far apart two discs of radius 1 are that have a share of their area in common. */
export function shiftOfOverlap(share: number): number {
  let [low, high] = [0, 2];
  for (let k = 0; k < 50; k++) {
    const middle = (low + high) / 2;
    if (discOverlap(middle) > share) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
