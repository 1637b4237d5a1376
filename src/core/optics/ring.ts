import { DEVIATIONS_AT_HALF_HEIGHT } from './gaussian';
import { REFERENCE_WAVELENGTH } from './diffraction';
import { spectralSamples } from './spectral-weights';

/** A ring in the colours of the spectrum. Lengths in pixels. */
export interface SpectralRing {
  /** Radius at {@link REFERENCE_WAVELENGTH}; it grows with the wavelength. */
  radius: number;
  /** Of the ring of one wavelength, as a share of its radius, at half its height. */
  width: number;
}

/** Standard deviations at which a ring ends. */
const END = 5;
/** Variance of what a pixel, and the step to the next, adds to a ring. */
const PIXEL = 0.25;
/** Steps of the table to a standard deviation of the ring. */
const STEPS = 6;

/**
 * Light per square pixel of a white point's ring by distance, one profile a channel, each with an integral of 1: every
 * wavelength makes a ring of a radius proportional to itself, as a fine radial grating in the pupil does.
 * [Simpson 1953 for the halo of radial fibres]
 */
export function ringProfiles({ radius, width }: SpectralRing): {
  profiles: Float64Array[];
  /** Pixels from one value to the next; the first is at the source. */
  step: number;
} {
  const spread = (at: number): number => Math.sqrt(((width * at) / DEVIATIONS_AT_HALF_HEIGHT) ** 2 + PIXEL);
  // Rings of neighbouring wavelengths run into each other.
  const samples = spectralSamples(Math.min(0.02, width / 4));
  const largest = (radius * samples.at(-1)!.wavelength) / REFERENCE_WAVELENGTH;
  const step = spread(radius) / STEPS;
  const count = Math.ceil((largest + END * spread(largest)) / step) + 2;
  const profiles = [0, 1, 2].map(() => new Float64Array(count));
  for (const { wavelength, weight } of samples) {
    const at = (radius * wavelength) / REFERENCE_WAVELENGTH;
    const deviation = spread(at);
    const first = Math.max(0, Math.floor((at - END * deviation) / step));
    const last = Math.min(count - 1, Math.ceil((at + END * deviation) / step));
    const ring = Float64Array.from({ length: last - first + 1 }, (_, k) =>
      Math.exp(-0.5 * (((first + k) * step - at) / deviation) ** 2),
    );
    const total = integral(ring, first, step);
    profiles.forEach((profile, c) => {
      for (let k = 0; k < ring.length; k++) profile[first + k]! += (weight[c]! * ring[k]!) / total;
    });
  }
  for (const profile of profiles) {
    // Single wavelengths lie outside the screen's colours.
    for (let k = 0; k < count; k++) profile[k] = Math.max(0, profile[k]!);
    const total = integral(profile, 0, step);
    for (let k = 0; k < count; k++) profile[k]! /= total;
  }
  return { profiles, step };
}

/** Over the plane, of values by distance. */
function integral(profile: Float64Array, first: number, step: number): number {
  let sum = 0;
  for (let k = 0; k < profile.length; k++) {
    const r = first + k === 0 ? 1 / 8 : first + k;
    sum += 2 * Math.PI * r * profile[k]! * step * step;
  }
  return sum;
}
