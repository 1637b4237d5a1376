import { FileError } from '../../errors';
import { deflateZlib } from '../../kernels/codecs';
import { FLOAT, RGB, UNSIGNED } from './tags';

/** Samples of one pixel after another. Halves come as their patterns. */
export interface TiffRaster {
  width: number;
  height: number;
  /** Three, or four with alpha. */
  channels: 3 | 4;
  /** What the fourth is, if there is one: associated alpha or not. */
  isAssociated?: boolean;
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
const [HEADER_BYTES, ENTRY_BYTES] = [8, 12];
const STRIP_OFFSETS = 273;

/** An entry of the directory. */
interface Field {
  tag: number;
  type: typeof SHORT | typeof LONG | typeof RATIONAL;
  values: number[];
}

const bytesOf = ({ type, values }: Field): number => values.length * (type === SHORT ? 2 : 4);
/** Bytes that a field's values take beside the directory: those of up to four lie in it. */
const bytesBeside = (field: Field): number => (bytesOf(field) > 4 ? (bytesOf(field) + 1) & ~1 : 0);

/**
 * Writes a baseline TIFF (TIFF 6.0; Deflate as in TIFF Technical Note 2; half floats as 16-bit IEEE samples): one
 * picture, little-endian, in strips.
 */
export function writeTiff(raster: TiffRaster): Uint8Array<ArrayBuffer> {
  const { strips, rows } = packStrips(raster);
  const packed = strips.reduce((sum, strip) => sum + strip.length, 0);
  if (packed > 0xf000_0000)
    throw new FileError('the picture is too large for TIFF, which ends at 4 GiB', { todo: 'Write OpenEXR' });
  const fields = describe(raster, strips, rows);
  const directory = HEADER_BYTES + 2 + fields.length * ENTRY_BYTES + 4;
  const start = fields.reduce((sum, field) => sum + bytesBeside(field), directory);
  const offsets = fields.find(({ tag }) => tag === STRIP_OFFSETS)!.values;
  for (let k = 0, at = start; k < strips.length; at += strips[k++]!.length) offsets[k] = at;

  const out = new Uint8Array(start + packed);
  const view = new DataView(out.buffer);
  out.set([0x49, 0x49]);
  view.setUint16(2, 42, true);
  view.setUint32(4, HEADER_BYTES, true);
  writeDirectory(view, fields, directory);
  for (const [index, strip] of strips.entries()) out.set(strip, offsets[index]);
  return out;
}

/** The picture's rows, packed so many to a strip. */
function packStrips({ width, height, channels, data }: TiffRaster): { strips: Uint8Array[]; rows: number } {
  const rowBytes = width * channels * data.BYTES_PER_ELEMENT;
  const rows = Math.max(1, Math.min(height, Math.floor(STRIP_BYTES / rowBytes)));
  const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
  const strips: Uint8Array[] = [];
  for (let y = 0; y < height; y += rows)
    strips.push(deflateZlib(bytes.subarray(y * rowBytes, Math.min(height, y + rows) * rowBytes), false));
  return { strips, rows };
}

/** The fields of the directory, by tag; where strips begin is still to come. */
function describe(
  { width, height, channels, isAssociated, data, half }: TiffRaster,
  strips: readonly Uint8Array[],
  rows: number,
): Field[] {
  const isFloat = data instanceof Float32Array || half === true;
  const extraSamples: Field = { tag: 338, type: SHORT, values: [isAssociated ? 1 : 2] };
  const each = (value: number): number[] => Array<number>(channels).fill(value);
  return [
    { tag: 256, type: LONG, values: [width] },
    { tag: 257, type: LONG, values: [height] },
    { tag: 258, type: SHORT, values: each(data.BYTES_PER_ELEMENT * 8) },
    { tag: 259, type: SHORT, values: [DEFLATE] },
    { tag: 262, type: SHORT, values: [RGB] },
    { tag: STRIP_OFFSETS, type: LONG, values: strips.map(() => 0) },
    { tag: 274, type: SHORT, values: [1] },
    { tag: 277, type: SHORT, values: [channels] },
    { tag: 278, type: LONG, values: [rows] },
    { tag: 279, type: LONG, values: strips.map((strip) => strip.length) },
    { tag: 282, type: RATIONAL, values: [72, 1] },
    { tag: 283, type: RATIONAL, values: [72, 1] },
    { tag: 284, type: SHORT, values: [1] },
    { tag: 296, type: SHORT, values: [2] },
    ...(channels === 4 ? [extraSamples] : []),
    { tag: 339, type: SHORT, values: each(isFloat ? FLOAT : UNSIGNED) },
  ];
}

/** Writes the directory behind the header; values that do not fit in their entries go to `beside` and after. */
function writeDirectory(view: DataView, fields: readonly Field[], beside: number): void {
  view.setUint16(HEADER_BYTES, fields.length, true);
  for (const [index, field] of fields.entries()) {
    const { tag, type, values } = field;
    const entry = HEADER_BYTES + 2 + ENTRY_BYTES * index;
    view.setUint16(entry, tag, true);
    view.setUint16(entry + 2, type, true);
    view.setUint32(entry + 4, type === RATIONAL ? values.length / 2 : values.length, true);
    let place = entry + 8;
    if (bytesBeside(field)) {
      view.setUint32(place, beside, true);
      place = beside;
      beside += bytesBeside(field);
    }
    for (const value of values) {
      if (type === SHORT) view.setUint16(place, value, true);
      else view.setUint32(place, value, true);
      place += type === SHORT ? 2 : 4;
    }
  }
}
