import { LUMINANCE, xyzToRgb, type Triple } from '../color/primaries';
import { CIE1931 } from '../color/data/cie1931';
import { D65 } from '../color/data/d65';

/** What daylight of one wavelength brings to each channel; over all wavelengths every channel has a sum of 1. */
export interface SpectralSample {
  /** Nanometres. */
  wavelength: number;
  weight: Triple;
}

const [FIRST, LAST] = [390, 720];

function between(values: readonly number[], wavelength: number): number {
  const at = (wavelength - CIE1931.first) / CIE1931.step;
  const below = Math.floor(at);
  return values[below]! + (at - below) * (values[below + 1]! - values[below]!);
}

/**
 * The visible range in steps of one ratio, so that a pattern that grows with the wavelength moves by equal steps of its
 * logarithm. Single wavelengths lie outside the colours of Rec.709: weights may be negative, and are to be kept until all
 * are summed. [CIE 15:2004]
 */
export function spectralSamples(step: number): SpectralSample[] {
  const samples: SpectralSample[] = [];
  for (let k = 0; ; k++) {
    const wavelength = FIRST * Math.exp(k * step);
    if (wavelength > LAST) break;
    // A step of the logarithm is as wide as the wavelength is long.
    const power = between(D65.power, wavelength) * wavelength;
    const [x, y, z] = [CIE1931.x, CIE1931.y, CIE1931.z].map((bar) => between(bar, wavelength) * power);
    samples.push({ wavelength, weight: xyzToRgb(x!, y!, z!) });
  }
  const sums = LUMINANCE.map((_, c) => samples.reduce((sum, { weight }) => sum + weight[c]!, 0));
  for (const { weight } of samples) for (let c = 0; c < 3; c++) weight[c]! /= sums[c]!;
  return samples;
}

/** Range over which all but a thousandth of what is seen lies, nm. */
const [SEEN_FIRST, SEEN_LAST] = [415, 685];
const FINE_STEP = 0.005;

/** So many wavelengths, each standing for all about it; what lies beyond the first and the last counts with them. */
export function spectralBins(count: number): SpectralSample[] {
  const width = Math.log(SEEN_LAST / SEEN_FIRST) / count;
  const bins = Array.from({ length: count }, (_, k) => ({
    wavelength: SEEN_FIRST * Math.exp((k + 0.5) * width),
    weight: [0, 0, 0] as Triple,
  }));
  for (const { wavelength, weight } of spectralSamples(FINE_STEP)) {
    const place = Math.floor(Math.log(wavelength / SEEN_FIRST) / width);
    const bin = bins[Math.min(count - 1, Math.max(0, place))]!;
    for (let c = 0; c < 3; c++) bin.weight[c]! += weight[c]!;
  }
  return bins;
}
