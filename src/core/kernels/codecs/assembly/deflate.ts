/** Deflate (RFC 1950 and 1951): greedy matching with one step of looking ahead, blocks with codes of their own. */
import { adler32 } from './checksum';
import { distanceBase, distanceExtra, lengthBase, lengthExtra, reverseBits } from './huffman';

const WINDOW = 32768;
const MIN_MATCH = 4;
const MAX_MATCH = 258;
const HASH_BITS = 15;
/** How many earlier places are tried for a match. */
const DEPTH = 6;
/** A match of this length is taken without looking further. */
const GOOD = 24;
/** A block ends when it has so many tokens. */
const BLOCK_TOKENS = 1 << 15;
const END_OF_BLOCK = 256;
const LITERAL_SYMBOLS = 286;
const DISTANCE_SYMBOLS = 30;
const LENGTH_SYMBOLS = 19;

const HEAD = memory.data(4 << 15, 16);
const PREVIOUS = memory.data(4 << 15, 16);
/** A token is a literal, or a length in bits 16 to 24 over a distance (1 or more) in bits 0 to 15. */
const TOKENS = memory.data(4 << 15, 16);
const LITERAL_COUNTS = memory.data(4 * 288, 16);
const DISTANCE_COUNTS = memory.data(4 * 32, 16);
const LENGTH_COUNTS = memory.data(4 * 19, 16);
const LITERAL_LENGTHS = memory.data(288, 16);
const DISTANCE_LENGTHS = memory.data(32, 16);
const LENGTH_LENGTHS = memory.data(32, 16);
const LITERAL_CODES = memory.data(2 * 288, 16);
const DISTANCE_CODES = memory.data(2 * 32, 16);
const LENGTH_CODES = memory.data(2 * 32, 16);
/** Symbol of a match length (3 to 258), and of a distance below 257 and, in steps of 128, above. */
const LENGTH_SYMBOL = memory.data(260, 16);
const DISTANCE_SYMBOL = memory.data(512, 16);
const ORDER = memory.data<u8>([16, 17, 18, 0, 8, 7, 9, 6, 10, 5, 11, 4, 12, 3, 13, 2, 14, 1, 15]);
const SORTED = memory.data(4 * 288, 16);
const WEIGHTS = memory.data(4 * 2 * 288, 16);
const PARENTS = memory.data(2 * 2 * 288, 16);
const RUNS = memory.data(2 * 320, 16);
const BIT_COUNTS = memory.data(4 * 64, 16);

let out: usize = 0;
let bits: u64 = 0;
let held: i32 = 0;
let ready = false;

function prepare(): void {
  if (ready) return;
  for (let code = 0; code < 29; code++) {
    const base = lengthBase(code);
    for (let k = 0; k < 1 << lengthExtra(code); k++)
      if (base + k <= MAX_MATCH) store<u8>(LENGTH_SYMBOL + base + k, <u8>code);
  }
  for (let code = 0; code < DISTANCE_SYMBOLS; code++) {
    const base = distanceBase(code) - 1;
    const size = 1 << distanceExtra(code);
    for (let k = 0; k < size; k++) {
      const distance = base + k;
      if (distance < 256) store<u8>(DISTANCE_SYMBOL + distance, <u8>code);
      else store<u8>(DISTANCE_SYMBOL + 256 + (distance >> 7), <u8>code);
    }
  }
  ready = true;
}

function distanceSymbol(distance: i32): i32 {
  const d = distance - 1;
  return load<u8>(DISTANCE_SYMBOL + <usize>(d < 256 ? d : 256 + (d >> 7)));
}

function count(table: usize, symbol: i32): void {
  const at = table + ((<usize>symbol) << 2);
  store<u32>(at, load<u32>(at) + 1);
}

/** Adds bits to the output. Up to 16 at a time; whole bytes go out when there are 32. */
function put(value: u32, size: i32): void {
  bits |= (<u64>value) << held;
  held += size;
  if (held >= 32) {
    store<u32>(out, <u32>bits);
    out += 4;
    bits >>= 32;
    held -= 32;
  }
}

