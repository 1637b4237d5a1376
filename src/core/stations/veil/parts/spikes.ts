import { pupilImage } from '../../../light/image';
import { LUMINANCE } from '../../../color/primaries';
import { channelOfImage, type GreyImage } from '../../../image/grey-image';
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
import { shapeAt, type PupilShape } from '../../../optics/pupil';
import { NO_MARKS, pupilAmplitude, type PupilMarks } from '../../../optics/pupil-mask';
import { feedOf, type PartContext, type PartDefinition, type PartFactory, type VeilPart } from './part';
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

/** What bends light into spikes, and how its image is softened and coloured. */
interface SpikeSource {
  shape: PupilShape;
  marks: PupilMarks;
  softness: number;
  saturation: number;
}

/** A look's pupil as a source of spikes. */
export const pupilSource = ({ pupil, camera, veil }: Look): SpikeSource => ({
  shape: shapeAt(pupil, camera.fStop),
  marks: pupil,
  softness: veil.spikes.softness,
  saturation: veil.spikes.saturation,
});

/** The white image of a point through a source, softened and with its colours as strong as asked for. */
export async function spikeImages(
  { shape, marks, softness, saturation }: SpikeSource,
  { image, size = PUPIL_SIZE, ...options }: SpikeOptions,
): Promise<LogPolarPsf[]> {
  const whiteImage = async (held: GreyImage | undefined): Promise<LogPolarPsf[]> => {
    const pupil = pupilAmplitude(shape, marks, size, held);
    const sharp = await diffraction(pupil, { ...options, ...subProgress(options, 0, 0.6) });
    const soft = await angularBlur(sharp, softness ** 2 * SOFTEST, options);
    return polychromaticPsf(soft, { ...options, ...subProgress(options, 0.6, 1) });
  };
  const images = image?.channels ? await colouredImage(image, whiteImage) : await whiteImage(image);
  if (saturation === 1) return images;
  const grey = images[0]!.density.map((_, i) =>
    LUMINANCE.reduce((sum, share, c) => sum + share * images[c]!.density[i]!, 0),
  );
  return images.map((image) => ({
    ...image,
    density: image.density.map((value, i) => Math.max(0, grey[i]! + saturation * (value - grey[i]!))),
  }));
}

/** Of a mask in colour: each channel's waves meet the mask as it is in that channel. The sum of each stays, and white is white. */
async function colouredImage(
  image: GreyImage,
  whiteImage: (held: GreyImage) => Promise<LogPolarPsf[]>,
): Promise<LogPolarPsf[]> {
  const images: LogPolarPsf[] = [];
  for (let c = 0; c < 3; c++) images.push((await whiteImage(channelOfImage(image, c)))[c]!);
  return images;
}

/** Pixels that a wavelength times the f-number is long on the picture, times the spikes' size. */
export function spikeUnit({ camera }: Look, size: number, frameWidth: number): number {
  return (REFERENCE_WAVELENGTH * 1e-6 * camera.fStop * size * frameWidth) / camera.sensorWidth;
}

/** Width over height of the pupil that makes the spikes. */
export const spikeSqueeze = ({ focus, veil }: Look): number => (veil.spikes.squeezed ? focus.squeeze : 1);

interface Spikes {
  name: 'veil.spikes' | 'veil.filter';
  settings: Omit<Look['veil']['spikes'], 'squeezed'>;
  source: SpikeSource;
  squeeze: number;
  mask?: GreyImage | undefined;
}

/** Spikes of a source in every light. */
function spikesOf(
  look: Look,
  context: PartContext,
  { name, settings, source, squeeze, mask }: Spikes,
): VeilPart & { on: boolean } {
  const { on, amount, tint, tintColour, tintShare, feed } = settings;
  const unit = spikeUnit(look, settings.size, context.frame.width);
  const size = context.draft ? DRAFT_SIZE : PUPIL_SIZE;
  const image = JSON.stringify([source, mask?.key, size]);
  return {
    name,
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
        () => spikeImages(source, { kernel, signal, size, ...(mask && { image: mask }) }),
        (made) => made.reduce((sum, { density }) => sum + density.byteLength, 0),
      );
      const { rows } = await rasterizePsf(images, { width, height, unit, squeeze }, { kernel, signal });
      return rows.map((plane) => halfKernel(plane, width));
    },
  };
}

const make: PartFactory = (look, context) => {
  const { spikes: settings } = look.veil;
  // A missing image is told only where the spikes are seen.
  const mask = settings.on && settings.amount > 0 ? pupilImage(look, context) : undefined;
  const source = pupilSource(look);
  return [
    spikesOf(look, context, { name: 'veil.spikes', settings, source, squeeze: spikeSqueeze(look), mask }),
  ];
};

const makeFilter: PartFactory = (look, context) => {
  const { filter: settings } = look.veil;
  const { blades, rotation, softness, saturation } = settings;
  const source = { shape: { blades, rotation, curvature: 0 }, marks: NO_MARKS, softness, saturation };
  return [spikesOf(look, context, { name: 'veil.filter', settings, source, squeeze: 1 })];
};

/** The image of the pupil in every light, by diffraction. */
export const spikes: PartDefinition = { id: 'spikes', isGlare: false, make };

/** The same of a filter before the lens that has an opening of its own. */
export const filter: PartDefinition = { id: 'filter', isGlare: false, make: makeFilter };
