import { CIE1931 } from './data/cie1931';
import { LUMINANCE, xyzToRgb, type Triple } from './primaries';

/** The temperature whose tint is no tint: the correlated colour temperature of D65, rounded. */
export const NEUTRAL_KELVIN = 6500;

/** Second radiation constant hc/k in nanometre kelvin (CODATA 2018). */
const C2 = 1.438776877e7;

/** CIE XYZ of a black body, up to a factor (Planck 1901, summed over the CIE 1931 observer). */
export function blackBodyXyz(kelvin: number): Triple {
  const xyz: Triple = [0, 0, 0];
  CIE1931.y.forEach((yBar, index) => {
    const wavelength = CIE1931.first + index * CIE1931.step;
    const radiance = (wavelength / 560) ** -5 / Math.expm1(C2 / (wavelength * kelvin));
    xyz[0] += CIE1931.x[index]! * radiance;
    xyz[1] += yBar * radiance;
    xyz[2] += CIE1931.z[index]! * radiance;
  });
  return xyz;
}

/**
 * Gains on linear Rec.709 that shift white to the colour of a black body, relative to {@link NEUTRAL_KELVIN}.
 * The luminance of white stays: 0.2126 r + 0.7152 g + 0.0722 b = 1. At the neutral temperature they are exactly 1.
 */
export function tintGains(kelvin: number): Triple {
  if (kelvin === NEUTRAL_KELVIN) return [1, 1, 1];
  const neutral = xyzToRgb(...blackBodyXyz(NEUTRAL_KELVIN));
  // Warm bodies lie outside the gamut in blue; no channel may turn negative.
  const ratio = xyzToRgb(...blackBodyXyz(kelvin)).map((value, c) =>
    Math.max(0, value / neutral[c]!),
  ) as Triple;
  const luminance = ratio.reduce((sum, value, c) => sum + value * LUMINANCE[c]!, 0);
  return ratio.map((value) => value / luminance) as Triple;
}
