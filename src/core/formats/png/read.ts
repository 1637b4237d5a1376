import { convertIndexedToRgb, decode } from 'fast-png';
import { FileError } from '../../errors';
import type { Picture } from '../../image/picture';
import { COPY_AGAIN, guardSize } from '../limits';
import { rasterPicture } from '../raster';

const COLOUR_CHANNELS: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };

/** Reads a PNG of any colour type and depth (ISO/IEC 15948). `data`: its values are not colour but data. */
export function readPng(bytes: Uint8Array, data: boolean): Picture {
  guardHeader(bytes);
  let png: ReturnType<typeof decode>;
  try {
    png = decode(bytes, { checkCrc: true });
  } catch (error) {
    throw new FileError(`the PNG is damaged: ${(error as Error).message}`, COPY_AGAIN);
  }
  const { width, height, depth, palette } = png;
  if (palette) {
    const rgb = convertIndexedToRgb(png);
    return rasterPicture({ width, height, channels: palette[0]!.length, data: rgb, top: 255 }, 'png', data);
  }
  const wide = depth < 8 ? unpackBits(png.data, width, height, depth) : png.data;
  return rasterPicture(
    { width, height, channels: png.channels, data: wide, top: 2 ** depth - 1 },
    'png',
    data,
  );
}

/** Grey samples of 1, 2 or 4 bits, each row beginning with a byte of its own. */
function unpackBits(packed: ArrayLike<number>, width: number, height: number, depth: number): Uint8Array {
  const pitch = Math.ceil((width * depth) / 8);
  const mask = 2 ** depth - 1;
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const bit = x * depth;
      out[y * width + x] = (packed[y * pitch + (bit >> 3)]! >> (8 - depth - (bit & 7))) & mask;
    }
  }
  return out;
}

function guardHeader(bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 33 || view.getUint32(12) !== 0x49484452)
    throw new FileError('the PNG has no header', COPY_AGAIN);
  const [width, height] = [view.getUint32(16), view.getUint32(20)];
  const channels = COLOUR_CHANNELS[bytes[25]!];
  if (!channels)
    throw new FileError(`the PNG has colour type ${bytes[25]}, which does not exist`, COPY_AGAIN);
  guardSize(width, height, (width * height * channels * bytes[24]!) / 8, bytes.length);
}
