import { pupilImage } from '../../../light/image';
import { LUMINANCE } from '../../../color/primaries';
import type { GreyImage } from '../../../image/grey-image';
import { subProgress } from '../../../kernels/runtime/parallel';
import type { Look } from '../../../look/look';
import {
  diffraction,
  REFERENCE_WAVELENGTH,
  angularBlur,
  polychromaticPsf,
  type DiffractionOptions,
} from '../../../optics/diffraction';
import type { LogPolarPsf } from '../../../optics/log-polar-psf';
import { rasterizePsf } from '../../../optics/rasterize-psf';
import { shapeAt } from '../../../optics/pupil';
import { pupilAmplitude } from '../../../optics/pupil-mask';
import { feedOf, type PartDefinition, type PartFactory } from './part';
import { partColour } from './part-colour';
import { halfKernel } from './pixel-kernel';

/** Pixels across the pupil that diffraction is computed from. */
const PUPIL_SIZE = 512;
/** And while a hand moves. */
export const DRAFT_SIZE = 256;
/** The widest softening, in radians. */
const SOFTEST = 0.5;

interface SpikeOptions extends DiffractionOptions {
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
  const pupil = pupilAmplitude(shapeAt(look.pupil, look.camera.fStop), look.pupil, size, image);
  const sharp = await diffraction(pupil, { ...options, ...subProgress(options, 0, 0.6) });
  const soft = await angularBlur(sharp, softness ** 2 * SOFTEST, options);
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
  const millimetres = REFERENCE_WAVELENGTH * 1e-6 * camera.fStop * veil.spikes.size;
  return (millimetres * frameWidth) / camera.sensorWidth;
}

/** Width over height of the pupil that makes the spikes. */
export const spikeSqueeze = ({ focus, veil }: Look): number => (veil.spikes.squeezed ? focus.squeeze : 1);

const make: PartFactory = (look, context) => {
  const { on, amount, tint, tintColour, tintShare, feed } = look.veil.spikes;
  const unit = spikeUnit(look, context.frame.width);
  const squeeze = spikeSqueeze(look);
  // A missing image is told only where the spikes are seen.
  const mask = on && amount > 0 ? pupilImage(look, context) : undefined;
  const size = context.draft ? DRAFT_SIZE : PUPIL_SIZE;
  const image = `${spikeKey(look, mask)} ${size}`;
  return [
    {
      name: 'veil.spikes',
      on,
      amount,
      // Its saturation is that of diffraction's own colours.
      ...partColour({ tint, tintColour, tintShare }),
      ...feedOf(look, feed),
      key: `${image} ${unit} ${squeeze}`,
      async kernels(width, height) {
        const { diffraction: kernel, signal } = context;
        const images = await context.cache.getOrCompute(
          `white image ${image}`,
          () => spikeImages(look, { kernel, signal, size, ...(mask && { image: mask }) }),
          (made) => made.reduce((sum, { density }) => sum + density.byteLength, 0),
        );
        const { rows } = await rasterizePsf(images, { width, height, unit, squeeze }, { kernel, signal });
        return rows.map((plane) => halfKernel(plane, width));
      },
    },
  ];
};

/** The image of the pupil in every light, by diffraction. */
export const spikes: PartDefinition = { id: 'spikes', isGlare: false, make };