function flushBits(): void {
  while (held > 0) {
    store<u8>(out++, <u8>bits);
    bits >>= 8;
    held -= 8;
  }
  bits = 0;
  held = 0;
}

/**
 * Code lengths of a Huffman code for symbol counts, none longer than `limit` bits; the lengths that are too long are
 * shortened and others lengthened until the code is one again (the Kraft sum is 1).
 */
function codeLengths(counts: usize, symbols: i32, limit: i32, lengths: usize): void {
  memory.fill(lengths, 0, symbols);
  let used = 0;
  for (let s = 0; s < symbols; s++) {
    const weight = load<u32>(counts + ((<usize>s) << 2));
    if (weight == 0) continue;
    // Sorted by insertion: symbols come nearly in order of their counts, or there are few.
    let at = used++;
    for (; at > 0; at--) {
      const before = load<i32>(SORTED + ((<usize>(at - 1)) << 2));
      if (load<u32>(counts + ((<usize>before) << 2)) <= weight) break;
      store<i32>(SORTED + ((<usize>at) << 2), before);
    }
    store<i32>(SORTED + ((<usize>at) << 2), s);
  }
  if (used == 0) return;
  if (used == 1) {
    store<u8>(lengths + load<i32>(SORTED), 1);
    return;
  }
  for (let i = 0; i < used; i++)
    store<u32>(
      WEIGHTS + ((<usize>i) << 2),
      load<u32>(counts + ((<usize>load<i32>(SORTED + ((<usize>i) << 2))) << 2)),
    );
  // Two queues: leaves in order of weight, and inner nodes, which arise in that order.
  let leaf = 0;
  let inner = used;
  const nodes = 2 * used - 1;
  for (let node = used; node < nodes; node++) {
    let weight: u32 = 0;
    for (let side = 0; side < 2; side++) {
      const takeLeaf =
        leaf < used &&
        (inner >= node ||
          load<u32>(WEIGHTS + ((<usize>leaf) << 2)) <= load<u32>(WEIGHTS + ((<usize>inner) << 2)));
      const child = takeLeaf ? leaf++ : inner++;
      weight += load<u32>(WEIGHTS + ((<usize>child) << 2));
      store<u16>(PARENTS + ((<usize>child) << 1), <u16>node);
    }
    store<u32>(WEIGHTS + ((<usize>node) << 2), weight);
  }
  memory.fill(BIT_COUNTS, 0, 4 * 64);
  // Depths from the root down take the place of the weights.
  store<u32>(WEIGHTS + ((<usize>(nodes - 1)) << 2), 0);
  for (let node = nodes - 2; node >= 0; node--) {
    const parent = load<u16>(PARENTS + ((<usize>node) << 1));
    const depth = load<u32>(WEIGHTS + ((<usize>parent) << 2)) + 1;
    store<u32>(WEIGHTS + ((<usize>node) << 2), depth);
    if (node < used) count(BIT_COUNTS, min(<i32>depth, limit));
  }
  let kraft: u32 = 0;
  for (let b = 1; b <= limit; b++) kraft += load<u32>(BIT_COUNTS + ((<usize>b) << 2)) << (limit - b);
  while (kraft > (<u32>1) << limit) {
    // One leaf of the deepest level goes up beside one of a higher level that goes down.
    store<u32>(BIT_COUNTS + ((<usize>limit) << 2), load<u32>(BIT_COUNTS + ((<usize>limit) << 2)) - 1);
    for (let b = limit - 1; b > 0; b--) {
      const at = BIT_COUNTS + ((<usize>b) << 2);
      if (load<u32>(at) == 0) continue;
      store<u32>(at, load<u32>(at) - 1);
      store<u32>(at + 4, load<u32>(at + 4) + 2);
      break;
    }
    kraft--;
  }
  let at = used;
  for (let b = 1; b <= limit; b++)
    for (let k = load<u32>(BIT_COUNTS + ((<usize>b) << 2)); k > 0; k--)
      store<u8>(lengths + load<i32>(SORTED + ((<usize>--at) << 2)), <u8>b);
}

