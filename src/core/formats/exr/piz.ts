import { FileError } from '../../errors';
import { chunkBytes, forEachRun, gridOf, type ChunkShape } from './layout';
import { BYTES_PER_SAMPLE } from './spec';

const BITMAP_BYTES = 8192;
const SYMBOLS = 65537;
const LONGEST_CODE = 58;
/** Code lengths from here on stand for runs of zero lengths: short ones in themselves, the last with a count. */
const ZERO_RUN = 59;
const LONG_ZERO_RUN = 63;
const SHORTEST_LONG_RUN = 2 + LONG_ZERO_RUN - ZERO_RUN;

/** PIZ: a table of the values in use, a wavelet transform over each channel, Huffman codes. */
export function unpackPiz(packed: Uint8Array, shape: ChunkShape): Uint8Array {
  const { channels } = shape;
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  if (packed.length < 4) throw tooShort();
  const [first, last] = [view.getUint16(0, true), view.getUint16(2, true)];
  if (first >= BITMAP_BYTES || last >= BITMAP_BYTES)
    throw new FileError('the table of values lies outside its range');
  const bitmap = new Uint8Array(BITMAP_BYTES);
  let at = 4;
  if (first <= last) {
    const count = last - first + 1;
    if (at + count > packed.length) throw tooShort();
    bitmap.set(packed.subarray(at, at + count), first);
    at += count;
  }
  const { values, highest } = valueTable(bitmap);
  if (at + 4 > packed.length) throw tooShort();
  const length = view.getInt32(at, true);
  at += 4;
  if (length < 0 || at + length > packed.length)
    throw new FileError('the coded data do not lie in the chunk');
  const words = unhuffman(packed.subarray(at, at + length), chunkBytes(shape) / 2);

  const starts: number[] = [];
  let start = 0;
  for (const channel of channels) {
    starts.push(start);
    const { columns, rows } = gridOf(shape, channel);
    const size = BYTES_PER_SAMPLE[channel.type] / 2;
    for (let part = 0; part < size; part++)
      unwavelet(words, start + part, columns, size, rows, columns * size, highest);
    start += columns * rows * size;
  }
  const out = new Uint8Array(chunkBytes(shape));
  const outWords = new Uint16Array(out.buffer);
  forEachRun(shape, (index, row, byte, samples) => {
    const count = (samples * BYTES_PER_SAMPLE[channels[index]!.type]) / 2;
    const from = starts[index]! + row * count;
    for (let i = 0; i < count; i++) outWords[byte / 2 + i] = values[words[from + i]!]!;
  });
  return out;
}

const tooShort = (): FileError => new FileError('the coded data end too early');

/** The values that occur (0 always does), in order; what is decoded is an index into them. */
function valueTable(bitmap: Uint8Array): { values: Uint16Array; highest: number } {
  const values = new Uint16Array(65536);
  let count = 0;
  for (let value = 0; value < 65536; value++) {
    if (value === 0 || bitmap[value >> 3]! & (1 << (value & 7))) values[count++] = value;
  }
  return { values, highest: count - 1 };
}

/** Reads bits from the highest down. */
class Bits {
  private byte = 0;
  private left = 0;
  constructor(
    private readonly bytes: Uint8Array,
    private at: number,
  ) {}
  bit(): number {
    if (this.left === 0) {
      if (this.at >= this.bytes.length) throw tooShort();
      this.byte = this.bytes[this.at++]!;
      this.left = 8;
    }
    this.left--;
    return (this.byte >> this.left) & 1;
  }
  bits(count: number): number {
    let value = 0;
    for (let k = 0; k < count; k++) value = value * 2 + this.bit();
    return value;
  }
  /** The byte after the one that was begun. */
  get nextByte(): number {
    return this.at;
  }
}

