import decode, { init } from '@jsquash/jpeg/decode.js';
import { FileError } from '../../errors';
import type { Picture } from '../../image/picture';
import { WASM } from '../../kernels/generated/jpeg';
import { wasmBytes } from '../../kernels/runtime/wasm';
import { COPY_AGAIN, guardSize } from '../limits';
import { rasterPicture } from '../raster';
import { exifOrientation, orient, segments } from './orientation';

let ready: Promise<void> | undefined;
/** The package's types know of one argument only. */
const startDecoder = init as unknown as (
  module: WebAssembly.Module,
  options: Record<'print' | 'printErr', (text: string) => void>,
) => Promise<void>;
/** What the decoder says of the file at hand. */
let remarks: string[] = [];

/** Frame headers of the processes that are decoded: baseline, extended and progressive (ITU-T T.81, table B.1). */
const FRAMES = new Set([0xc0, 0xc1, 0xc2]);

/** Reads a JPEG, turned as its EXIF data say. The decoder is libjpeg's, so that every machine gives the same pixels. */
export async function readJpeg(bytes: Uint8Array, data: boolean): Promise<Picture> {
  const components = guardHeader(bytes);
  const note = (text: string): void => void remarks.push(text);
  ready ??= startDecoder(new WebAssembly.Module(wasmBytes(WASM)), { print: note, printErr: note });
  await ready;
  remarks = [];
  let image: { width: number; height: number; data: Uint8ClampedArray };
  try {
    image = await decode(new Uint8Array(bytes).buffer, { preserveOrientation: false });
  } catch {
    throw new FileError('the JPEG is damaged', COPY_AGAIN);
  }
  const upright = orient(image.data, image.width, image.height, exifOrientation(bytes));
  const { width, height } = upright;
  const channels = components === 1 ? 1 : 3;
  const packed = new Uint8Array(width * height * channels);
  for (let i = 0; i < width * height; i++)
    for (let c = 0; c < channels; c++) packed[i * channels + c] = upright.data[i * 4 + c]!;
  const picture = rasterPicture({ width, height, channels, data: packed, top: 255 }, 'jpeg', data);
  picture.isIncomplete = remarks.some((text) => /premature end/i.test(text));
  if (remarks.length) picture.warnings.push(`the JPEG is not quite whole: ${remarks.join('; ')}`);
  return picture;
}

function guardHeader(bytes: Uint8Array): number {
  for (const { marker, at, size } of segments(bytes)) {
    const frame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
    if (!frame || size < 6) continue;
    if (!FRAMES.has(marker))
      throw new FileError('the JPEG is of a kind that is not read (lossless or arithmetic)', {
        todo: 'Save it as an ordinary JPEG, or as PNG',
      });
    const [height, width] = [(bytes[at + 1]! << 8) | bytes[at + 2]!, (bytes[at + 3]! << 8) | bytes[at + 4]!];
    const components = bytes[at + 5]!;
    if (components !== 1 && components !== 3)
      throw new FileError(`the JPEG has ${components} components; grey and colour are read`, {
        todo: 'Save it as RGB',
      });
    guardSize(width, height, width * height * components, bytes.length);
    return components;
  }
  throw new FileError('the JPEG has no picture in it', COPY_AGAIN);
}
