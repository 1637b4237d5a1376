import { allocateShared } from '../../../kernels/runtime/shared';
import { pupilImage } from '../../../light/image';
import { LUMINANCE } from '../../../color/primaries';
import type { Size } from '../../../image/rectangle';
import type { GreyImage } from '../../../image/grey-image';
import { rangeTasks, subProgress } from '../../../kernels/runtime/parallel';
import type { Look } from '../../../look/look';
import {
  diffraction,
  REFERENCE,
  angularBlur,
  polychromaticPsf,
  type ParallelOptions,
} from '../../../optics/diffraction';
import type { LogPolarPsf } from '../../../optics/log-polar-psf';
import { preparePsf, shareOutside } from '../../../optics/rasterize-psf';
import { shapeAt } from '../../../optics/pupil';
import { pupilMask } from '../../../optics/pupil-mask';
import { feedOf, type PartDefinition, type PartFactory } from './part';
import { halfKernel } from './pixel-kernel';

/** Pixels across the pupil that diffraction is computed from. */
const PUPIL_SIZE = 512;
/** And while a hand moves. */
const DRAFT_SIZE = 256;
/** The widest softening, in radians. */
const SOFTEST = 0.5;

interface SpikeOptions extends ParallelOptions {
  /** What lies in the pupil besides its marks. */
  image?: GreyImage;
  /** Pixels across the pupil. */
  size?: number;
}

/** The white image of a point through a look's pupil, softened and with its colours as strong as asked for. */
export async function spikeImages(
  look: Look,
  { image, size = PUPIL_SIZE, ...options }: SpikeOptions,
): Promise<LogPolarPsf[]> {
  const { softness, saturation } = look.veil.spikes;
  const mask = pupilMask(shapeAt(look.pupil, look.camera.fStop), look.pupil, size, image);
  const sharp = await diffraction(mask, size, { ...options, ...subProgress(options, 0, 0.6) });
  const soft = angularBlur(sharp, softness ** 2 * SOFTEST);
  const images = await polychromaticPsf(soft, { ...options, ...subProgress(options, 0.6, 1) });
  if (saturation === 1) return images;
  const grey = images[0]!.density.map((_, i) =>
    LUMINANCE.reduce((sum, share, c) => sum + share * images[c]!.density[i]!, 0),
  );
  return images.map((image) => ({
    ...image,
    density: image.density.map((value, i) => Math.max(0, grey[i]! + saturation * (value - grey[i]!))),
  }));
}

/** Everything of a look that the image depends on. */
export const spikeKey = (look: Look, mask?: GreyImage): string =>
  JSON.stringify([
    look.pupil,
    shapeAt(look.pupil, look.camera.fStop),
    mask?.key,
    look.veil.spikes.softness,
    look.veil.spikes.saturation,
  ]);

/** Pixels that a wavelength times the f-number is long on the picture. */
export function spikeUnit({ camera, veil }: Look, frameWidth: number): number {
  const millimetres = REFERENCE * 1e-6 * camera.fStop * veil.spikes.size;
  return (millimetres * frameWidth) / camera.sensorWidth;
}

/** A point's images, one a channel, on pixels. */
export interface RasterizedPsf {
  /** For each channel, rows from the source's own downwards, each for `dx` from `-(width - 1)` to `width - 1`. */
  rows: Float32Array[];
  /** Share of each channel's light that falls outside. */
  outside: number[];
}

/** Rows that a thread does in one go. */
const ROWS_PER_TASK = 32;

/**
 * Lays a point's images, one a channel, on pixels, `unit` of which are a wavelength times f-number; all the light of each
 * together is 1.
 */
export async function rasterizePsf(
  images: readonly LogPolarPsf[],
  { width, height }: Size,
  unit: number,
  { parallel, ...options }: ParallelOptions,
): Promise<RasterizedPsf> {
  const columns = 2 * width - 1;
  const point = preparePsf(images, unit, Math.hypot(width, height));
  const out = images.map(() => allocateShared(columns * height * 4));
  const tasks = rangeTasks('rasterizePsfRows', { point, width, out }, height, ROWS_PER_TASK);
  await parallel.run(tasks, options);
  const outside = images.map((image) => shareOutside(image, unit, width - 0.5, height - 0.5));
  const all = out.map((buffer, c) => {
    const rows = new Float32Array(buffer);
    // The source's own row is the same to both sides.
    for (let dx = 1; dx < width; dx++) rows[width - 1 - dx] = rows[width - 1 + dx]!;
    let sum = 0;
    for (let i = 0; i < columns; i++) sum += rows[i]!;
    for (let i = columns; i < rows.length; i++) sum += 2 * rows[i]!;
    // The source's own pixel holds what is nowhere else.
    const scale = Math.min(1, (1 - outside[c]!) / sum);
    if (scale < 1) for (let i = 0; i < rows.length; i++) rows[i]! *= scale;
    rows[width - 1] = Math.max(0, 1 - outside[c]! - sum);
    return rows;
  });
  return { rows: all, outside };
}

const make: PartFactory = (look, context) => {
  const { on, amount, tint, feed } = look.veil.spikes;
  const unit = spikeUnit(look, context.frame.width);
  // A missing image is told only where the spikes are seen.
  const mask = on && amount > 0 ? pupilImage(look, context) : undefined;
  const size = context.draft ? DRAFT_SIZE : PUPIL_SIZE;
  const image = `${spikeKey(look, mask)} ${size}`;
  return [
    {
      name: 'veil.spikes',
      on,
      amount,
      tint,
      ...feedOf(look, feed),
      key: `${image} ${unit}`,
      async kernels(width, height) {
        const { parallel, signal } = context;
        const images = await context.cache.getOrCompute(
          `white image ${image}`,
          () => spikeImages(look, { parallel, signal, size, ...(mask && { image: mask }) }),
          (made) => made.reduce((sum, { density }) => sum + density.byteLength, 0),
        );
        const { rows } = await rasterizePsf(images, { width, height }, unit, { parallel, signal });
        return rows.map((plane) => halfKernel(plane, width));
      },
    },
  ];
};

/** The image of the pupil in every light, by diffraction. */
export const spikes: PartDefinition = { id: 'spikes', isGlare: false, make };