export function unhuffman(bytes: Uint8Array, count: number): Uint16Array {
  const out = new Uint16Array(count);
  if (bytes.length === 0 && count === 0) return out;
  if (bytes.length < 20) throw tooShort();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [from, to, , bitCount] = [0, 4, 8, 12].map((at) => view.getUint32(at, true)) as [
    number,
    number,
    number,
    number,
  ];
  if (from >= SYMBOLS || to >= SYMBOLS || from > to) throw new FileError('the table of codes is damaged');
  const lengths = new Uint8Array(SYMBOLS);
  const table = new Bits(bytes, 20);
  for (let symbol = from; symbol <= to; symbol++) {
    const length = table.bits(6);
    if (length < ZERO_RUN) {
      lengths[symbol] = length;
      continue;
    }
    const run = length === LONG_ZERO_RUN ? table.bits(8) + SHORTEST_LONG_RUN : length - ZERO_RUN + 2;
    if (symbol + run > to + 1) throw new FileError('the table of codes is damaged');
    symbol += run - 1;
  }
  if (table.nextByte + Math.ceil(bitCount / 8) > bytes.length) throw tooShort();
  decodeSymbols(bytes.subarray(table.nextByte), bitCount, lengths, to, out);
  return out;
}

/** Bits that are looked up at once; longer codes are rare. */
const QUICK_BITS = 13;

/**
 * Decodes canonical codes. Codes of one length follow each other in value, longer ones begin below shorter ones.
 * The symbol `runSymbol` repeats what came before as often as the next 8 bits say.
 */
function decodeSymbols(
  bytes: Uint8Array,
  bitCount: number,
  lengths: Uint8Array,
  runSymbol: number,
  out: Uint16Array,
): void {
  const counts = new Array<number>(LONGEST_CODE + 1).fill(0);
  for (const length of lengths) if (length > 0) counts[length]!++;
  const firsts = new Array<number>(LONGEST_CODE + 1).fill(0);
  for (let length = LONGEST_CODE, code = 0; length > 0; length--) {
    firsts[length] = code;
    code = Math.floor((code + counts[length]!) / 2);
  }
  const offsets = new Array<number>(LONGEST_CODE + 2).fill(0);
  for (let length = 1; length <= LONGEST_CODE; length++)
    offsets[length + 1] = offsets[length]! + counts[length]!;
  const symbols = new Uint32Array(offsets[LONGEST_CODE + 1]!);
  const next = [...offsets];
  // Symbol in the lower 17 bits, length above; 0 where the code is longer.
  const quick = new Uint32Array(1 << QUICK_BITS);
  lengths.forEach((length, symbol) => {
    if (length === 0) return;
    const order = next[length]!++ - offsets[length]!;
    symbols[offsets[length]! + order] = symbol;
    if (length > QUICK_BITS) return;
    const code = firsts[length]! + order;
    const begin = code * 2 ** (QUICK_BITS - length);
    if (begin < quick.length) quick.fill((length << 17) | symbol, begin, begin + 2 ** (QUICK_BITS - length));
  });

  let position = 0;
  const peek = (at: number, count: number): number => {
    const byte = at >> 3;
    const word = ((bytes[byte] ?? 0) << 16) | ((bytes[byte + 1] ?? 0) << 8) | (bytes[byte + 2] ?? 0);
    return (word >> (24 - (at & 7) - count)) & ((1 << count) - 1);
  };
  let written = 0;
  // Where all bytes of a look-up are there, it needs no care at the end.
  const safe = (bytes.length - 4) * 8;
  while (written < out.length) {
    let symbol = -1;
    let window: number;
    if (position < safe) {
      const byte = position >> 3;
      const word = (bytes[byte]! << 16) | (bytes[byte + 1]! << 8) | bytes[byte + 2]!;
      window = (word >> (24 - (position & 7) - QUICK_BITS)) & ((1 << QUICK_BITS) - 1);
    } else window = peek(position, QUICK_BITS);
    const entry = quick[window]!;
    if (entry !== 0) {
      position += entry >> 17;
      symbol = entry & 0x1ffff;
    } else {
      let code = peek(position, QUICK_BITS);
      for (let length = QUICK_BITS + 1; length <= LONGEST_CODE; length++) {
        code = code * 2 + peek(position + length - 1, 1);
        const order = code - firsts[length]!;
        if (order < 0 || order >= counts[length]!) continue;
        symbol = symbols[offsets[length]! + order]!;
        position += length;
        break;
      }
    }
    if (symbol < 0 || position > bitCount) throw new FileError('a code of the compressed data is unknown');
    if (symbol !== runSymbol) {
      out[written++] = symbol;
      continue;
    }
    const run = peek(position, 8);
    position += 8;
    if (written === 0 || written + run > out.length || position > bitCount)
      throw new FileError('a run of the coded data is too long');
    out.fill(out[written - 1]!, written, written + run);
    written += run;
  }
}