/** The codes of lengths, bits reversed as they are written. */
function canonicalCodes(lengths: usize, symbols: i32, codes: usize): void {
  memory.fill(BIT_COUNTS, 0, 4 * 64);
  for (let s = 0; s < symbols; s++) count(BIT_COUNTS, load<u8>(lengths + s));
  store<u32>(BIT_COUNTS, 0);
  let code: u32 = 0;
  let before: u32 = 0;
  for (let b = 1; b <= 15; b++) {
    const at = BIT_COUNTS + ((<usize>b) << 2);
    code = (code + before) << 1;
    before = load<u32>(at);
    store<u32>(at, code);
  }
  for (let s = 0; s < symbols; s++) {
    const length = <i32>load<u8>(lengths + s);
    if (length == 0) continue;
    const at = BIT_COUNTS + ((<usize>length) << 2);
    const own = load<u32>(at);
    store<u32>(at, own + 1);
    store<u16>(codes + ((<usize>s) << 1), <u16>reverseBits(own, length));
  }
}

/** Runs of equal code lengths as symbols of the lengths' own code; the extra bits are in the high byte. */
function lengthRuns(literals: i32, distances: i32): i32 {
  memory.fill(LENGTH_COUNTS, 0, 4 * LENGTH_SYMBOLS);
  const total = literals + distances;
  let runs = 0;
  for (let i = 0; i < total;) {
    const value = lengthAt(i, literals);
    let same = 1;
    while (i + same < total && lengthAt(i + same, literals) == value) same++;
    i += same;
    let first = true;
    while (same > 0) {
      let symbol = value;
      let extra = 0;
      let taken = 1;
      if (value == 0 && same >= 11) {
        taken = min(same, 138);
        symbol = 18;
        extra = taken - 11;
      } else if (value == 0 && same >= 3) {
        taken = same;
        symbol = 17;
        extra = taken - 3;
      } else if (!first && same >= 3) {
        taken = min(same, 6);
        symbol = 16;
        extra = taken - 3;
      }
      first = false;
      same -= taken;
      count(LENGTH_COUNTS, symbol);
      store<u16>(RUNS + ((<usize>runs) << 1), <u16>(symbol | (extra << 8)));
      runs++;
    }
  }
  return runs;
}

function lengthAt(index: i32, literals: i32): i32 {
  return index < literals ? load<u8>(LITERAL_LENGTHS + index) : load<u8>(DISTANCE_LENGTHS + index - literals);
}

function writeTokens(tokens: i32): void {
  for (let t = 0; t < tokens; t++) {
    const token = load<u32>(TOKENS + ((<usize>t) << 2));
    const length = <i32>(token >> 16);
    if (length == 0) {
      put(load<u16>(LITERAL_CODES + ((<usize>token) << 1)), load<u8>(LITERAL_LENGTHS + token));
      continue;
    }
    const code = <i32>load<u8>(LENGTH_SYMBOL + length);
    put(load<u16>(LITERAL_CODES + ((<usize>(257 + code)) << 1)), load<u8>(LITERAL_LENGTHS + 257 + code));
    const extra = lengthExtra(code);
    if (extra) put(length - lengthBase(code), extra);
    const distance = <i32>(token & 0xffff);
    const symbol = distanceSymbol(distance);
    put(load<u16>(DISTANCE_CODES + ((<usize>symbol) << 1)), load<u8>(DISTANCE_LENGTHS + symbol));
    const far = distanceExtra(symbol);
    if (far) put(distance - distanceBase(symbol), far);
  }
  put(load<u16>(LITERAL_CODES + (END_OF_BLOCK << 1)), load<u8>(LITERAL_LENGTHS + END_OF_BLOCK));
}

