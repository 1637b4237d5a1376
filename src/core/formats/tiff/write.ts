import { FileError } from '../../errors';
import { deflateZlib } from '../../kernels/codecs';
import { FLOAT, RGB, UNSIGNED } from './tags';

/** Samples of one pixel after another. Halves come as their patterns. */
export interface TiffRaster {
  width: number;
  height: number;
  channels: 3;
  data: Uint8Array | Uint16Array | Float32Array;
  /** Whether a `Uint16Array` holds halves. */
  half?: boolean;
}

/** Field types (TIFF 6.0, section 2). */
const SHORT = 3;
const LONG = 4;
const RATIONAL = 5;
const DEFLATE = 8;
const STRIP_BYTES = 1 << 20;

/**
 * Writes a baseline TIFF (TIFF 6.0; Deflate as in TIFF Technical Note 2; half floats as 16-bit IEEE samples): one
 * picture, little-endian, in strips.
 */
export function writeTiff(raster: TiffRaster): Uint8Array<ArrayBuffer> {
  const { width, height, channels, data } = raster;
  const size = data.BYTES_PER_ELEMENT;
  const rowBytes = width * channels * size;
  const rows = Math.max(1, Math.min(height, Math.floor(STRIP_BYTES / rowBytes)));
  const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
  const strips: Uint8Array[] = [];
  for (let y = 0; y < height; y += rows)
    strips.push(deflateZlib(bytes.subarray(y * rowBytes, Math.min(height, y + rows) * rowBytes), false));
  const packed = strips.reduce((sum, strip) => sum + strip.length, 0);
  if (packed > 0xf000_0000)
    throw new FileError('the picture is too large for TIFF, which ends at 4 GiB', { todo: 'Write OpenEXR' });

  const float = data instanceof Float32Array || raster.half === true;
  const fields: [tag: number, type: number, values: number[]][] = [
    [256, LONG, [width]],
    [257, LONG, [height]],
    [258, SHORT, Array<number>(channels).fill(size * 8)],
    [259, SHORT, [DEFLATE]],
    [262, SHORT, [RGB]],
    [273, LONG, strips.map(() => 0)],
    [274, SHORT, [1]],
    [277, SHORT, [channels]],
    [278, LONG, [rows]],
    [279, LONG, strips.map((strip) => strip.length)],
    [282, RATIONAL, [72, 1]],
    [283, RATIONAL, [72, 1]],
    [284, SHORT, [1]],
    [296, SHORT, [2]],
    [339, SHORT, Array<number>(channels).fill(float ? FLOAT : UNSIGNED)],
  ];
  const valueBytes = ([, type, values]: (typeof fields)[number]): number =>
    values.length * (type === SHORT ? 2 : 4);
  const directory = 2 + fields.length * 12 + 4;
  const beside = fields.map(valueBytes).map((length) => (length > 4 ? (length + 1) & ~1 : 0));
  const start = 8 + directory + beside.reduce((sum, length) => sum + length, 0);
  let at = start;
  const offsets = strips.map((strip) => {
    const own = at;
    at += strip.length;
    return own;
  });
  fields.find(([tag]) => tag === 273)![2] = offsets;

  const out = new Uint8Array(start + packed);
  const view = new DataView(out.buffer);
  out.set([0x49, 0x49]);
  view.setUint16(2, 42, true);
  view.setUint32(4, 8, true);
  view.setUint16(8, fields.length, true);
  let next = 8 + directory;
  for (const [index, field] of fields.entries()) {
    const [tag, type, values] = field;
    const entry = 10 + 12 * index;
    view.setUint16(entry, tag, true);
    view.setUint16(entry + 2, type, true);
    view.setUint32(entry + 4, type === RATIONAL ? values.length / 2 : values.length, true);
    let place = entry + 8;
    if (beside[index]) {
      view.setUint32(place, next, true);
      place = next;
      next += beside[index]!;
    }
    for (const value of values) {
      if (type === SHORT) view.setUint16(place, value, true);
      else view.setUint32(place, value, true);
      place += type === SHORT ? 2 : 4;
    }
  }
  for (const [index, strip] of strips.entries()) out.set(strip, offsets[index]);
  return out;
}
