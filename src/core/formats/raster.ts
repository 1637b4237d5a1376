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
  /** The numbers of colours were multiplied by alpha before they were stored. */
  associated?: boolean | undefined;
}

const NAMES = [['Y'], ['Y', 'A'], ['R', 'G', 'B'], ['R', 'G', 'B', 'A']] as const;

/**
 * A raster as a picture of floats. Colour and grey are taken from the sRGB curve to scene-linear light; with `data`
 * (depth, normals, mattes) they stay as they are, 0 to 1. Alpha is always linear, and light is multiplied by it. Numbers
 * that were multiplied as they were stored, behind the curve, are divided first: their light was not.
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
      if (!own || !withAlpha || data) continue;
      const alpha = raster.data[at + names.length - 1 - c]! / top;
      // What has no alpha is light that was added, such as a glow.
      if (!raster.associated) samples[i]! *= alpha;
      else if (alpha > 0) samples[i] = decodeSrgb(Math.min(1, value / top / alpha)) * alpha;
    }
    addChannel(picture, name, 'float', samples);
  }
  return picture;
}
