import { type Shared } from '../kernels/runtime/shared';
import { placeInGrid, type Grid } from '../kernels/convolution/fft-grid-jobs';
import { ANGLES, STEP } from './log-polar-psf';

/** Samples of the transform between the points that a cell is the mean of. */
const SPACING = 0.8;

/** A power spectrum as threads share it: of each row its columns, those of the negative frequencies left out. */
export interface SharedPower {
  /** Rows and length of the transform. */
  length: number;
  columns: number;
  /** To a wavelength times f-number. */
  samples: number;
  power: Shared;
}

export interface PowerRows {
  grid: Grid;
  spectrum: SharedPower;
  from: number;
  to: number;
  /** Brings the whole of it to 1. */
  scale: number;
}

/** Squares some rows of a transform, without what the square pixels of the mask do to it. */
export function powerRows({ grid, spectrum, from, to, scale }: PowerRows): void {
  const { length, columns } = spectrum;
  const [re, im] = [new Float64Array(grid.re), new Float64Array(grid.im)];
  const power = new Float32Array(spectrum.power);
  const pixel = Float64Array.from({ length: columns }, (_, k) => {
    const x = (Math.PI * k) / length;
    return k === 0 ? 1 : (x / Math.sin(x)) ** 2;
  });
  for (let y = from; y < to; y++) {
    const gain = scale * pixel[Math.min(y, length - y)]!;
    for (let k = 0; k < columns; k++) {
      const at = placeInGrid(length, y, k);
      power[y * columns + k] = gain * (re[at]! * re[at]! + im[at]! * im[at]!) * pixel[k]!;
    }
  }
}

export interface PolarRows {
  /** Of the middle, where the image is fine, and far out; the middle is read up to so many wavelengths times f-number. */
  middle: SharedPower;
  far: SharedPower;
  middleTo: number;
  nearest: number;
  from: number;
  to: number;
  density: Shared;
}

/** Reads some rows of a point image, by distance and angle, out of power spectra. */
export function polarRows(task: PolarRows): void {
  const density = new Float32Array(task.density);
  const [middle, far] = [bilinearPowerSampler(task.middle), bilinearPowerSampler(task.far)];
  for (let row = task.from; row < task.to; row++) {
    const units = task.nearest * Math.exp(row * STEP);
    const power = units < task.middleTo ? middle : far;
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
}

/** Light per square wavelength times f-number at a place in samples, x at least 0. */
function bilinearPowerSampler({ length, columns, samples, power: shared }: SharedPower): {
  samples: number;
  at(x: number, y: number): number;
} {
  const power = new Float32Array(shared);
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

export interface WhiteRows {
  source: Shared;
  /** Of each wavelength, from the shortest on, what it brings to each channel. */
  weights: (readonly [red: number, green: number, blue: number])[];
  from: number;
  to: number;
  out: readonly [Shared, Shared, Shared];
}

/** Sums some rows of a white image: every wavelength is the same pattern, a row farther out than the one before it. */
export function whiteRows({ source: shared, weights, from, to, out }: WhiteRows): void {
  const source = new Float32Array(shared);
  const channels = out.map((buffer) => new Float32Array(buffer));
  const sums = channels.map(() => new Float64Array(ANGLES));
  const [red, green, blue] = sums as [Float64Array, Float64Array, Float64Array];
  for (let row = from; row < to; row++) {
    for (const sum of sums) sum.fill(0);
    for (let k = 0; k < weights.length; k++) {
      const [r, g, b] = weights[k]!;
      // Nearer than the first row it is even.
      const at = Math.max(0, row - k) * ANGLES;
      for (let i = 0; i < ANGLES; i++) {
        const value = source[at + i]!;
        red[i]! += r * value;
        green[i]! += g * value;
        blue[i]! += b * value;
      }
    }
    channels.forEach((channel, c) => {
      for (let i = 0; i < ANGLES; i++) channel[row * ANGLES + i] = Math.max(0, sums[c]![i]!);
    });
  }
}

declare module '../kernels/runtime/parallel' {
  interface JobInputs {
    powerRows: PowerRows;
    polarRows: PolarRows;
    whiteRows: WhiteRows;
  }
}
