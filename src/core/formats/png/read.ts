import { convertIndexedToRgb, decode } from 'fast-png';
import { Unzlib } from 'fflate';
import { FileError } from '../../errors';
import type { Picture } from '../../image/picture';
import { COPY_AGAIN, guardSize } from '../limits';
import { rasterPicture } from '../raster';

const IDAT = 0x49444154;
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
  const bits = channels * bytes[24]!;
  guardSize(width, height, (width * height * bits) / 8, bytes.length);
  guardStream(bytes, inflatedSize(width, height, bits, bytes[28] === 1));
}

/** Where each pass of an interlaced picture begins, and its steps: x, y, x step, y step (ISO/IEC 15948, 8.2). */
const PASSES = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

/** Bytes of a picture's rows, each with its filter. */
function inflatedSize(width: number, height: number, bits: number, interlaced: boolean): number {
  const passes = interlaced ? PASSES : ([[0, 0, 1, 1]] as const);
  return passes.reduce((sum, [x, y, stepX, stepY]) => {
    const [columns, rows] = [Math.ceil((width - x) / stepX), Math.ceil((height - y) / stepY)];
    return columns > 0 && rows > 0 ? sum + rows * (1 + Math.ceil((columns * bits) / 8)) : sum;
  }, 0);
}

/** A file that is smaller cannot hold enough to matter: Deflate packs a thousandfold at most. */
const HARMLESS_BYTES = 2 ** 17;
const STEP = 2 ** 16;

/** Refuses a stream that holds more than the header declares: the package would take memory for all of it. */
function guardStream(bytes: Uint8Array, size: number): void {
  if (bytes.length < HARMLESS_BYTES) return;
  let inflated = 0;
  const inflate = new Unzlib(({ length }) => {
    inflated += length;
    if (inflated > size) throw new FileError('the PNG holds more than its header declares', COPY_AGAIN);
  });
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  try {
    for (let at = 8; at + 8 <= bytes.length;) {
      const length = view.getUint32(at);
      if (view.getUint32(at + 4) === IDAT)
        for (let from = at + 8; from < at + 8 + length; from += STEP)
          inflate.push(bytes.subarray(from, Math.min(from + STEP, at + 8 + length)));
      at += 12 + length;
    }
  } catch (error) {
    // What else is wrong with the stream the package tells.
    if (error instanceof FileError) throw error;
  }
}
