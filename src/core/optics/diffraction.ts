import {
  BLOCK,
  convolveColumns,
  newGrid,
  placeInGrid,
  transformRows,
} from '../kernels/convolution-reference-jobs';
import type { Triple } from '../color/primaries';
import { spectralSamples } from './spectral-weights';

/**
 * The image of a point through a pupil: Fraunhofer diffraction, `|FFT(P)|^2`, which for each wavelength is the same
 * pattern in units of wavelength times f-number. It is kept by the logarithm of the distance and the angle: there a
 * longer wavelength is a step outwards, softness a blur along one axis, and the far field a straight line.
 * [Goodman 1968, Introduction to Fourier Optics; Ritschel et al. 2009 for its use on pictures]
 */
export interface PointImage {
  /** Rows of {@link ANGLES} values over half a turn, from the nearest distance on; the other half is the same. */
  density: Float32Array;
  /** Logarithm of the first row's distance. */
  first: number;
  rows: number;
}

/** A step of the logarithm of distance. */
export const STEP = 0.02;
/** Angles over half a turn. */
export const ANGLES = 1024;
/** The nearest distance that is kept, in wavelengths times f-number. */
const NEAREST = 0.25;
/** Share of the largest distance in the transform that is of use: farther out it is that of pixels, not of the pupil. */
const USEFUL = 0.9;
/** Samples of the transform between the points that a cell is the mean of. */
const SPACING = 0.8;

/** Samples of the transform to a wavelength times f-number: near the middle, where the image is fine, and far out. */
const [NEAR_SAMPLES, FAR_SAMPLES] = [8, 2];
/** The middle is transformed from a smaller mask, of which it is a share of the distances that are far enough in. */
const REDUCED = 8;
const MIDDLE = 1 / 64;

/**
 * Diffraction by a mask of `size * size`, whose pupil is as wide as itself, for one wavelength. Its integral is 1.
 * `size` is a multiple of 8.
 */
export function diffraction(mask: Float32Array, size: number): PointImage {
  const squared = mask.reduce((sum, value) => sum + value * value, 0) / size ** 2;
  const far = powerSpectrum(mask, size, FAR_SAMPLES, squared);
  const middle = powerSpectrum(reduced(mask, size, REDUCED), size / REDUCED, NEAR_SAMPLES, squared);
  const rows = Math.floor(Math.log((USEFUL * size) / 2 / NEAREST) / STEP);
  const density = new Float32Array(rows * ANGLES);
  for (let row = 0; row < rows; row++) {
    const units = NEAREST * Math.exp(row * STEP);
    const power = units < MIDDLE * size ? middle : far;
    const distance = units * power.samples;
    const along = Math.max(1, Math.ceil((distance * STEP) / SPACING));
    const across = Math.max(1, Math.ceil((distance * Math.PI) / ANGLES / SPACING));
    const share = 1 / (along * across);
    for (let angle = 0; angle < ANGLES; angle++) {
      let sum = 0;
      for (let b = 0; b < across; b++) {
        const direction = (Math.PI * (angle + (b + 0.5) / across)) / ANGLES - Math.PI / 2;
        const [c, s] = [Math.cos(direction), Math.sin(direction)];
        for (let a = 0; a < along; a++) {
          const r = distance * (1 + ((a + 0.5) / along - 0.5) * STEP);
          sum += power.at(r * c, r * s);
        }
      }
      density[row * ANGLES + angle] = sum * share;
    }
  }
  return { density, first: Math.log(NEAREST), rows };
}

/** A mask at a smaller size, by the mean of squares. */
function reduced(mask: Float32Array, size: number, times: number): Float32Array {
  const small = size / times;
  const out = new Float32Array(small * small);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      out[Math.floor(y / times) * small + Math.floor(x / times)]! += mask[y * size + x]! / times ** 2;
  return out;
}

interface PowerSpectrum {
  /** To a wavelength times f-number. */
  samples: number;
  /** Light per square wavelength times f-number at a place in samples, x at least 0. */
  at(x: number, y: number): number;
}

/**
 * The power spectrum on so many times the mask's size, without what the mask's square pixels do to it. `squared` is the
 * mean square of the mask, by which all of it together is 1 (Parseval).
 */
