import { decodeSrgb } from '../color/srgb';
import { addChannel, emptyPicture, type Picture } from '../image/picture';

/** Rows of interleaved whole numbers, as display formats hold them. */
export interface Raster {
  width: number;
  height: number;
  /** 1 grey, 2 grey and alpha, 3 colour, 4 colour and alpha. */
  channels: number;
  data: ArrayLike<number>;
  /** The number that stands for 1. */
  top: number;
}

const NAMES = [['Y'], ['Y', 'A'], ['R', 'G', 'B'], ['R', 'G', 'B', 'A']] as const;

/**
 * A raster as a picture of floats. Colour and grey are taken from the sRGB curve to scene-linear light; with `data`
 * (depth, normals, mattes) they stay as they are, 0 to 1. Alpha is always linear, and colour is multiplied by it,
 * since these formats hold it unmultiplied.
 */
export function rasterPicture(raster: Raster, compression: string, data: boolean): Picture {
  const { width, height, channels, top } = raster;
  const picture = { ...emptyPicture(width, height), compression, range: 'display' as const };
  const names = NAMES[channels - 1]!;
  const curve = Float32Array.from({ length: top + 1 }, (_, value) =>
    data ? value / top : decodeSrgb(value / top),
  );
  const withAlpha = names.at(-1) === 'A';
  for (const [c, name] of names.entries()) {
    const samples = new Float32Array(width * height);
    const own = name !== 'A';
    for (let i = 0, at = c; i < samples.length; i++, at += channels) {
      const value = raster.data[at]!;
      samples[i] = own ? curve[value]! : value / top;
      if (own && withAlpha && !data) samples[i]! *= raster.data[at + names.length - 1 - c]! / top;
    }
    addChannel(picture, name, 'float', samples);
  }
  return picture;
}