function tokenBits(): u32 {
  let sum: u32 = 0;
  for (let s = 0; s < LITERAL_SYMBOLS; s++) {
    const extra = s > 256 ? lengthExtra(s - 257) : 0;
    sum += load<u32>(LITERAL_COUNTS + ((<usize>s) << 2)) * (load<u8>(LITERAL_LENGTHS + s) + extra);
  }
  for (let s = 0; s < DISTANCE_SYMBOLS; s++)
    sum +=
      load<u32>(DISTANCE_COUNTS + ((<usize>s) << 2)) * (load<u8>(DISTANCE_LENGTHS + s) + distanceExtra(s));
  return sum;
}

function writeStored(from: usize, length: i32, last: bool): void {
  while (true) {
    const part = min(length, 65535);
    put(last && part == length ? 1 : 0, 3);
    flushBits();
    store<u16>(out, <u16>part);
    store<u16>(out + 2, <u16>~part);
    memory.copy(out + 4, from, part);
    out += 4 + part;
    from += part;
    length -= part;
    if (length == 0) return;
  }
}

function writeBlock(tokens: i32, from: usize, length: i32, last: bool): void {
  count(LITERAL_COUNTS, END_OF_BLOCK);
  codeLengths(LITERAL_COUNTS, LITERAL_SYMBOLS, 15, LITERAL_LENGTHS);
  codeLengths(DISTANCE_COUNTS, DISTANCE_SYMBOLS, 15, DISTANCE_LENGTHS);
  let literals = LITERAL_SYMBOLS;
  while (literals > 257 && load<u8>(LITERAL_LENGTHS + literals - 1) == 0) literals--;
  let distances = DISTANCE_SYMBOLS;
  while (distances > 1 && load<u8>(DISTANCE_LENGTHS + distances - 1) == 0) distances--;
  const runs = lengthRuns(literals, distances);
  if ((tokenBits() >> 3) + 100 > <u32>length) {
    writeStored(from, length, last);
  } else {
    codeLengths(LENGTH_COUNTS, LENGTH_SYMBOLS, 7, LENGTH_LENGTHS);
    canonicalCodes(LITERAL_LENGTHS, LITERAL_SYMBOLS, LITERAL_CODES);
    canonicalCodes(DISTANCE_LENGTHS, DISTANCE_SYMBOLS, DISTANCE_CODES);
    canonicalCodes(LENGTH_LENGTHS, LENGTH_SYMBOLS, LENGTH_CODES);
    let sent = LENGTH_SYMBOLS;
    while (sent > 4 && load<u8>(LENGTH_LENGTHS + load<u8>(ORDER + sent - 1)) == 0) sent--;
    put(last ? 1 : 0, 1);
    put(2, 2);
    put(literals - 257, 5);
    put(distances - 1, 5);
    put(sent - 4, 4);
    for (let i = 0; i < sent; i++) put(load<u8>(LENGTH_LENGTHS + load<u8>(ORDER + i)), 3);
    for (let i = 0; i < runs; i++) {
      const run = load<u16>(RUNS + ((<usize>i) << 1));
      const symbol = run & 0xff;
      put(load<u16>(LENGTH_CODES + ((<usize>symbol) << 1)), load<u8>(LENGTH_LENGTHS + symbol));
      if (symbol > 15) put(run >> 8, symbol == 16 ? 2 : symbol == 17 ? 3 : 7);
    }
    writeTokens(tokens);
  }
  memory.fill(LITERAL_COUNTS, 0, 4 * 288);
  memory.fill(DISTANCE_COUNTS, 0, 4 * 32);
}

function hash(at: usize): usize {
  return (<usize>((load<u32>(at) * 0x9e37_79b1) >> (32 - HASH_BITS))) << 2;
}

function matchLength(a: usize, b: usize, limit: i32): i32 {
  let length = 0;
  while (length + 8 <= limit) {
    const difference = load<u64>(a + length) ^ load<u64>(b + length);
    if (difference) return length + <i32>(ctz(difference) >> 3);
    length += 8;
  }
  while (length < limit && load<u8>(a + length) == load<u8>(b + length)) length++;
  return length;
}

