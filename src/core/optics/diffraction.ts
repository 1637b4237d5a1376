import { allocateShared, type Shared } from '../kernels/runtime/shared';
import { BLOCK, newGrid } from '../kernels/convolution/fft-grid-jobs';
import {
  rangeTasks,
  subProgress,
  type JobInputs,
  type JobName,
  type RunOptions,
  type Task,
  type TaskRunner,
} from '../kernels/runtime/parallel';
import type { SharedPower, WhiteRows } from './diffraction-jobs';
import { ANGLES, slopes, STEP, type LogPolarPsf } from './log-polar-psf';
import { spectralSamples } from './spectral-weights';

/** Threads to share the work out over, and who hears of it. */
export type ParallelOptions = RunOptions & { parallel: TaskRunner };

/** The nearest distance that is kept, in wavelengths times f-number. */
const NEAREST = 0.25;
/** Share of the largest distance in the transform that is of use: farther out it is that of pixels, not of the pupil. */
const USEFUL = 0.9;

/** Samples of the transform to a wavelength times f-number: near the middle, where the image is fine, and far out. */
const [NEAR_SAMPLES, FAR_SAMPLES] = [8, 2];
/** The middle is transformed from a smaller mask, of which it is a share of the distances that are far enough in. */
const REDUCED = 8;
const MIDDLE = 1 / 64;

/** Calls of a step: enough that threads even out. */
const CALLS = 16;

/** Tasks of one job over bands of rows; a band begins with an even row. */
const banded = <Name extends JobName>(
  job: Name,
  count: number,
  input: Omit<JobInputs[Name], 'from' | 'to'>,
): Task<Name>[] => rangeTasks(job, input, count, 2 * Math.ceil(count / CALLS / 2));

/**
 * Diffraction by a mask of `size * size`, whose pupil is as wide as itself, for one wavelength. Its integral is 1.
 * `size` is a multiple of 8.
 */
export async function diffraction(
  mask: Float32Array,
  size: number,
  { parallel, ...options }: ParallelOptions,
): Promise<LogPolarPsf> {
  const squared = mask.reduce((sum, value) => sum + value * value, 0) / size ** 2;
  const far = await powerSpectrum(mask, size, FAR_SAMPLES, squared, {
    parallel,
    ...subProgress(options, 0, 0.4),
  });
  const middle = await powerSpectrum(reduceMask(mask, size, REDUCED), size / REDUCED, NEAR_SAMPLES, squared, {
    parallel,
    ...subProgress(options, 0.4, 0.5),
  });
  const rows = Math.floor(Math.log((USEFUL * size) / 2 / NEAREST) / STEP);
  const density = allocateShared(rows * ANGLES * 4);
  await parallel.run(
    banded('polarRows', rows, {
      middle,
      far,
      density,
      middleTo: MIDDLE * size,
      nearest: NEAREST,
    }),
    subProgress(options, 0.5, 1),
  );
  return { density: new Float32Array(density), first: Math.log(NEAREST), rows };
}

/** A mask at a smaller size, by the mean of squares. */
function reduceMask(mask: Float32Array, size: number, times: number): Float32Array {
  const small = size / times;
  const out = new Float32Array(small * small);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      out[Math.floor(y / times) * small + Math.floor(x / times)]! += mask[y * size + x]! / times ** 2;
  return out;
}

/**
 * The power spectrum on so many times the mask's size, without what the mask's square pixels do to it. `squared` is the
 * mean square of the mask, by which all of it together is 1 (Parseval).
 */
async function powerSpectrum(
  mask: Float32Array,
  size: number,
  samples: number,
  squared: number,
  { parallel, ...options }: ParallelOptions,
): Promise<SharedPower> {
  const length = samples * size;
  const grid = newGrid(length, length);
  const plane = allocateShared(mask.byteLength);
  new Float32Array(plane).set(mask);
  const columns = length / 2 + 1;
  await parallel.run(banded('transformRows', size, { grid, width: size, plane }), options);
  const blocks = Math.ceil(grid.columns / BLOCK);
  await parallel.run(banded('convolveColumns', blocks, { grid, height: size, spectrum: undefined }), options);
  const spectrum = { length, columns, samples, power: allocateShared(columns * length * 4) };
  const scale = squared > 0 ? samples ** 2 / (squared * size * size * length * length) : 0;
  await parallel.run(banded('powerRows', length, { grid, spectrum, scale }), options);
  return spectrum;
}

/** Wavelength in nanometres that distances of a white image go by. */
export const REFERENCE = 550;

/** The image of a white point: one pattern for each channel, summed over the wavelengths of daylight. */
export async function polychromaticPsf(
  image: LogPolarPsf,
  { parallel, ...options }: ParallelOptions,
): Promise<LogPolarPsf[]> {
  const samples = spectralSamples(STEP);
  const more = samples.length - 1;
  const source = extrapolateFarField(image, more);
  const rows = image.rows + more;
  const out = [0, 1, 2].map(() => allocateShared(rows * ANGLES * 4));
  const weights = samples.map(({ wavelength, weight }) =>
    weight.map((value) => value * (REFERENCE / wavelength) ** 2),
  ) as unknown as WhiteRows['weights'];
  await parallel.run(
    banded('whiteRows', rows, { source, weights, out: out as unknown as WhiteRows['out'] }),
    options,
  );
  const shift = Math.round(Math.log(samples[0]!.wavelength / REFERENCE) / STEP);
  return out.map((density) => ({
    density: new Float32Array(density),
    first: image.first + shift * STEP,
    rows,
  }));
}

/** An image's rows and some more, in which each angle falls off as it did before. */
function extrapolateFarField({ density, rows, ...image }: LogPolarPsf, more: number): Shared {
  const shared = allocateShared((rows + more) * ANGLES * 4);
  const out = new Float32Array(shared);
  out.set(density);
  const factors = slopes({ density, rows, ...image }).map((slope) => Math.exp(slope * STEP));
  for (let i = rows * ANGLES; i < out.length; i++) out[i] = out[i - ANGLES]! * factors[i % ANGLES]!;
  return shared;
}

/** Blurs an image along the angle, by the width in radians of an even blur, thrice. */
export function angularBlur(image: LogPolarPsf, width: number): LogPolarPsf {
  const reach = Math.min(ANGLES / 2 - 1, Math.round(((width / 2) * ANGLES) / Math.PI));
  if (reach < 1) return image;
  let from = image.density;
  for (let pass = 0; pass < 3; pass++) {
    const to = new Float32Array(from.length);
    for (let row = 0; row < image.rows; row++) {
      const at = row * ANGLES;
      let sum = 0;
      for (let k = -reach; k <= reach; k++) sum += from[at + ((k + ANGLES) % ANGLES)]!;
      for (let angle = 0; angle < ANGLES; angle++) {
        to[at + angle] = sum / (2 * reach + 1);
        sum += from[at + ((angle + reach + 1) % ANGLES)]! - from[at + ((angle - reach + ANGLES) % ANGLES)]!;
      }
    }
    from = to;
  }
  return { ...image, density: from };
}
