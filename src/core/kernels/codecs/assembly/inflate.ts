/** Inflate (RFC 1950 and 1951) of a stream whose size is known. */
import { adler32 } from './checksum';
import { DAMAGED, TOO_LONG, WRONG_CHECKSUM } from './faults';
import {
  buildTable,
  DISTANCES_CODE,
  END,
  LENGTHS_CODE,
  LINK,
  LITERAL,
  LITERALS_CODE,
  RESERVED,
} from './huffman';

const LITERAL_BITS = 11;
const DISTANCE_BITS = 8;
const LITERAL_CAPACITY = 8192;
const DISTANCE_CAPACITY = 4096;
const LITERALS = memory.data(4 * 8192, 16);
const DISTANCES = memory.data(4 * 4096, 16);
const LENGTHS = memory.data(512, 16);
const DISTANCE_LENGTHS = memory.data(64, 16);
const ORDER = memory.data<u8>([16, 17, 18, 0, 8, 7, 9, 6, 10, 5, 11, 4, 12, 3, 13, 2, 14, 1, 15]);

// Where the stream is read, between the steps that share it; the inner loop has copies of its own.
let source: usize = 0;
let bits: u64 = 0;
let held: i32 = 0;

/** Fills the bit buffer to at least 56 bits. May read up to 8 bytes beyond the stream, which must be there. */
function refill(): void {
  bits |= load<u64>(source) << held;
  source += (63 - held) >> 3;
  held |= 56;
}

function take(count: i32): i32 {
  const value = <i32>(bits & (((<u64>1) << count) - 1));
  bits >>= count;
  held -= count;
  return value;
}

function fixedTables(): bool {
  memory.fill(LENGTHS, 8, 144);
  memory.fill(LENGTHS + 144, 9, 112);
  memory.fill(LENGTHS + 256, 7, 24);
  memory.fill(LENGTHS + 280, 8, 8);
  memory.fill(DISTANCE_LENGTHS, 5, 32);
  return (
    buildTable(LENGTHS, 288, LITERALS, LITERAL_BITS, LITERALS_CODE, LITERAL_CAPACITY) &&
    buildTable(DISTANCE_LENGTHS, 32, DISTANCES, DISTANCE_BITS, DISTANCES_CODE, DISTANCE_CAPACITY)
  );
}

function dynamicTables(end: usize): bool {
  const literals = take(5) + 257;
  const distances = take(5) + 1;
  const lengths = take(4) + 4;
  if (literals > 286 || distances > 30) return false;
  memory.fill(LENGTHS, 0, 19);
  for (let i = 0; i < lengths; i++) {
    if (held < 3) refill();
    store<u8>(LENGTHS + load<u8>(ORDER + i), <u8>take(3));
  }
  if (!buildTable(LENGTHS, 19, DISTANCES, 7, LENGTHS_CODE, DISTANCE_CAPACITY)) return false;
  const wanted = literals + distances;
  memory.fill(LENGTHS, 0, 512);
  for (let i = 0; i < wanted;) {
    if (source > end + 8) return false;
    refill();
    const entry = load<u32>(DISTANCES + ((<usize>(bits & 127)) << 2));
    const length = <i32>(entry & 0xff);
    if (length == 0) return false;
    take(length);
    const symbol = entry >> 8;
    if (symbol < 16) {
      store<u8>(LENGTHS + i++, <u8>symbol);
      continue;
    }
    if (symbol == 16 && i == 0) return false;
    const repeated: u8 = symbol == 16 ? load<u8>(LENGTHS + i - 1) : 0;
    const times = symbol == 16 ? 3 + take(2) : symbol == 17 ? 3 + take(3) : 11 + take(7);
    if (i + times > wanted) return false;
    memory.fill(LENGTHS + i, repeated, times);
    i += times;
  }
  if (load<u8>(LENGTHS + 256) == 0) return false;
  memory.copy(DISTANCE_LENGTHS, LENGTHS + literals, distances);
  return (
    buildTable(LENGTHS, literals, LITERALS, LITERAL_BITS, LITERALS_CODE, LITERAL_CAPACITY) &&
    buildTable(DISTANCE_LENGTHS, distances, DISTANCES, DISTANCE_BITS, DISTANCES_CODE, DISTANCE_CAPACITY)
  );
}

/** Copies a match whose bytes may overlap themselves. May write up to 15 bytes beyond it. */
function copyMatch(to: usize, distance: i32, length: i32): void {
  const stop = to + length;
  let from = to - distance;
  if (distance >= 16) {
    do {
      v128.store(to, v128.load(from));
      to += 16;
      from += 16;
    } while (to < stop);
  } else if (distance == 1) {
    const same = i8x16.splat(load<i8>(from));
    do {
      v128.store(to, same);
      to += 16;
    } while (to < stop);
  } else if (distance >= 8) {
    do {
      store<u64>(to, load<u64>(from));
      to += 8;
      from += 8;
    } while (to < stop);
  } else {
    do store<u8>(to++, load<u8>(from++));
    while (to < stop);
  }
}