/** A pair that was turned into its mean and difference, in 14 bits: the first in the low half, the second above. */
function split14(low: number, high: number): number {
  const h = (high << 16) >> 16;
  const a = ((low << 16) >> 16) + (h & 1) + (h >> 1);
  return (a & 0xffff) | ((a - h) << 16);
}

/** The same over all 16 bits, in arithmetic that wraps round. */
function split16(low: number, high: number): number {
  const b = low - (high >> 1);
  return ((high + (b & 0xffff) - 0x8000) & 0xffff) | (b << 16);
}

/**
 * Undoes the two-dimensional wavelet transform of `nx * ny` values that lie `ox` and `oy` apart, from the coarsest
 * level to the finest.
 */
function unwavelet(
  data: Uint16Array,
  start: number,
  nx: number,
  ox: number,
  ny: number,
  oy: number,
  highest: number,
): void {
  const split = highest >= 1 << 14 ? split16 : split14;
  const rows = highest >= 1 << 14 ? unwaveRow16 : unwaveRow14;
  const pair = (p: number, q: number): void => {
    const both = split(data[p]!, data[q]!);
    data[p] = both;
    data[q] = both >>> 16;
  };
  let double = 1;
  while (double <= Math.min(nx, ny)) double <<= 1;
  double >>= 1;
  for (let step = double >> 1; step >= 1; double = step, step >>= 1) {
    const count = Math.floor(nx / double);
    let y = 0;
    for (; y <= ny - double; y += double) {
      const p = start + y * oy;
      rows(data, p, count, double * ox, step * ox, step * oy);
      if (nx & step) {
        const odd = p + count * double * ox;
        pair(odd, odd + step * oy);
      }
    }
    if (ny & step)
      for (let k = 0, p = start + y * oy; k < count; k++, p += double * ox) pair(p, p + step * ox);
  }
}

/** Undoes squares of four values in a row, `count` of them, each `next` after the one before. */
function unwaveRow14(
  data: Uint16Array,
  start: number,
  count: number,
  next: number,
  right: number,
  below: number,
): void {
  for (let k = 0, p = start; k < count; k++, p += next) {
    const left = split14(data[p]!, data[p + below]!);
    const other = split14(data[p + right]!, data[p + right + below]!);
    const top = split14(left & 0xffff, other & 0xffff);
    const bottom = split14(left >>> 16, other >>> 16);
    data[p] = top;
    data[p + right] = top >>> 16;
    data[p + below] = bottom;
    data[p + right + below] = bottom >>> 16;
  }
}

/** The same over all 16 bits. Two functions, since one that is handed the arithmetic is several times slower. */
function unwaveRow16(
  data: Uint16Array,
  start: number,
  count: number,
  next: number,
  right: number,
  below: number,
): void {
  for (let k = 0, p = start; k < count; k++, p += next) {
    const left = split16(data[p]!, data[p + below]!);
    const other = split16(data[p + right]!, data[p + right + below]!);
    const top = split16(left & 0xffff, other & 0xffff);
    const bottom = split16(left >>> 16, other >>> 16);
    data[p] = top;
    data[p + right] = top >>> 16;
    data[p + below] = bottom;
    data[p + right + below] = bottom >>> 16;
  }
}
