import type { ContentCache } from '../../light/cache';
import type { Rectangle } from '../../image/rectangle';
import type { Look } from '../../look/look';
import { LINES, relativeDispersion } from '../../optics/glass';
import { lensAberrations, shiftOfOverlap, type LensAberrations } from '../../optics/lens/aberrations';
import { lensKey, mountedDesign } from '../ghosts/lens';

/** How a look's glass parts colours, and how much light it lets through, whatever drives it. */
export interface GlassColour {
  /** Height of a wavelength's image over that of the d line's less 1, at a distance from the axis in half diagonals. */
  lateral: (wavelength: number, radius: number) => number;
  /** How far the focus of a wavelength lies behind that of the d line, as a share of the focal length. */
  axial: (wavelength: number) => number;
  /** Share of the pupil's light that the traced lens lets through at a distance from the axis; undefined if none is traced. */
  passed: ((radius: number) => number) | undefined;
  /** How far the traced lens's barrel has moved at the corner, in radii of the pupil; undefined if none is traced. */
  catsEye: number | undefined;
}

type Frame = Pick<Rectangle, 'width' | 'height'>;

/** Whether a traced lens drives a look's glass. */
export const isTraced = ({ glass }: Look): boolean => glass.on && glass.fromLens;

/** What of a look its glass's colour depends on. */
export function colourReads(look: Look): unknown {
  const { on, fromLens, drive, abbe, index, residue, lateral, axial, bend } = look.glass;
  if (!on) return false;
  if (fromLens) return [bend, lensKey(look), look.camera.sensorWidth];
  return drive === 'glass' ? [abbe, index, residue] : [abbe, lateral, axial];
}

/** Whether there is axial colour. */
export function hasAxial(look: Look): boolean {
  const { on, fromLens, drive, residue, axial, bend } = look.glass;
  if (!on) return false;
  if (fromLens) return bend.axial > 0;
  return drive === 'glass' ? residue > 0 : axial !== 0;
}

/** Whether there is lateral colour. */
export function hasLateral(look: Look): boolean {
  const { on, fromLens, drive, residue, lateral, bend } = look.glass;
  if (!on) return false;
  if (fromLens) return bend.lateral > 0;
  return drive === 'glass' ? residue > 0 : lateral !== 0;
}

/** Half the diagonal of a frame over its height. */
const cornerHeights = ({ width, height }: Frame): number => Math.hypot(width, height) / 2 / height;

/** The amounts between the F and the C line that a look's numbers or its glass give. */
export function colourAmounts({ glass }: Look, frame: Frame): { lateral: number; axial: number } {
  const { drive, abbe, residue, lateral, axial } = glass;
  if (drive === 'typed') return { lateral, axial };
  // Of a thin lens the focal lengths, and with them the images, differ by 1 / V.
  return { axial: residue / abbe, lateral: (residue / abbe) * cornerHeights(frame) };
}

/** The aberrations of the lens that a look has at Ghosts, up to a frame's corner, at its camera. */
export function tracedAberrations(look: Look, frame: Frame, cache: ContentCache): Promise<LensAberrations> {
  const tangent = cornerTangent(look, frame);
  return cache.getOrCompute(
    `aberrations ${tangent.toPrecision(6)} ${lensKey(look)}`,
    () => lensAberrations(mountedDesign(look), tangent),
    () => 10_000,
  );
}

/** Tangent of the field angle of a frame's corner. */
function cornerTangent({ camera }: Look, { width, height }: Frame): number {
  return ((camera.sensorWidth / width) * Math.hypot(width, height)) / 2 / camera.focalLength;
}

/** The colour of a look's glass on a frame, in any pixels. */
export async function glassColour(look: Look, frame: Frame, cache: ContentCache): Promise<GlassColour> {
  const { glass } = look;
  if (!glass.fromLens) {
    const { lateral, axial } = colourAmounts(look, frame);
    const share = lateral / cornerHeights(frame);
    const shape = (wavelength: number): number => relativeDispersion(glass.abbe, wavelength);
    return {
      lateral: (wavelength) => -share * shape(wavelength),
      axial: (wavelength) => -axial * shape(wavelength),
      passed: undefined,
      catsEye: undefined,
    };
  }
  const traced = await tracedAberrations(look, frame, cache);
  const { bend } = glass;
  const steps = traced.tangents.length - 1;
  const overField = (values: readonly number[], radius: number): number =>
    mix(values, Math.min(1, radius) * steps);
  return {
    lateral: (wavelength, radius) =>
      bend.lateral *
      mixAt(
        traced.wavelengths,
        wavelength,
        traced.lateral.map((row) => overField(row, radius)),
      ),
    axial: (wavelength) => bend.axial * mixAt(traced.wavelengths, wavelength, traced.axial),
    passed: (radius) => {
      const share = 1 + bend.vignette * (overField(traced.passed, radius) - 1);
      return Math.max(0, share);
    },
    catsEye: bend.catsEye * shiftOfOverlap(Math.min(1, traced.passed.at(-1)!)),
  };
}

/** A value between those of whole places. */
function mix(values: readonly number[], place: number): number {
  const below = Math.min(values.length - 2, Math.floor(place));
  return values[below]! + (place - below) * (values[below + 1]! - values[below]!);
}

/** A value between those of rising points. */
function mixAt(points: readonly number[], x: number, values: readonly number[]): number {
  const above = points.findIndex((point) => point >= x);
  if (above <= 0) return values[above < 0 ? values.length - 1 : 0]!;
  const share = (x - points[above - 1]!) / (points[above]! - points[above - 1]!);
  return values[above - 1]! + share * (values[above]! - values[above - 1]!);
}

/** What the amounts of a glass's colour are between the F and the C line, whatever drives them. */
export function colourBetweenLines(colour: GlassColour, frame: Frame): { lateral: number; axial: number } {
  return {
    lateral: (colour.lateral(LINES.C, 1) - colour.lateral(LINES.F, 1)) * cornerHeights(frame),
    axial: colour.axial(LINES.C) - colour.axial(LINES.F),
  };
}