/** Decodes one compressed block; gives where its output ends, or a negative error. */
function block(start: usize, to: usize, stop: usize, end: usize): isize {
  let at = source;
  let buffer = bits;
  let count = held;
  const literalMask: u64 = (1 << LITERAL_BITS) - 1;
  const distanceMask: u64 = (1 << DISTANCE_BITS) - 1;
  while (true) {
    if (at > end + 8) return DAMAGED;
    buffer |= load<u64>(at) << count;
    at += (63 - count) >> 3;
    count |= 56;
    let entry = load<u32>(LITERALS + ((<usize>(buffer & literalMask)) << 2));
    // Three literals, at most 11 bits each here, leave room for what may follow after one refill.
    if (entry & LITERAL) {
      if (to + 3 > stop + 2) return TOO_LONG;
      buffer >>= entry & 0xff;
      count -= entry & 0xff;
      store<u8>(to++, <u8>(entry >> 8));
      entry = load<u32>(LITERALS + ((<usize>(buffer & literalMask)) << 2));
      if (entry & LITERAL) {
        buffer >>= entry & 0xff;
        count -= entry & 0xff;
        store<u8>(to++, <u8>(entry >> 8));
        entry = load<u32>(LITERALS + ((<usize>(buffer & literalMask)) << 2));
        if (entry & LITERAL) {
          buffer >>= entry & 0xff;
          count -= entry & 0xff;
          store<u8>(to++, <u8>(entry >> 8));
          continue;
        }
      }
      buffer |= load<u64>(at) << count;
      at += (63 - count) >> 3;
      count |= 56;
    }
    if (entry & LINK) {
      const sub = <u32>((buffer >> LITERAL_BITS) & (((<u64>1) << (entry & 0xff)) - 1));
      entry = load<u32>(LITERALS + ((<usize>(((entry >> 8) & 0xffff) + sub)) << 2));
      if (entry & LITERAL) {
        if (to >= stop) return TOO_LONG;
        buffer >>= entry & 0xff;
        count -= entry & 0xff;
        store<u8>(to++, <u8>(entry >> 8));
        continue;
      }
    }
    let used = <i32>(entry & 0xff);
    if (used == 0 || entry & RESERVED) return DAMAGED;
    buffer >>= used;
    count -= used;
    if (entry & END) break;
    let extra = (entry >> 24) & 7;
    const length = <i32>((entry >> 8) & 0x1ff) + <i32>(buffer & (((<u64>1) << extra) - 1));
    buffer >>= extra;
    count -= extra;
    entry = load<u32>(DISTANCES + ((<usize>(buffer & distanceMask)) << 2));
    if (entry & LINK) {
      const sub = <u32>((buffer >> DISTANCE_BITS) & (((<u64>1) << (entry & 0xff)) - 1));
      entry = load<u32>(DISTANCES + ((<usize>(((entry >> 8) & 0xffff) + sub)) << 2));
    }
    used = <i32>(entry & 0xff);
    if (used == 0 || entry & RESERVED) return DAMAGED;
    buffer >>= used;
    count -= used;
    extra = (entry >> 24) & 15;
    const distance = <i32>((entry >> 8) & 0x7fff) + <i32>(buffer & (((<u64>1) << extra) - 1));
    buffer >>= extra;
    count -= extra;
    if (<usize>distance > to - start) return DAMAGED;
    if (to + length > stop) return TOO_LONG;
    copyMatch(to, distance, length);
    to += length;
  }
  source = at;
  bits = buffer;
  held = count;
  return to;
}

/**
 * Inflates the zlib stream at `from` to `to`, at most `limit` bytes. Gives the number of bytes, or a negative error.
 * Sixteen bytes after the stream must be readable, and 320 after the output writable.
 */
export function inflate(from: usize, length: i32, to: usize, limit: i32): i32 {
  if (length < 6) return DAMAGED;
  const method = <u32>load<u8>(from);
  const flags = <u32>load<u8>(from + 1);
  if ((method & 15) != 8 || ((method << 8) | flags) % 31 != 0 || (flags & 32) != 0) return DAMAGED;
  const end = from + length - 4;
  const start = to;
  const stop = to + limit;
  source = from + 2;
  bits = 0;
  held = 0;
  let last = false;
  while (!last) {
    if (source > end + 8) return DAMAGED;
    refill();
    last = take(1) == 1;
    const kind = take(2);
    if (kind == 0) {
      source -= held >> 3;
      bits = 0;
      held = 0;
      if (source + 4 > end) return DAMAGED;
      const stored = <i32>load<u16>(source);
      if ((stored ^ (<i32>load<u16>(source + 2))) != 0xffff) return DAMAGED;
      source += 4;
      if (source + stored > end) return DAMAGED;
      if (to + stored > stop) return TOO_LONG;
      memory.copy(to, source, stored);
      source += stored;
      to += stored;
      continue;
    }
    if (kind == 3 || !(kind == 1 ? fixedTables() : dynamicTables(end))) return DAMAGED;
    const next = block(start, to, stop, end);
    if (next < 0) return <i32>next;
    to = next;
  }
  source -= held >> 3;
  if (source > end) return DAMAGED;
  const size = <i32>(to - start);
  return adler32(start, size) == bswap<u32>(load<u32>(source)) ? size : WRONG_CHECKSUM;
}
