import { LUMINANCE } from '../../color/primaries';
import { channelOfImage, type GreyImage } from '../../image/grey-image';
import type { RgbaImage } from '../../image/rgba';
import type { DiffractionKernel } from '../../kernels/diffraction';
import { pupilImage, type Images } from '../../light/image';
import type { Look } from '../../look/look';
import { shapeAt } from '../../optics/pupil';
import { pupilMask } from '../../optics/pupil-mask';
import { rasterizePsf } from '../../optics/rasterize-psf';
import { pupilSource, spikeImages, spikeSqueeze } from '../veil/parts/spikes';

/** The pupil, drawn, and the image of a point through it. */
export interface PupilPictures {
  pupil: RgbaImage;
  point: RgbaImage;
  /** Wavelengths times f-number from the middle of the point image to its edge. */
  reach: number;
  /** Stops from its brightest place to its black. */
  stops: number;
}

const PUPIL_PIXELS = 284;
/** Pixels across the pupil for the point image, which shows less of it than a picture does. */
const COMPUTED = 256;
const POINT_HALF = 110;
/** Wavelengths times f-number from the middle of the point image to its edge. */
const REACH = 50;
/** Stops from its brightest to its black. */
const STOPS = 24;

/** A look's pupil, and what it makes of a white point of light in logarithmic brightness. */
export async function pupilPictures(
  look: Look,
  images: Images,
  kernel: DiffractionKernel,
): Promise<PupilPictures> {
  const mask = pupilImage(look, images);
  return {
    pupil: paintMask(look, mask),
    point: await paintPoint(look, mask, kernel),
    reach: REACH,
    stops: STOPS,
  };
}

function paintMask(look: Look, image: GreyImage | undefined): RgbaImage {
  const shape = shapeAt(look.pupil, look.camera.fStop);
  const planes = (image?.channels ?? [0]).map((_, c) =>
    pupilMask(shape, look.pupil, PUPIL_PIXELS, image && channelOfImage(image, c)),
  );
  const pixels = new Uint8ClampedArray(planes[0]!.length * 4).fill(255);
  for (let c = 0; c < 3; c++)
    planes[c % planes.length]!.forEach((open, i) => (pixels[4 * i + c] = 22 + 208 * open));
  return { width: PUPIL_PIXELS, height: PUPIL_PIXELS, pixels };
}

async function paintPoint(
  look: Look,
  image: GreyImage | undefined,
  kernel: DiffractionKernel,
): Promise<RgbaImage> {
  const images = await spikeImages(pupilSource(look), { kernel, size: COMPUTED, ...(image && { image }) });
  const placement = {
    width: POINT_HALF,
    height: POINT_HALF,
    unit: POINT_HALF / REACH,
    squeeze: spikeSqueeze(look),
  };
  const { rows } = await rasterizePsf(images, placement, { kernel });
  const side = 2 * POINT_HALF - 1;
  const last = side * POINT_HALF - 1;
  const pixels = new Uint8ClampedArray(side * side * 4);
  const luminance = (i: number): number => LUMINANCE.reduce((sum, share, c) => sum + share * rows[c]![i]!, 0);
  const peak = luminance(POINT_HALF - 1);
  for (let i = 0; i <= last; i++) {
    const bright = 1 + Math.log2(luminance(i) / peak) / STOPS;
    const most = Math.max(...rows.map((plane) => plane[i]!));
    // The upper half is the lower one turned half way round.
    for (const at of [side * (POINT_HALF - 1) + i, side * POINT_HALF - 1 - i])
      for (let c = 0; c < 4; c++)
        pixels[4 * at + c] = c === 3 ? 255 : 255 * bright * (rows[c]![i]! / most) ** 0.45;
  }
  return { width: side, height: side, pixels };
}
