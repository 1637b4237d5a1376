/**
 * The Huffman codes of PIZ and DWA chunks: canonical, up to 58 bits long, longer codes below shorter ones in value, most
 * significant bit first (Academy Software Foundation, OpenEXR 3.1, ImfHuf).
 */

import { BAD_CODES, ENDS_EARLY, LONG_RUN, UNKNOWN_CODE } from './faults';

const HEADER_BYTES = 20;
const SYMBOLS: u32 = 65537;
const LONGEST_CODE = 58;
/** Code lengths from here on stand for runs of zero lengths: short ones in themselves, the last with a count. */
const ZERO_RUN = 59;
const LONG_ZERO_RUN = 63;
const SHORTEST_LONG_RUN = 2 + LONG_ZERO_RUN - ZERO_RUN;

/** Bits that are looked up at once; longer codes are rare. */
const QUICK_BITS = 14;
/** Short codes that surely lie in a window of 57 bits. */
const SYMBOLS_IN_WINDOW = 4;

const CODE_LENGTHS = memory.data(65552, 16);
/** Symbols in the order of their codes' lengths, then of their own value. */
const ORDERED = memory.data(4 * 65537, 16);
/** Symbol in the lower 17 bits, length above; 0 where the code is longer. */
const QUICK = memory.data(4 << 14, 16);
const COUNTS = memory.data(4 * 59, 16);
const STARTS = memory.data(4 * 60, 16);
const NEXT = memory.data(4 * 60, 16);
/** The first code of each length, at the top of 64 bits. */
const FIRSTS = memory.data(8 * 59, 16);

/** At least 57 bits from bit `position` on, at the top of the word. Reads 8 bytes. */
function windowAt(bytes: usize, position: i32): u64 {
  const shift: u64 = position & 7;
  return bswap<u64>(load<u64>(bytes + (position >>> 3))) << shift;
}

/** All 64 bits from bit `position` on. */
function longWindowAt(bytes: usize, position: i32): u64 {
  const more = <u64>load<u8>(bytes + (position >>> 3), 8);
  const shift: u64 = 8 - (position & 7);
  return windowAt(bytes, position) | (more >> shift);
}

/** Reads the lengths of the codes of symbols `first` to `last`, and gives the bits that they took, or what is wrong. */
function readLengths(bytes: usize, bitCount: i32, first: i32, last: i32): i32 {
  memory.fill(CODE_LENGTHS, 0, SYMBOLS);
  let position = 0;
  for (let symbol = first; symbol <= last; symbol++) {
    if (position + 6 > bitCount) return ENDS_EARLY;
    const window = windowAt(bytes, position);
    const length = <i32>(window >> 58);
    position += 6;
    if (length < ZERO_RUN) {
      store<u8>(CODE_LENGTHS + symbol, <u8>length);
      continue;
    }
    let run = length - ZERO_RUN + 2;
    if (length === LONG_ZERO_RUN) {
      if (position + 8 > bitCount) return ENDS_EARLY;
      run = <i32>((window << 6) >> 56) + SHORTEST_LONG_RUN;
      position += 8;
    }
    if (symbol + run > last + 1) return BAD_CODES;
    symbol += run - 1;
  }
  return position;
}

/** Makes the tables of the codes whose lengths were read. */
function buildTables(first: i32, last: i32): void {
  memory.fill(COUNTS, 0, 4 * (LONGEST_CODE + 1));
  memory.fill(QUICK, 0, 4 << QUICK_BITS);
  for (let symbol = first; symbol <= last; symbol++) {
    const at = COUNTS + 4 * <usize>load<u8>(CODE_LENGTHS + symbol);
    store<i32>(at, load<i32>(at) + 1);
  }
  let code: u64 = 0;
  for (let length = LONGEST_CODE; length > 0; length--) {
    const spare: u64 = 64 - length;
    store<u64>(FIRSTS + 8 * <usize>length, code << spare);
    code = (code + load<u32>(COUNTS + 4 * <usize>length)) >> 1;
  }
  let start = 0;
  for (let length = 1; length <= LONGEST_CODE; length++) {
    const at = 4 * <usize>length;
    store<i32>(STARTS + at, start);
    store<i32>(NEXT + at, start);
    start += load<i32>(COUNTS + at);
  }
  for (let symbol = first; symbol <= last; symbol++) {
    const length = <i32>load<u8>(CODE_LENGTHS + symbol);
    if (length === 0) continue;
    const at = 4 * <usize>length;
    const place = load<i32>(NEXT + at);
    store<i32>(NEXT + at, place + 1);
    store<i32>(ORDERED + 4 * <usize>place, symbol);
    if (length > QUICK_BITS) continue;
    const order = <u64>(place - load<i32>(STARTS + at));
    const spare: u64 = QUICK_BITS - length;
    const begin = (load<u64>(FIRSTS + 2 * at) >> (64 - QUICK_BITS)) + (order << spare);
    const end = min<u64>(begin + ((<u64>1) << spare), 1 << QUICK_BITS);
    const entry = ((<u32>length) << 17) | (<u32>symbol);
    for (let k = begin; k < end; k++) store<u32>(QUICK + 4 * <usize>k, entry);
  }
}

