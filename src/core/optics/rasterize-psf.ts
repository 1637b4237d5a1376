import type { Size } from '../image/rectangle';
import { allocateShared, type Shared } from '../kernels/runtime/shared';
import type { DiffractionOptions } from './diffraction';
import { ANGLES, slopes, STEP, type LogPolarPsf } from './log-polar-psf';

/** Fall-off beyond what is computed: spikes grow thinner in angle as fast as they dim, gaps dim faster. */
const FAR_SLOPE = [-4, -3] as const;

/** A point's images, one a channel, on pixels. */
export interface RasterizedPsf {
  /** For each channel, rows from the source's own downwards, each for `dx` from `-(width - 1)` to `width - 1`. */
  rows: Float32Array[];
  /** Share of each channel's light that falls outside. */
  outside: number[];
}

/** How a point's images lie on pixels. */
export interface PsfPlacement extends Size {
  /** Pixels that a wavelength times the f-number is long. */
  unit: number;
  /** Width over height of the pupil, whose image is as much wider as it is narrower. Default 1. */
  squeeze?: number;
}

/** Lays a point's images, one a channel, on pixels; all the light of each together is 1. */
export async function rasterizePsf(
  images: readonly LogPolarPsf[],
  { width, height, unit, squeeze = 1 }: PsfPlacement,
  { kernel, ...options }: DiffractionOptions,
): Promise<RasterizedPsf> {
  const columns = 2 * width - 1;
  const plane = (): Shared => allocateShared(columns * height * 4);
  const out = [plane(), plane(), plane()] as const;
  const prepared = images.map((image) => ({ image, falls: farSlopes(image), rowLight: sumRows(image) }));
  const totals = prepared.map((one) => integrateOutside(one, () => 0));
  const { density, rows } = onPixels(prepared, totals, {
    unit,
    squeeze,
    reach: Math.hypot(width * squeeze, height),
  });
  const first = images[0]!.first + Math.log(unit);
  const sums = await kernel.rasterize({ image: density, rows, first, squeeze, width, height, out }, options);
  const edge = (cosine: number, sine: number): number =>
    Math.min(((width - 0.5) * squeeze) / Math.abs(cosine), (height - 0.5) / Math.abs(sine)) / unit;
  const ownPixel = (cosine: number, sine: number): number =>
    Math.min((0.5 * squeeze) / Math.abs(cosine), 0.5 / Math.abs(sine)) / unit;
  const outside = prepared.map((one, c) => integrateOutside(one, edge) / totals[c]!);
  const laid = out.map((buffer, c) => {
    const values = new Float32Array(buffer);
    // The source's own pixel is integrated by itself; what the quadrature of the others errs by is shared by all.
    const middle = 1 - integrateOutside(prepared[c]!, ownPixel) / totals[c]!;
    const scale = (1 - outside[c]!) / (sums[c]! + middle);
    for (let i = 0; i < values.length; i++) values[i]! *= scale;
    values[width - 1] = middle * scale;
    return values;
  });
  return { rows: laid, outside };
}

/** An image with how it goes on beyond its rows, and the sum of each row. */
interface PreparedImage {
  image: LogPolarPsf;
  falls: Float32Array;
  rowLight: Float64Array;
}

function sumRows({ density, rows }: LogPolarPsf): Float64Array {
  const sums = new Float64Array(rows);
  for (let row = 0, i = 0; row < rows; row++) {
    let sum = 0;
    for (const end = i + ANGLES; i < end; i++) sum += density[i]!;
    sums[row] = sum;
  }
  return sums;
}

/**
 * Images as the kernel takes them: densities per square pixel, channels side by side, each with an integral of 1. They go
 * on to `reach` pixels, each angle falling off as it did before.
 */
function onPixels(
  prepared: readonly PreparedImage[],
  totals: readonly number[],
  { unit, squeeze, reach }: { unit: number; squeeze: number; reach: number },
): { density: Float32Array; rows: number } {
  const { rows: known, first } = prepared[0]!.image;
  const rows = Math.max(known, Math.ceil((Math.log(reach / unit) - first) / STEP) + 2);
  const density = new Float32Array(4 * rows * ANGLES);
  const [r, g, b] = prepared.map(({ image }) => image.density) as [Float32Array, Float32Array, Float32Array];
  const [red, green, blue] = totals.map((total) => squeeze / (total * unit * unit)) as [
    number,
    number,
    number,
  ];
  for (let i = 0, at = 0; i < known * ANGLES; i++, at += 4) {
    density[at] = r[i]! * red;
    density[at + 1] = g[i]! * green;
    density[at + 2] = b[i]! * blue;
  }
  const factors = new Float32Array(4 * ANGLES);
  prepared.forEach(({ falls }, c) => {
    for (let angle = 0; angle < ANGLES; angle++) factors[4 * angle + c] = Math.exp(falls[angle]! * STEP);
  });
  const row = 4 * ANGLES;
  for (let at = known * row; at < rows * row; at++) density[at] = density[at - row]! * factors[at % row]!;
  return { density, rows };
}

/** The integral over all that lies farther out than a distance, for each direction, in wavelengths times f-number. */
function integrateOutside(
  { image: { density, rows, first }, falls, rowLight }: PreparedImage,
  distance: (cosine: number, sine: number) => number,
): number {
  const turn = Math.PI / ANGLES;
  const from = Float64Array.from({ length: ANGLES }, (_, angle) => {
    const direction = (angle + 0.5) * turn - Math.PI / 2;
    return distance(Math.cos(direction), Math.sin(direction));
  });
  /** Where each direction begins, in rows; the first of them, and the last. */
  const start = from.map((at) => (at > 0 ? (Math.log(at) - first) / STEP : -Infinity));
  const [earliest, latest] = [Math.min(...start), Math.max(...start)];
  let sum = 0;
  // Nearer than the first row it is even.
  const inner = Math.exp(2 * (first - STEP / 2));
  for (let angle = 0; angle < ANGLES; angle++)
    if (start[angle]! < -0.5) sum += density[angle]! * (inner - from[angle]! ** 2) * (turn / 2);
  for (let row = Math.max(0, Math.floor(earliest - 0.5)); row < rows; row++) {
    let light = rowLight[row]!;
    if (row - 0.5 < latest) {
      light = 0;
      for (let angle = 0; angle < ANGLES; angle++) {
        const covered = row + 0.5 - start[angle]!;
        if (covered > 0) light += density[row * ANGLES + angle]! * (covered < 1 ? covered : 1);
      }
    }
    sum += light * Math.exp(2 * (first + row * STEP)) * STEP * turn;
  }
  const last = (rows - 1) * ANGLES;
  for (let angle = 0; angle < ANGLES; angle++) {
    const edge = Math.max(start[angle]!, rows - 0.5);
    const fall = falls[angle]!;
    const value = density[last + angle]! * Math.exp(fall * (edge - rows + 1) * STEP);
    sum += (value * Math.exp(2 * (first + edge * STEP)) * turn) / (-fall - 2);
  }
  return 2 * sum;
}

function farSlopes(image: LogPolarPsf): Float32Array {
  const [steepest, flattest] = FAR_SLOPE;
  return slopes(image).map((slope) => Math.min(flattest, Math.max(steepest, slope)));
}