/** Puts a place into the chain of its hash and gives the place before it, or -1. */
function remember(start: usize, position: i32): i32 {
  const slot = HEAD + hash(start + position);
  const before = load<i32>(slot);
  store<i32>(slot, position);
  store<i32>(PREVIOUS + ((<usize>(position & (WINDOW - 1))) << 2), before);
  return before;
}

/** The longest match of a few earlier places: its length over its distance, or 0. */
function findMatch(start: usize, position: i32, candidate: i32, length: i32): u32 {
  const limit = min(MAX_MATCH, length - position);
  const floor = position - WINDOW;
  let best = MIN_MATCH - 1;
  let distance = 0;
  for (let tries = DEPTH; tries > 0 && candidate >= 0 && candidate > floor; tries--) {
    const there = start + candidate;
    if (load<u8>(there + best) == load<u8>(start + position + best)) {
      const found = matchLength(there, start + position, limit);
      if (found > best) {
        best = found;
        distance = position - candidate;
        if (found >= GOOD || found == limit) break;
      }
    }
    candidate = load<i32>(PREVIOUS + ((<usize>(candidate & (WINDOW - 1))) << 2));
  }
  return distance == 0 ? 0 : ((<u32>best) << 16) | (<u32>distance);
}

/**
 * Deflates `length` bytes at `from` into a zlib stream at `to` and gives its size. The output may be a little longer
 * than the input (5 bytes for each 65535, and 64); eight bytes after the input must be readable.
 */
export function deflate(from: usize, length: i32, to: usize): i32 {
  prepare();
  memory.fill(HEAD, 0xff, 4 << HASH_BITS);
  memory.fill(LITERAL_COUNTS, 0, 4 * 288);
  memory.fill(DISTANCE_COUNTS, 0, 4 * 32);
  out = to;
  bits = 0;
  held = 0;
  store<u8>(out++, 0x78);
  store<u8>(out++, 0x5e);
  let tokens = 0;
  let blockStart = 0;
  let position = 0;
  let misses = 0;
  const searchable = length - MIN_MATCH - 8;
  while (position < length) {
    let match: u32 = 0;
    if (position < searchable) match = findMatch(from, position, remember(from, position), length);
    if (match != 0 && <i32>(match >> 16) < GOOD && position + 1 < searchable) {
      // A longer match may begin one byte later.
      const next = findMatch(from, position + 1, load<i32>(HEAD + hash(from + position + 1)), length);
      if (next >> 16 > match >> 16) match = 0;
    }
    if (match == 0) {
      // Where nothing matches for long, not every place is tried.
      const step = min(1 + (misses >> 6), length - position);
      misses = min(misses + 1, 64 * 7);
      for (let k = 0; k < step; k++) {
        const value = <i32>load<u8>(from + position++);
        count(LITERAL_COUNTS, value);
        store<u32>(TOKENS + ((<usize>tokens) << 2), value);
        tokens++;
      }
    } else {
      misses = 0;
      const size = <i32>(match >> 16);
      count(LITERAL_COUNTS, 257 + load<u8>(LENGTH_SYMBOL + size));
      count(DISTANCE_COUNTS, distanceSymbol(<i32>(match & 0xffff)));
      store<u32>(TOKENS + ((<usize>tokens) << 2), match);
      tokens++;
      const end = position + size;
      for (position++; position < end; position += 2) if (position < searchable) remember(from, position);
      position = end;
    }
    if (tokens >= BLOCK_TOKENS - 16) {
      writeBlock(tokens, from + blockStart, position - blockStart, position == length);
      tokens = 0;
      blockStart = position;
    }
  }
  if (tokens > 0 || length == 0) writeBlock(tokens, from + blockStart, length - blockStart, true);
  flushBits();
  store<u32>(out, bswap<u32>(adler32(from, length)));
  return <i32>(out + 4 - to);
}
