import type { DiffractionKernel, Pupil } from '../kernels/diffraction';
import type { RunOptions } from '../kernels/runtime/parallel';
import { ANGLES, slopes, STEP, type LogPolarPsf } from './log-polar-psf';
import { spectralSamples } from './spectral-weights';

/** The kernel that does the work, and who hears of it. */
export type DiffractionOptions = RunOptions & { kernel: DiffractionKernel };

/** The nearest distance that is kept, in wavelengths times f-number: there an open pupil's image has 0.99 of its height. */
const NEAREST = 1 / 16;
/** Share of the largest distance in the transform that is of use: farther out the band limit of the outline begins. */
const USEFUL = 0.9;

/** Samples of the transform to a wavelength times f-number: near the middle, where the image is fine, and far out. */
const [NEAR_SAMPLES, FAR_SAMPLES] = [8, 2];
/** Share of the distances that is read from the finer transform. */
const MIDDLE = 1 / 64;

/** Diffraction by a pupil, for one wavelength. Its integral is 1. */
export async function diffraction(
  pupil: Pupil,
  { kernel, ...options }: DiffractionOptions,
): Promise<LogPolarPsf> {
  const rows = Math.floor(Math.log((USEFUL * pupil.across) / 2 / NEAREST) / STEP);
  const grid = {
    nearest: NEAREST,
    rows,
    nearSamples: NEAR_SAMPLES,
    farSamples: FAR_SAMPLES,
    middleTo: MIDDLE * pupil.across,
  };
  const density = await kernel.diffract(pupil, grid, options);
  return { density, first: Math.log(NEAREST), rows };
}

/** Wavelength in nanometres that distances of a white image go by. */
export const REFERENCE_WAVELENGTH = 550;

/** The image of a white point: one pattern for each channel, summed over the wavelengths of daylight. */
export async function polychromaticPsf(
  image: LogPolarPsf,
  { kernel, ...options }: DiffractionOptions,
): Promise<LogPolarPsf[]> {
  const samples = spectralSamples(STEP);
  const weights = samples.map(({ wavelength, weight }) =>
    weight.map((value) => value * (REFERENCE_WAVELENGTH / wavelength) ** 2),
  );
  const extended = extrapolateFarField(image, samples.length - 1);
  const planes = await kernel.mixWavelengths(extended, weights, options);
  const shift = Math.round(Math.log(samples[0]!.wavelength / REFERENCE_WAVELENGTH) / STEP);
  return planes.map((density) => ({
    density,
    first: image.first + shift * STEP,
    rows: extended.length / ANGLES,
  }));
}

/** An image's rows and some more, in which each angle falls off as it did before. */
function extrapolateFarField({ density, rows, ...image }: LogPolarPsf, more: number): Float32Array {
  const out = new Float32Array((rows + more) * ANGLES);
  out.set(density);
  const factors = slopes({ density, rows, ...image }).map((slope) => Math.exp(slope * STEP));
  for (let i = rows * ANGLES; i < out.length; i++) out[i] = out[i - ANGLES]! * factors[i % ANGLES]!;
  return out;
}

/** Blurs an image along the angle, by the width in radians of an even blur, thrice. */
export async function angularBlur(
  image: LogPolarPsf,
  width: number,
  { kernel, ...options }: DiffractionOptions,
): Promise<LogPolarPsf> {
  const reach = Math.min(ANGLES / 2 - 1, Math.round(((width / 2) * ANGLES) / Math.PI));
  if (reach < 1) return image;
  return { ...image, density: await kernel.blurAngles(image.density, reach, options) };
}
