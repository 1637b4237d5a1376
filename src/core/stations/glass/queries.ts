import type { StationQuery } from '../../light/query';
import { normalIndex } from '../../optics/glass';
import { colourBetweenLines, glassColour } from './colour';
import { lensFallOff } from './vignette';

/** Steps of the curves over wavelength and over the field. */
const STEPS = 48;
const [FIRST, LAST] = [400, 700];

/** What a look's glass does, as curves, on a plate's frame. */
export interface GlassCurves {
  /** Nanometres. */
  wavelengths: number[];
  index: number[];
  /** Place of each wavelength's focus behind that of the d line, and its image's distance from it in the corner. */
  focus: number[];
  lateral: number[];
  /** Distances from the axis in half diagonals, and the share of the light that the lens leaves there. */
  radii: number[];
  fallOff: number[];
  /** Between the F and the C line: shares of the height and of the focal length, and pixels in the corner. */
  between: { lateral: number; axial: number; pixels: number };
}

/** `focus` is in micrometres, `lateral` in pixels of the full-size picture. */
const glassCurves: StationQuery<object, GlassCurves> = async (look, _input, context) => {
  const { frame } = context.plate();
  const colour = await glassColour(look, frame, context.cache);
  const { index: nd, abbe: vd } = look.glass;
  const wavelengths = Array.from({ length: STEPS + 1 }, (_, k) => FIRST + ((LAST - FIRST) * k) / STEPS);
  const radii = Array.from({ length: STEPS + 1 }, (_, k) => k / STEPS);
  const half = Math.hypot(frame.width, frame.height) / 2;
  const fallOff = lensFallOff(look, frame, colour);
  const amounts = colourBetweenLines(colour, frame);
  return {
    wavelengths,
    index: wavelengths.map((nm) => normalIndex({ nd, vd }, nm)),
    focus: wavelengths.map((nm) => colour.axial(nm) * look.camera.focalLength * 1000),
    lateral: wavelengths.map((nm) => colour.lateral(nm, 1) * half),
    radii,
    fallOff: radii.map(fallOff),
    between: { ...amounts, pixels: amounts.lateral * frame.height },
  };
};

export const glassQueries = { glassCurves };
