import type { Triple } from '../../color/primaries';
import { scaledFrame } from '../../light/plate';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { pupilDiameter } from '../../optics/camera';
import { spectralNodes } from '../../optics/spectral-weights';
import { colourReads, glassColour, hasAxial, isTraced, type GlassColour } from '../glass/colour';

/** Longest step between the radii of neighbouring wavelengths, pixels; most of them; and a spread that is not seen. */
const STEP = 0.75;
const MOST_NODES = 8;
const UNSEEN = 0.1;

/** A wavelength whose discs differ from the d line's. */
export interface AxialNode {
  /** Added to the signed radius of every disc, pixels. */
  shift: number;
  /** What it brings to each channel. */
  weight: Triple;
}

type AxialContext = Pick<StationContext, 'plate' | 'cache'>;

/** What of a look's glass its blur depends on. */
export const axialReads = (look: Look): unknown => (hasAxial(look) || isTraced(look)) && colourReads(look);

/**
 * How much each wavelength's signed radius differs from the d line's, in pixels at a scale: its focus lies behind by a share
 * of the focal length, so that every disc grows or shrinks by the pupil's diameter times that share, wherever it lies (the
 * conjugate equation with the focal length of the wavelength).
 */
function shiftReader(look: Look, scale: number, colour: GlassColour, width: number): (nm: number) => number {
  const pixels = (width * scale) / look.camera.sensorWidth;
  const perShare = (look.focus.amount * pixels * pupilDiameter(look.camera)) / 2;
  return (wavelength) => -perShare * colour.axial(wavelength);
}

/** The wavelengths that discs are drawn for: one if axial colour is not seen. */
export async function axialNodes(
  look: Look,
  scale: number,
  { plate, cache }: AxialContext,
): Promise<AxialNode[]> {
  if (!hasAxial(look)) return [{ shift: 0, weight: [1, 1, 1] }];
  const colour = await glassColour(look, scaledFrame(plate, scale), cache);
  const shift = shiftReader(look, scale, colour, plate.frame.width);
  const between = (from: number, to: number): number => Math.abs(shift(to) - shift(from));
  const whole = between(415, 587.56) + between(587.56, 685);
  if (whole < UNSEEN) return [{ shift: 0, weight: [1, 1, 1] }];
  return spectralNodes(between, Math.max(STEP, whole / MOST_NODES)).map(({ wavelength, weight }) => ({
    shift: shift(wavelength),
    weight,
  }));
}

/** The most that a disc grows by axial colour, pixels at a scale. */
export async function largestShift(look: Look, scale: number, context: AxialContext): Promise<number> {
  const nodes = await axialNodes(look, scale, context);
  return Math.max(...nodes.map(({ shift }) => Math.abs(shift)));
}

/** How far the barrel has moved at the corners: as it is set, or as the traced lens has it. */
export async function effectiveCatsEye(look: Look, { plate, cache }: AxialContext): Promise<number> {
  if (!isTraced(look)) return look.focus.catsEye;
  const { catsEye } = await glassColour(look, plate.frame, cache);
  return Math.min(1, catsEye ?? look.focus.catsEye);
}
