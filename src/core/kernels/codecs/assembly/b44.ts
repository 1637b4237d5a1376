/** B44 and B44A: half channels in blocks of 4 x 4 pixels, other channels as they are; channel after channel. */
import { bytesPerSample, Channel, channelOf, Chunk, HALF, hasLine } from './chunk';
import { ENDS_EARLY, WRONG_SIZE } from './faults';

/** A block whose third byte is at least this is flat and takes 3 bytes instead of 14. */
const FLAT: u8 = 13 << 2;
const FLAT_BYTES = 3;
const BLOCK_BYTES = 14;

/** The block that is at work, row after row. */
const BLOCK = memory.data(32, 16);

/**
 * Unpacks `length` bytes at `from` to samples at `to`. `starts` has room for where each row of a channel begins. Gives 0, or
 * what is wrong.
 */
export function unpackB44(from: usize, length: i32, chunk: Chunk, starts: usize, to: usize): i32 {
  const end = from + length;
  for (let index = 0; index < chunk.channels; index++) {
    const channel = channelOf(chunk, index);
    findRows(chunk, index, to, starts);
    if (channel.type === HALF) from = unpackBlocks(channel, from, end, starts);
    else from = copyRows(channel, from, end, starts);
    if (from === 0) return ENDS_EARLY;
  }
  return from === end ? 0 : WRONG_SIZE;
}

/** Where each row of a channel goes: line after line, in each channel after channel. */
function findRows(chunk: Chunk, wanted: i32, to: usize, starts: usize): void {
  for (let line = chunk.y; line < chunk.y + chunk.lines; line++) {
    for (let index = 0; index < chunk.channels; index++) {
      const channel = channelOf(chunk, index);
      if (!hasLine(channel, line)) continue;
      if (index === wanted) {
        store<usize>(starts, to);
        starts += sizeof<usize>();
      }
      to += <usize>(channel.columns * bytesPerSample(channel));
    }
  }
}

function copyRows(channel: Channel, from: usize, end: usize, starts: usize): usize {
  const bytes = <usize>(channel.columns * bytesPerSample(channel));
  for (let row = 0; row < channel.rows; row++, from += bytes) {
    if (from + bytes > end) return 0;
    memory.copy(load<usize>(starts + <usize>row * sizeof<usize>()), from, bytes);
  }
  return from;
}

/** Gives where the next channel's data begin, or 0 if the data end before. */
function unpackBlocks(channel: Channel, from: usize, end: usize, starts: usize): usize {
  const columns = channel.columns;
  const rows = channel.rows;
  const table = channel.table;
  for (let y = 0; y < rows; y += 4) {
    const lines = min(4, rows - y);
    for (let x = 0; x < columns; x += 4) {
      if (from + FLAT_BYTES > end) return 0;
      let upper: v128;
      let lower: v128;
      if (load<u8>(from, 2) >= FLAT) {
        upper = i16x8.splat(<i16>bswap<u16>(load<u16>(from)));
        lower = upper;
        from += FLAT_BYTES;
      } else {
        if (from + BLOCK_BYTES > end) return 0;
        readBlock(from);
        upper = v128.load(BLOCK);
        lower = v128.load(BLOCK, 16);
        from += BLOCK_BYTES;
      }
      v128.store(BLOCK, toHalves(upper));
      v128.store(BLOCK, toHalves(lower), 16);
      if (table) for (let i: usize = 0; i < 32; i += 2) lookUp(BLOCK + i, table);
      const across = min(4, columns - x);
      for (let v = 0; v < lines; v++) {
        const out = load<usize>(starts + <usize>(y + v) * sizeof<usize>()) + 2 * <usize>x;
        const row = BLOCK + 8 * <usize>v;
        if (across === 4) store<u64>(out, load<u64>(row));
        else for (let u: usize = 0; u < <usize>across; u++) store<u16>(out + 2 * u, load<u16>(row + 2 * u));
      }
    }
  }
  return from;
}

/** The sign bit is stored flipped, negative numbers with all bits flipped, so that order is kept. */
function toHalves(stored: v128): v128 {
  return v128.xor(stored, v128.or(v128.not(i16x8.shr_s(stored, 15)), i16x8.splat(-0x8000)));
}

function lookUp(at: usize, table: usize): void {
  store<u16>(at, load<u16>(table + ((<usize>load<u16>(at)) << 1)));
}

/**
 * The corner's 16 bits, 6 for the shift that all differences share, then fifteen differences of 6 bits. The first column
 * runs down from the corner, the others follow the column to their left.
 */
function readBlock(from: usize): void {
  const high = bswap<u64>(load<u64>(from));
  const low = bswap<u64>(load<u64>(from, 6));
  const shift = (<i32>(high >> 42)) & 0x3f;
  const bias = 0x20 << shift;
  const s0 = <i32>(high >> 48);
  // `high` has bits 0 to 63 of the block, `low` has bits 48 to 111.
  const s4 = s0 + step(high, 36, shift, bias);
  const s8 = s4 + step(high, 30, shift, bias);
  const s12 = s8 + step(high, 24, shift, bias);
  const s1 = s0 + step(high, 18, shift, bias);
  const s5 = s4 + step(high, 12, shift, bias);
  const s9 = s8 + step(high, 6, shift, bias);
  const s13 = s12 + step(high, 0, shift, bias);
  const s2 = s1 + step(low, 42, shift, bias);
  const s6 = s5 + step(low, 36, shift, bias);
  const s10 = s9 + step(low, 30, shift, bias);
  const s14 = s13 + step(low, 24, shift, bias);
  put(0, s0, s1, s2, s2 + step(low, 18, shift, bias));
  put(8, s4, s5, s6, s6 + step(low, 12, shift, bias));
  put(16, s8, s9, s10, s10 + step(low, 6, shift, bias));
  put(24, s12, s13, s14, s14 + step(low, 0, shift, bias));
}

function step(bits: u64, at: u64, shift: i32, bias: i32): i32 {
  return (((<i32>(bits >> at)) & 0x3f) << shift) - bias;
}

function put(row: usize, a: i32, b: i32, c: i32, d: i32): void {
  store<u16>(BLOCK + row, <u16>a);
  store<u16>(BLOCK + row, <u16>b, 2);
  store<u16>(BLOCK + row, <u16>c, 4);
  store<u16>(BLOCK + row, <u16>d, 6);
}
