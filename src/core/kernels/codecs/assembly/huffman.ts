/** Decoding tables of canonical Huffman codes (RFC 1951, section 3.2.2), root table and sub-tables in one. */

/** An entry decodes a literal; its value is in bits 8 to 15. */
export const LITERAL: u32 = 0x8000_0000;
/** An entry ends the block. */
export const END: u32 = 0x4000_0000;
/** An entry leads on to a sub-table: its place is in bits 8 to 23, its index bits in bits 0 to 7. */
export const LINK: u32 = 0x2000_0000;
/** An entry that no valid stream reaches, though its code is a code. */
export const RESERVED: u32 = 0x1000_0000;

/** What a code's symbols stand for. */
export const LENGTHS_CODE: i32 = 0;
export const LITERALS_CODE: i32 = 1;
export const DISTANCES_CODE: i32 = 2;

const LENGTH_BASE = memory.data<u16>([
  3, 4, 5, 6, 7, 8, 9, 10, 11, 13, 15, 17, 19, 23, 27, 31, 35, 43, 51, 59, 67, 83, 99, 115, 131, 163, 195,
  227, 258,
]);
const LENGTH_EXTRA = memory.data<u8>([
  0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3, 4, 4, 4, 4, 5, 5, 5, 5, 0,
]);
const DISTANCE_BASE = memory.data<u16>([
  1, 2, 3, 4, 5, 7, 9, 13, 17, 25, 33, 49, 65, 97, 129, 193, 257, 385, 513, 769, 1025, 1537, 2049, 3073, 4097,
  6145, 8193, 12289, 16385, 24577,
]);
const DISTANCE_EXTRA = memory.data<u8>([
  0, 0, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6, 7, 7, 8, 8, 9, 9, 10, 10, 11, 11, 12, 12, 13, 13,
]);

export function lengthBase(code: i32): i32 {
  return load<u16>(LENGTH_BASE + ((<usize>code) << 1));
}
export function lengthExtra(code: i32): i32 {
  return load<u8>(LENGTH_EXTRA + code);
}
export function distanceBase(code: i32): i32 {
  return load<u16>(DISTANCE_BASE + ((<usize>code) << 1));
}
export function distanceExtra(code: i32): i32 {
  return load<u8>(DISTANCE_EXTRA + code);
}

const MAX_BITS = 15;
const COUNTS = memory.data(4 * (MAX_BITS + 1), 16);
const NEXT = memory.data(4 * (MAX_BITS + 1), 16);
/** Per root index, by how many bits its longest code goes beyond the root. */
const BEYOND = memory.data(1 << 11, 16);

export function reverseBits(code: u32, count: i32): u32 {
  let out: u32 = 0;
  for (let i = 0; i < count; i++) {
    out = (out << 1) | (code & 1);
    code >>= 1;
  }
  return out;
}

/** What a symbol's entry says, without the length of its code. */
function meaning(kind: i32, symbol: i32): u32 {
  if (kind == LENGTHS_CODE) return (<u32>symbol) << 8;
  if (kind == DISTANCES_CODE) {
    if (symbol > 29) return RESERVED;
    return ((<u32>distanceBase(symbol)) << 8) | ((<u32>distanceExtra(symbol)) << 24);
  }
  if (symbol < 256) return LITERAL | ((<u32>symbol) << 8);
  if (symbol == 256) return END;
  if (symbol > 285) return RESERVED;
  return ((<u32>lengthBase(symbol - 257)) << 8) | ((<u32>lengthExtra(symbol - 257)) << 24);
}

function firstCodes(lengths: usize, count: i32, kind: i32): bool {
  memory.fill(COUNTS, 0, 4 * (MAX_BITS + 1));
  for (let i = 0; i < count; i++) {
    const at = COUNTS + ((<usize>load<u8>(lengths + i)) << 2);
    store<u32>(at, load<u32>(at) + 1);
  }
  store<u32>(COUNTS, 0);
  let code: u32 = 0;
  let unused: i32 = 1;
  let used: u32 = 0;
  for (let bits = 1; bits <= MAX_BITS; bits++) {
    const shorter = load<u32>(COUNTS + ((<usize>(bits - 1)) << 2));
    const here = load<u32>(COUNTS + ((<usize>bits) << 2));
    code = (code + shorter) << 1;
    store<u32>(NEXT + ((<usize>bits) << 2), code);
    unused = (unused << 1) - <i32>here;
    used += here;
    if (unused < 0) return false;
  }
  // A block without matches may name one distance code, or none.
  return unused == 0 || (kind == DISTANCES_CODE && used <= 1);
}

/**
 * Builds the table of a code from its symbols' code lengths. Says false for lengths that make no code, or more
 * sub-tables than `capacity` entries hold.
 */
export function buildTable(
  lengths: usize,
  count: i32,
  table: usize,
  rootBits: i32,
  kind: i32,
  capacity: i32,
): bool {
  if (!firstCodes(lengths, count, kind)) return false;
  const root = 1 << rootBits;
  const mask = <u32>(root - 1);
  memory.fill(table, 0, (<usize>root) << 2);
  memory.fill(BEYOND, 0, root);
  // Where codes are longer than the root, how long is the longest?
  let code: u32 = 0;
  for (let bits = rootBits + 1; bits <= MAX_BITS; bits++) {
    code = load<u32>(NEXT + ((<usize>bits) << 2));
    for (let k = load<u32>(COUNTS + ((<usize>bits) << 2)); k > 0; k--) {
      store<u8>(BEYOND + (reverseBits(code++, bits) & mask), <u8>(bits - rootBits));
    }
  }
  let free = root;
  for (let i = 0; i < root; i++) {
    const extra = <i32>load<u8>(BEYOND + i);
    if (extra == 0) continue;
    const size = 1 << extra;
    if (free + size > capacity) return false;
    store<u32>(table + ((<usize>i) << 2), LINK | ((<u32>free) << 8) | (<u32>extra));
    memory.fill(table + ((<usize>free) << 2), 0, (<usize>size) << 2);
    free += size;
  }
  for (let symbol = 0; symbol < count; symbol++) {
    const bits = <i32>load<u8>(lengths + symbol);
    if (bits == 0) continue;
    const next = NEXT + ((<usize>bits) << 2);
    code = load<u32>(next);
    store<u32>(next, code + 1);
    const reversed = reverseBits(code, bits);
    const entry = meaning(kind, symbol) | (<u32>bits);
    if (bits <= rootBits) {
      for (let i = reversed; i <= mask; i += 1 << bits) store<u32>(table + ((<usize>i) << 2), entry);
    } else {
      const link = load<u32>(table + ((<usize>(reversed & mask)) << 2));
      const sub = table + ((<usize>((link >> 8) & 0xffff)) << 2);
      const size: u32 = 1 << (link & 0xff);
      for (let i = reversed >> rootBits; i < size; i += 1 << (bits - rootBits))
        store<u32>(sub + ((<usize>i) << 2), entry);
    }
  }
  return true;
}
