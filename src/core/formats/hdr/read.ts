import { FileError } from '../../errors';
import { addChannel, emptyPicture, type Picture } from '../../image/picture';
import { COPY_AGAIN, guardSize } from '../limits';

/** Where the pixels begin, how the rows lie, and what the header's values multiply. */
interface Header {
  at: number;
  width: number;
  height: number;
  /** Rows go up, columns go left, or columns come first. */
  up: boolean;
  left: boolean;
  columnsFirst: boolean;
  exposure: number;
  xyz: boolean;
}

/**
 * Radiance picture (Ward, "Real Pixels", Graphics Gems II, 1991; Larson & Shakespeare, "Rendering with Radiance", 1998):
 * a shared exponent per pixel, `m * 2^(e - 136)`, in flat, old or new run lengths, in any of the eight orientations.
 */
export function readHdr(bytes: Uint8Array): Picture {
  const header = readHeader(bytes);
  const { width, height, columnsFirst } = header;
  const [length, lines] = columnsFirst ? [height, width] : [width, height];
  guardSize(width, height, width * height * 4, bytes.length * 32);
  const planes = [0, 1, 2].map(() => new Float32Array(width * height));
  const line = new Uint8Array(length * 4);
  let at = header.at;
  const scale = 1 / header.exposure;
  for (let j = 0; j < lines; j++) {
    at = readLine(bytes, at, line, length, j);
    for (let i = 0; i < length; i++) {
      const [u, v] = columnsFirst ? [j, i] : [i, j];
      const x = header.left ? width - 1 - u : u;
      const y = header.up ? height - 1 - v : v;
      const e = line[4 * i + 3]!;
      const factor = e === 0 ? 0 : 2 ** (e - 136) * scale;
      for (let c = 0; c < 3; c++) planes[c]![y * width + x] = line[4 * i + c]! * factor;
    }
  }
  const picture: Picture = { ...emptyPicture(width, height), compression: 'hdr' };
  planes.forEach((plane, c) => addChannel(picture, 'RGB'[c]!, 'float', plane));
  if (header.xyz) picture.warnings.push('its colours are stored as XYZ and are read as if they were RGB');
  return picture;
}

function readHeader(bytes: Uint8Array): Header {
  let at = 0;
  let exposure = 1;
  let xyz = false;
  const nextLine = (): string => {
    const end = bytes.indexOf(10, at);
    if (end < 0 || end - at > 4096)
      throw new FileError('the header of the HDR file does not end', COPY_AGAIN);
    const text = new TextDecoder('latin1').decode(bytes.subarray(at, end)).replace(/\r$/, '');
    at = end + 1;
    return text;
  };
  for (let text = nextLine(); text !== ''; text = nextLine()) {
    const value = /^(FORMAT|EXPOSURE)\s*=\s*(\S+)/.exec(text);
    if (value?.[1] === 'EXPOSURE') exposure *= Number(value[2]) > 0 ? Number(value[2]) : 1;
    if (value?.[1] === 'FORMAT') {
      xyz = value[2] === '32-bit_rle_xyze';
      if (!xyz && value[2] !== '32-bit_rle_rgbe')
        throw new FileError(`the HDR file has format ${value[2]}, which is not known`);
    }
  }
  const size = /^([-+])([XY])\s+(\d+)\s+([-+])([XY])\s+(\d+)$/.exec(nextLine().trim());
  if (!size || size[2] === size[5])
    throw new FileError('the size of the HDR file cannot be understood', COPY_AGAIN);
  const columnsFirst = size[2] === 'X';
  const [x, y] = columnsFirst ? [1, 4] : [4, 1];
  return {
    at,
    width: Number(size[x + 2]),
    height: Number(size[y + 2]),
    up: size[y] === '+',
    left: size[x] === '-',
    columnsFirst,
    exposure,
    xyz,
  };
}

function readLine(bytes: Uint8Array, at: number, line: Uint8Array, length: number, index: number): number {
  const early = (): FileError =>
    new FileError('the HDR file ends too early', { where: `line ${index}`, ...COPY_AGAIN });
  const isNew =
    length >= 8 &&
    length < 32768 &&
    bytes[at] === 2 &&
    bytes[at + 1] === 2 &&
    ((bytes[at + 2]! << 8) | bytes[at + 3]!) === length;
  if (!isNew) return readOldLine(bytes, at, line, length, early);
  at += 4;
  for (let c = 0; c < 4; c++) {
    for (let i = 0; i < length;) {
      const count = bytes[at++];
      if (count === undefined) throw early();
      const run = count > 128;
      const size = run ? count - 128 : count;
      if (size === 0 || i + size > length)
        throw new FileError('a run of the HDR file does not fit', { where: `line ${index}`, ...COPY_AGAIN });
      if (at + (run ? 1 : size) > bytes.length) throw early();
      for (let k = 0; k < size; k++) line[4 * i++ + c] = bytes[run ? at : at + k]!;
      at += run ? 1 : size;
    }
  }
  return at;
}

/** Flat pixels; 1 1 1 n repeats the one before, several in a row as digits of a larger number. */
function readOldLine(
  bytes: Uint8Array,
  at: number,
  line: Uint8Array,
  length: number,
  early: () => FileError,
): number {
  let shift = 0;
  for (let i = 0; i < length;) {
    if (at + 4 > bytes.length) throw early();
    const repeat = bytes[at] === 1 && bytes[at + 1] === 1 && bytes[at + 2] === 1;
    if (repeat) {
      if (i === 0) throw new FileError('a run of the HDR file has nothing to repeat', COPY_AGAIN);
      const count = shift > 16 ? 0 : bytes[at + 3]! << shift;
      for (let k = 0; k < count && i < length; k++, i++) line.copyWithin(4 * i, 4 * (i - 1), 4 * i);
      shift += 8;
    } else {
      line.set(bytes.subarray(at, at + 4), 4 * i++);
      shift = 0;
    }
    at += 4;
  }
  return at;
}
