import { LUMINANCE, xyzToRgb, type Triple } from '../color/primaries';
import { CIE1931 } from '../color/data/cie1931';
import { D65 } from '../color/data/d65';
import { LINES } from './glass';

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

/** Steps by which the length of a path over the spectrum is summed, nm. */
const PATH_STEP = 2;

/**
 * As few wavelengths as leave no step of a place longer than `most`: `lengthBetween` tells how far apart two wavelengths lie.
 * What lies between two of them goes to both by its nearness, so that every channel keeps a sum of 1 and no copies show.
 */
export function spectralNodes(
  lengthBetween: (from: number, to: number) => number,
  most: number,
): SpectralSample[] {
  const path: { wavelength: number; length: number }[] = [{ wavelength: SEEN_FIRST, length: 0 }];
  for (let nm = SEEN_FIRST; nm < SEEN_LAST; nm += PATH_STEP) {
    const next = Math.min(SEEN_LAST, nm + PATH_STEP);
    path.push({ wavelength: next, length: path.at(-1)!.length + lengthBetween(nm, next) });
  }
  const whole = path.at(-1)!.length;
  const steps = Math.ceil(whole / most);
  if (steps === 0) return [{ wavelength: LINES.d, weight: [1, 1, 1] }];
  const lengthAt = interpolate(path.map(({ wavelength, length }) => [wavelength, length]));
  const wavelengthAt = interpolate(path.map(({ wavelength, length }) => [length, wavelength]));
  const nodes = Array.from({ length: steps + 1 }, (_, k) => ({
    wavelength: wavelengthAt((k / steps) * whole),
    weight: [0, 0, 0] as Triple,
  }));
  for (const { wavelength, weight } of spectralSamples(FINE_STEP)) {
    const place = (lengthAt(wavelength) / whole) * steps;
    const below = Math.min(steps - 1, Math.floor(place));
    for (let c = 0; c < 3; c++) {
      nodes[below]!.weight[c]! += weight[c]! * (1 - (place - below));
      nodes[below + 1]!.weight[c]! += weight[c]! * (place - below);
    }
  }
  // Single wavelengths lie outside the colours of Rec.709, as they do not of a film's layers: what is below zero is left out.
  for (let c = 0; c < 3; c++) {
    const whole = nodes.reduce((sum, { weight }) => sum + Math.max(0, weight[c]!), 0);
    for (const { weight } of nodes) weight[c] = Math.max(0, weight[c]!) / whole;
  }
  return nodes;
}

/** Straight lines through points of rising x; beyond them the last value. */
function interpolate(points: readonly (readonly number[])[]): (x: number) => number {
  return (x) => {
    const above = points.findIndex(([at]) => at! >= x);
    if (above === 0) return points[0]![1]!;
    if (above < 0) return points.at(-1)![1]!;
    const [[x0, y0], [x1, y1]] = [points[above - 1]!, points[above]!] as [number[], number[]];
    return y0! + ((x - x0!) / (x1! - x0!)) * (y1! - y0!);
  };
}
