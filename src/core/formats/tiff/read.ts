import { fromArrayBuffer, type GeoTIFFImage, type TypedArray } from 'geotiff';
import { FileError } from '../../errors';
import { addChannel, emptyPicture, type Picture } from '../../image/picture';
import { COPY_AGAIN, guardSize } from '../limits';
import { rasterPicture } from '../raster';
import { registerBoundedDecoders } from './bounded-decoders';
import { ASSOCIATED, FLOAT, RGB, UNASSOCIATED, UNSIGNED, WHITE_IS_ZERO } from './tags';

/**
 * Reads the first picture of a TIFF: grey or colour, with or without alpha, of 8 or 16 bits or of half or float, in
 * strips or tiles. Whole numbers are taken from the sRGB curve unless they are `data`; floats are scene-linear.
 */
export async function readTiff(bytes: Uint8Array, data: boolean): Promise<Picture> {
  try {
    registerBoundedDecoders();
    const tiff = await fromArrayBuffer(new Uint8Array(bytes).buffer);
    // The number of pictures is never asked for: it follows a chain that a damaged file may close to a ring.
    return await readImage(await tiff.getImage(0), bytes.length, data);
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw new FileError(`the TIFF is damaged: ${(error as Error).message}`, COPY_AGAIN);
  }
}

async function readImage(image: GeoTIFFImage, fileBytes: number, data: boolean): Promise<Picture> {
  const [width, height] = [image.getWidth(), image.getHeight()];
  const stored = image.getSamplesPerPixel();
  const bits = image.getBitsPerSample();
  if (!(stored >= 1 && stored <= 64))
    throw new FileError(`the TIFF has ${stored} samples a pixel`, COPY_AGAIN);
  guardSize(width, height, (width * height * stored * bits) / 8, fileBytes);
  const photometric =
    (image.fileDirectory.getValue('PhotometricInterpretation') as number | undefined) ?? RGB;
  const format = image.getSampleFormat();
  if (photometric > RGB) {
    if (bits !== 8)
      throw new FileError('the TIFF holds colours in a way that is read only at 8 bits', SAVE_AS_RGB);
    const rgb = (await image.readRGB({ interleave: true })) as unknown as TypedArray;
    return rasterPicture({ width, height, channels: 3, data: rgb, top: 255 }, 'tiff', data);
  }
  const colour = photometric === RGB && stored >= 3 ? 3 : 1;
  const alpha = stored > colour ? 1 : 0;
  const samples = Array.from({ length: colour + alpha }, (_, c) => c);
  const planes = (await image.readRasters({ samples, interleave: false })) as unknown as TypedArray[];
  const kind = alpha ? extraSample(image) : undefined;
  const inverted = photometric === WHITE_IS_ZERO;
  const picture =
    format === FLOAT
      ? floatPicture(planes, { width, height, colour, unassociated: kind === UNASSOCIATED && !data })
      : wholePicture(
          planes,
          { width, height, bits, format, colour, inverted, associated: kind === ASSOCIATED },
          data,
        );
  if (photometric === WHITE_IS_ZERO && format === FLOAT)
    picture.warnings.push('its white is zero; values are kept as they are');
  if (stored > colour + alpha)
    picture.warnings.push(`${stored - colour - alpha} further samples a pixel are not read`);
  const orientation: unknown = image.fileDirectory.actualizedFields.get('Orientation');
  if (typeof orientation === 'number' && orientation !== 1)
    picture.warnings.push(`its orientation (${orientation}) is not applied`);
  return picture;
}

/** What the first sample besides colour is. */
function extraSample(image: GeoTIFFImage): number | undefined {
  const value = image.fileDirectory.getValue('ExtraSamples') as ArrayLike<number> | number | undefined;
  return typeof value === 'object' ? value[0] : value;
}

const SAVE_AS_RGB = { todo: 'Save it as RGB, or as OpenEXR' };
const names = (colour: number, alpha: boolean): string[] => [
  ...(colour === 3 ? ['R', 'G', 'B'] : ['Y']),
  ...(alpha ? ['A'] : []),
];

/** Floats as they are, but for colour that is still to be multiplied by its alpha. */
function floatPicture(
  planes: TypedArray[],
  {
    width,
    height,
    colour,
    unassociated,
  }: { width: number; height: number; colour: number; unassociated: boolean },
): Picture {
  const picture: Picture = { ...emptyPicture(width, height), compression: 'tiff' };
  const alpha = unassociated ? (planes[colour] as ArrayLike<number>) : undefined;
  names(colour, planes.length > colour).forEach((name, c) => {
    const samples = Float32Array.from(planes[c] as ArrayLike<number>);
    if (alpha && c < colour) for (let i = 0; i < samples.length; i++) samples[i]! *= alpha[i]!;
    addChannel(picture, name, 'float', samples);
  });
  return picture;
}

interface WholeNumbers {
  width: number;
  height: number;
  bits: number;
  format: number;
  colour: number;
  inverted: boolean;
  /** Colour was multiplied by alpha before it was stored. */
  associated: boolean;
}

function wholePicture(planes: TypedArray[], about: WholeNumbers, data: boolean): Picture {
  const { width, height, bits, format, inverted } = about;
  if (format !== UNSIGNED || (bits !== 8 && bits !== 16))
    throw new FileError(
      `the TIFF has samples of ${bits} bits${format === UNSIGNED ? '' : ' with a sign'}; 8 and 16 bits, half and float are read`,
      { todo: 'Save it as 16 bits or as float' },
    );
  const top = 2 ** bits - 1;
  const channels = planes.length;
  const woven =
    bits === 8 ? new Uint8Array(width * height * channels) : new Uint16Array(width * height * channels);
  for (const [c, plane] of planes.entries()) {
    const flip = inverted && c < about.colour;
    for (let i = 0; i < width * height; i++) {
      const value = plane[i] as number;
      woven[i * channels + c] = flip ? top - value : value;
    }
  }
  const { associated } = about;
  return rasterPicture({ width, height, channels, data: woven, top, associated }, 'tiff', data);
}