/** Looks up a code of more than `QUICK_BITS` bits: an entry as in the quick table, or 0 if there is no such code. */
function findLong(window: u64): u32 {
  for (let length = QUICK_BITS + 1; length <= LONGEST_CODE; length++) {
    const at = 4 * <usize>length;
    const first = load<u64>(FIRSTS + 2 * at);
    if (window < first) continue;
    const order = (window - first) >> (<u64>(64 - length));
    if (order >= load<u32>(COUNTS + at)) continue;
    const place = <usize>load<i32>(STARTS + at) + <usize>order;
    return ((<u32>length) << 17) | load<u32>(ORDERED + 4 * place);
  }
  return 0;
}

/** Decodes `count` symbols of 16 bits from `bytes` to `to`. Gives 0, or what is wrong. */
function decodeSymbols(bytes: usize, bitCount: i32, runSymbol: u32, to: usize, count: i32): i32 {
  const start = to;
  const end = to + 2 * <usize>count;
  let position = 0;
  while (to < end) {
    if (position > bitCount) return UNKNOWN_CODE;
    let window = windowAt(bytes, position);
    let entry: u32 = 0;
    let left = SYMBOLS_IN_WINDOW;
    do {
      entry = load<u32>(QUICK + ((<usize>(window >> (64 - QUICK_BITS))) << 2));
      if (entry === 0 || (entry & 0x1ffff) === runSymbol) break;
      store<u16>(to, <u16>entry);
      to += 2;
      const length = entry >> 17;
      window <<= <u64>length;
      position += <i32>length;
    } while (--left && to < end);
    if (left === 0 || to >= end) continue;
    if (entry === 0) entry = findLong(longWindowAt(bytes, position));
    if (entry === 0) return UNKNOWN_CODE;
    position += <i32>(entry >> 17);
    if (position > bitCount) return UNKNOWN_CODE;
    const symbol = entry & 0x1ffff;
    if (symbol !== runSymbol) {
      store<u16>(to, <u16>symbol);
      to += 2;
      continue;
    }
    // The run symbol repeats what came before as often as the next 8 bits say.
    const run = <usize>(windowAt(bytes, position) >> 56);
    position += 8;
    if (to === start || to + 2 * run > end || position > bitCount) return LONG_RUN;
    const value = load<u16>(to - 2);
    for (const behind = to + 2 * run; to < behind; to += 2) store<u16>(to, value);
  }
  return position > bitCount ? UNKNOWN_CODE : 0;
}

/**
 * Decodes `length` bytes at `from` to exactly `count` 16-bit values at `to`. Gives 0, or what is wrong. Up to 16 bytes
 * after the data are read.
 */
export function unhuffman(from: usize, length: i32, to: usize, count: i32): i32 {
  if (length === 0 && count === 0) return 0;
  if (length < HEADER_BYTES) return ENDS_EARLY;
  const first = load<u32>(from);
  const last = load<u32>(from, 4);
  const bitCount = load<u32>(from, 12);
  if (first >= SYMBOLS || last >= SYMBOLS || first > last) return BAD_CODES;
  const table = from + HEADER_BYTES;
  const left = length - HEADER_BYTES;
  const tableBits = readLengths(table, left * 8, <i32>first, <i32>last);
  if (tableBits < 0) return tableBits;
  const tableBytes = (tableBits + 7) >>> 3;
  if (<u64>tableBytes + ((<u64>bitCount + 7) >>> 3) > <u64>left) return ENDS_EARLY;
  buildTables(<i32>first, <i32>last);
  return decodeSymbols(table + tableBytes, <i32>bitCount, last, to, count);
}
