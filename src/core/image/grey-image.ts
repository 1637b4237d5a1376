import { LUMINANCE } from '../color/primaries';
import { FileError } from '../errors';
import { findBeauty, lightChannels, passesOf } from './passes';
import { channelFloats, type Picture } from './picture';

/** An image that shapes light: a mask of the pupil, dirt on the glass. */
export interface GreyImage {
  /** Equal keys mean equal images. */
  key: string;
  width: number;
  height: number;
  /** Luminance, 0 to 1, row-major, top row first. */
  plane: Float32Array;
  /** The same of each channel, if they are not alike. */
  channels?: readonly Float32Array[];
}

/** An image as one channel has it. */
export function channelOfImage(image: GreyImage, channel: number): GreyImage {
  const { key, width, height, plane, channels } = image;
  return channels
    ? { key: `${key} ${'rgb'[channel]}`, width, height, plane: channels[channel]! }
    : { ...image, plane };
}

/** Channels that differ by more than this somewhere make a colour. */
const COLOURED = 0.004;

/** A picture as grey, what is brightest in it being 1 if nothing is brighter. Throws {@link FileError} if it is not an image. */
export function greyImage(key: string, name: string, picture: Picture): GreyImage {
  const beauty = findBeauty(passesOf(picture));
  if (!beauty) {
    throw new FileError('the file holds no colour and no grey', {
      where: name,
      todo: 'Choose an image, bright where it is open or dirty',
    });
  }
  const { rgb, alpha } = lightChannels(beauty);
  const planes = rgb.map(channelFloats);
  const cover = alpha && channelFloats(alpha);
  const held = (value: number, i: number): number =>
    Number.isFinite(value) ? Math.min(1, Math.max(0, value * (cover ? cover[i]! : 1))) : 0;
  const plane = Float32Array.from(planes[0]!, (_, i) =>
    held(
      LUMINANCE.reduce((sum, share, c) => sum + share * planes[c]![i]!, 0),
      i,
    ),
  );
  const channels = planes.map((own) => own.map(held));
  const [r, g, b] = channels as [Float32Array, Float32Array, Float32Array];
  const isColoured = r.some(
    (value, i) => Math.max(Math.abs(value - g[i]!), Math.abs(value - b[i]!)) > COLOURED,
  );
  return { key, width: picture.width, height: picture.height, plane, ...(isColoured && { channels }) };
}