function powerSpectrum(mask: Float32Array, size: number, samples: number, squared: number): PowerSpectrum {
  const length = samples * size;
  const grid = newGrid(length, length);
  const plane = new SharedArrayBuffer(mask.byteLength);
  new Float32Array(plane).set(mask);
  transformRows({ grid, from: 0, to: size, width: size, plane });
  const blocks = Math.ceil(grid.columns / BLOCK);
  convolveColumns({ grid, from: 0, to: blocks, height: size, spectrum: undefined });
  const [re, im] = [new Float64Array(grid.re), new Float64Array(grid.im)];
  const columns = length / 2 + 1;
  const scale = squared > 0 ? samples ** 2 / (squared * size * size * length * length) : 0;
  const pixel = Float64Array.from({ length: columns }, (_, k) => {
    const x = (Math.PI * k) / length;
    return k === 0 ? 1 : (x / Math.sin(x)) ** 2;
  });
  const power = new Float32Array(columns * length);
  for (let y = 0; y < length; y++) {
    const ky = Math.min(y, length - y);
    for (let k = 0; k < columns; k++) {
      const at = placeInGrid(length, y, k);
      power[y * columns + k] = scale * (re[at]! ** 2 + im[at]! ** 2) * pixel[k]! * pixel[ky]!;
    }
  }
  const value = (k: number, y: number): number => power[((y + length) % length) * columns + k]!;
  return {
    samples,
    at(x, y) {
      const [k, row] = [Math.min(columns - 2, Math.floor(x)), Math.floor(y)];
      const [u, v] = [x - k, y - row];
      const upper = value(k, row) + u * (value(k + 1, row) - value(k, row));
      const lower = value(k, row + 1) + u * (value(k + 1, row + 1) - value(k, row + 1));
      return upper + v * (lower - upper);
    },
  };
}

/** Wavelength in nanometres that distances of a white image go by. */
export const REFERENCE = 550;

/** The image of a white point: one pattern for each channel, summed over the wavelengths of daylight. */
export function whiteImage(image: PointImage): PointImage[] {
  const samples = spectralSamples(STEP);
  const more = samples.length - 1;
  const source = drawnOut(image, more);
  const rows = image.rows + more;
  const channels = [0, 1, 2].map(() => new Float32Array(rows * ANGLES));
  const [red, green, blue] = [0, 1, 2].map(() => new Float64Array(ANGLES)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const weights = samples.map(({ wavelength, weight }) =>
    weight.map((value) => value * (REFERENCE / wavelength) ** 2),
  );
  for (let row = 0; row < rows; row++) {
    for (const sum of [red, green, blue]) sum.fill(0);
    for (let k = 0; k < samples.length; k++) {
      const [r, g, b] = weights[k] as Triple;
      // Nearer than the first row it is even.
      const from = Math.max(0, row - k) * ANGLES;
      for (let i = 0; i < ANGLES; i++) {
        const value = source[from + i]!;
        red[i]! += r * value;
        green[i]! += g * value;
        blue[i]! += b * value;
      }
    }
    [red, green, blue].forEach((sum, c) => {
      for (let i = 0; i < ANGLES; i++) channels[c]![row * ANGLES + i] = Math.max(0, sum[i]!);
    });
  }
  const shift = Math.round(Math.log(samples[0]!.wavelength / REFERENCE) / STEP);
  return channels.map((density) => ({ density, first: image.first + shift * STEP, rows }));
}

/** An image's rows and some more, in which each angle falls off as it did before. */
function drawnOut({ density, rows, ...image }: PointImage, more: number): Float32Array {
  const out = new Float32Array((rows + more) * ANGLES);
  out.set(density);
  const factors = slopes({ density, rows, ...image }).map((slope) => Math.exp(slope * STEP));
  for (let i = rows * ANGLES; i < out.length; i++) out[i] = out[i - ANGLES]! * factors[i % ANGLES]!;
  return out;
}

/** Rows over which the fall-off of the far field is taken. */
const FALL_ROWS = 40;

/** The exponent of the fall-off at the far end, for each angle: between that along a spike and that in a gap. */
export function slopes({ density, rows }: PointImage): Float32Array {
  const mean = (from: number, angle: number): number => {
    let sum = 0;
    for (let row = from; row < from + FALL_ROWS; row++) sum += density[row * ANGLES + angle]!;
    return sum;
  };
  return Float32Array.from({ length: ANGLES }, (_, angle) => {
    const [near, far] = [mean(rows - 2 * FALL_ROWS, angle), mean(rows - FALL_ROWS, angle)];
    if (!(near > 0 && far > 0)) return -3;
    return Math.min(-2, Math.max(-4, Math.log(far / near) / (FALL_ROWS * STEP)));
  });
}

/** Blurs an image along the angle, by the width in radians of an even blur, thrice. */
export function softened(image: PointImage, width: number): PointImage {
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
