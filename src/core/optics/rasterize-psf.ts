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

/**
 * Lays a point's images, one a channel, on pixels, `unit` of which are a wavelength times f-number; all the light of each
 * together is 1.
 */
export async function rasterizePsf(
  images: readonly LogPolarPsf[],
  { width, height }: Size,
  unit: number,
  { kernel, ...options }: DiffractionOptions,
): Promise<RasterizedPsf> {
  const columns = 2 * width - 1;
  const plane = (): Shared => allocateShared(columns * height * 4);
  const out = [plane(), plane(), plane()] as const;
  const prepared = images.map((image) => ({ image, falls: farSlopes(image) }));
  const totals = prepared.map(({ image, falls }) => integrateOutside(image, falls, () => 0));
  const { density, rows } = onPixels(prepared, totals, unit, Math.hypot(width, height));
  const first = images[0]!.first + Math.log(unit);
  const sums = await kernel.rasterize({ image: density, rows, first, width, height, out }, options);
  const outside = prepared.map(
    ({ image, falls }, c) =>
      integrateOutside(
        image,
        falls,
        (cosine, sine) => Math.min((width - 0.5) / Math.abs(cosine), (height - 0.5) / Math.abs(sine)) / unit,
      ) / totals[c]!,
  );
  const laid = out.map((buffer, c) => {
    const values = new Float32Array(buffer);
    // The source's own pixel holds what is nowhere else.
    const scale = Math.min(1, (1 - outside[c]!) / sums[c]!);
    if (scale < 1) for (let i = 0; i < values.length; i++) values[i]! *= scale;
    values[width - 1] = Math.max(0, 1 - outside[c]! - sums[c]!);
    return values;
  });
  return { rows: laid, outside };
}

/**
 * Images as the kernel takes them: densities per square pixel, channels side by side, each with an integral of 1. They go
 * on to `reach` pixels, each angle falling off as it did before.
 */
function onPixels(
  prepared: readonly { image: LogPolarPsf; falls: Float32Array }[],
  totals: readonly number[],
  unit: number,
  reach: number,
): { density: Float32Array; rows: number } {
  const { rows: known, first } = prepared[0]!.image;
  const rows = Math.max(known, Math.ceil((Math.log(reach / unit) - first) / STEP) + 2);
  const density = new Float32Array(4 * rows * ANGLES);
  prepared.forEach(({ image, falls }, c) => {
    const scale = 1 / (totals[c]! * unit * unit);
    for (let i = 0; i < known * ANGLES; i++) density[4 * i + c] = image.density[i]! * scale;
    const factors = falls.map((fall) => Math.exp(fall * STEP));
    for (let i = known * ANGLES; i < rows * ANGLES; i++)
      density[4 * i + c] = density[4 * (i - ANGLES) + c]! * factors[i % ANGLES]!;
  });
  return { density, rows };
}

/** The integral over all that lies farther out than a distance, for each direction, in wavelengths times f-number. */
function integrateOutside(
  { density, rows, first }: LogPolarPsf,
  falls: Float32Array,
  distance: (cosine: number, sine: number) => number,
): number {
  const turn = Math.PI / ANGLES;
  const from = Float64Array.from({ length: ANGLES }, (_, angle) => {
    const direction = (angle + 0.5) * turn - Math.PI / 2;
    return distance(Math.cos(direction), Math.sin(direction));
  });
  /** Where each direction begins, in rows. */
  const start = from.map((at) => (at > 0 ? (Math.log(at) - first) / STEP : -Infinity));
  let sum = 0;
  // Nearer than the first row it is even.
  const inner = Math.exp(2 * (first - STEP / 2));
  for (let angle = 0; angle < ANGLES; angle++)
    if (start[angle]! < -0.5) sum += density[angle]! * (inner - from[angle]! ** 2) * (turn / 2);
  // Row by row, as they lie in memory.
  for (let row = 0; row < rows; row++) {
    const line = row * ANGLES;
    let light = 0;
    for (let angle = 0; angle < ANGLES; angle++) {
      const covered = row + 0.5 - start[angle]!;
      if (covered > 0) light += density[line + angle]! * (covered < 1 ? covered : 1);
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
