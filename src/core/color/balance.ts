import {
  adaptWhite,
  inverse,
  multiply,
  REC709_CHROMATICITIES,
  rgbToXyz,
  type Matrix,
} from './chromaticities';
import { blackBodyXyz, NEUTRAL_KELVIN } from './temperature';

type Point = [number, number];

/** CIE 1960 u, v of x, y, and back (MacAdam 1937). */
const toUv = ([x, y]: Point): Point => {
  const sum = -2 * x + 12 * y + 3;
  return [(4 * x) / sum, (6 * y) / sum];
};
const toXy = ([u, v]: Point): Point => {
  const sum = 2 * u - 8 * v + 4;
  return [(3 * u) / sum, (2 * v) / sum];
};

function bodyXy(kelvin: number): Point {
  const [x, y, z] = blackBodyXyz(kelvin);
  return [x / (x + y + z), y / (x + y + z)];
}

/** Distance from the locus, in u and v, that a tint of 100 stands for. */
const FULL_TINT = 0.05;

/**
 * The chromaticity of light of a colour temperature, off the locus of black bodies by a tint: over 0 it is greener (along
 * the isotherm, which is square to the locus in CIE 1960 u, v).
 */
export function whiteOf(kelvin: number, tint: number): Point {
  const at = toUv(bodyXy(kelvin));
  if (tint === 0) return bodyXy(kelvin);
  const [before, after] = [toUv(bodyXy(kelvin * 0.999)), toUv(bodyXy(kelvin * 1.001))];
  const [du, dv] = [after[0] - before[0], after[1] - before[1]];
  const length = Math.hypot(du, dv);
  const shift = (FULL_TINT * tint) / 100;
  // Along the locus u falls as bodies get hotter; green lies to its side, where v is larger.
  return toXy([at[0] + (shift * dv) / length, at[1] - (shift * du) / length]);
}

/**
 * White balance on linear Rec.709: light of a temperature and tint becomes white (Bradford; Lam 1985). Undefined where it
 * changes nothing. A higher temperature makes the picture warmer, a tint over 0 takes green away.
 */
export function balanceMatrix(kelvin: number, tint: number): Matrix | undefined {
  if (kelvin === NEUTRAL_KELVIN && tint === 0) return undefined;
  const toXyz = rgbToXyz(REC709_CHROMATICITIES);
  const adapted = adaptWhite(whiteOf(kelvin, tint), bodyXy(NEUTRAL_KELVIN));
  return multiply(inverse(toXyz), multiply(adapted, toXyz));
}
