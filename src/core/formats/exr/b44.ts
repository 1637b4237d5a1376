import { FileError } from '../../errors';
import { floatToHalf, halvesToFloats } from '../../image/half';
import { chunkBytes, forEachRun, gridOf, type ChunkShape } from './layout';
import { BYTES_PER_SAMPLE } from './spec';

/** A block whose third byte is at least this is flat and takes 3 bytes instead of 14. */
const FLAT = 13 << 2;

let logarithm: Uint16Array | undefined;

/** Channels that are perceived linearly are stored as exp(x / 8): the way back, half to half. */
function logarithmTable(): Uint16Array {
  logarithm ??= Uint16Array.from(
    halvesToFloats(Uint16Array.from({ length: 65536 }, (_, half) => half)),
    (value) => (Number.isFinite(value) && value > 0 ? floatToHalf(8 * Math.log(value)) : 0),
  );
  return logarithm;
}

/** B44 and B44A: half channels in blocks of 4 x 4 pixels, other channels as they are; channel after channel. */
export function unpackB44(packed: Uint8Array, shape: ChunkShape): Uint8Array {
  const { channels } = shape;
  const out = new Uint8Array(chunkBytes(shape));
  const starts = channels.map((): number[] => []);
  forEachRun(shape, (index, row, at) => (starts[index]![row] = at));
  const halves = new Uint16Array(out.buffer);
  const block = new Uint16Array(16);
  let from = 0;
  const need = (bytes: number): void => {
    if (from + bytes > packed.length) throw new FileError('the block-compressed data end too early');
  };
  for (const [index, channel] of channels.entries()) {
    const { type, linear } = channel;
    const { columns, rows } = gridOf(shape, channel);
    if (type !== 'half') {
      const length = columns * BYTES_PER_SAMPLE[type];
      for (let row = 0; row < rows; row++) {
        need(length);
        out.set(packed.subarray(from, from + length), starts[index]![row]!);
        from += length;
      }
      continue;
    }
    const rowStarts = starts[index]!;
    const table = linear ? logarithmTable() : undefined;
    for (let y = 0; y < rows; y += 4) {
      const lines = Math.min(4, rows - y);
      for (let x = 0; x < columns; x += 4) {
        need(3);
        const flat = packed[from + 2]! >= FLAT;
        if (!flat) need(14);
        if (flat) block.fill(((packed[from]! << 8) | packed[from + 1]!) & 0xffff);
        else unpackBlock(packed, from, block);
        from += flat ? 3 : 14;
        const across = Math.min(4, columns - x);
        for (let v = 0; v < lines; v++) {
          const to = rowStarts[y + v]! / 2 + x;
          for (let u = 0; u < across; u++) {
            const stored = block[v * 4 + u]!;
            // The sign bit is stored flipped, negative numbers with all bits flipped, so that order is kept.
            const half = stored & 0x8000 ? stored & 0x7fff : ~stored & 0xffff;
            halves[to + u] = table ? table[half]! : half;
          }
        }
      }
    }
  }
  if (from !== packed.length) throw new FileError('the block-compressed data do not have the promised size');
  return out;
}

/**
 * Fifteen differences of 6 bits each, packed from byte 2 on after the shift that they share. The first column runs down
 * from the corner, the others follow the column to their left.
 */
function unpackBlock(b: Uint8Array, at: number, out: Uint16Array): void {
  const [b3, b4, b5] = [b[at + 3]!, b[at + 4]!, b[at + 5]!];
  const [b6, b7, b8] = [b[at + 6]!, b[at + 7]!, b[at + 8]!];
  const [b9, b10, b11] = [b[at + 9]!, b[at + 10]!, b[at + 11]!];
  const [b12, b13] = [b[at + 12]!, b[at + 13]!];
  const b2 = b[at + 2]!;
  const shift = b2 >> 2;
  const bias = 0x20 << shift;
  const step = (six: number): number => ((six & 0x3f) << shift) - bias;
  const s0 = (b[at]! << 8) | b[at + 1]!;
  const s4 = s0 + step((b2 << 4) | (b3 >> 4));
  const s8 = s4 + step((b3 << 2) | (b4 >> 6));
  const s12 = s8 + step(b4);
  const s1 = s0 + step(b5 >> 2);
  const s5 = s4 + step((b5 << 4) | (b6 >> 4));
  const s9 = s8 + step((b6 << 2) | (b7 >> 6));
  const s13 = s12 + step(b7);
  const s2 = s1 + step(b8 >> 2);
  const s6 = s5 + step((b8 << 4) | (b9 >> 4));
  const s10 = s9 + step((b9 << 2) | (b10 >> 6));
  const s14 = s13 + step(b10);
  out[0] = s0;
  out[1] = s1;
  out[2] = s2;
  out[3] = s2 + step(b11 >> 2);
  out[4] = s4;
  out[5] = s5;
  out[6] = s6;
  out[7] = s6 + step((b11 << 4) | (b12 >> 4));
  out[8] = s8;
  out[9] = s9;
  out[10] = s10;
  out[11] = s10 + step((b12 << 2) | (b13 >> 6));
  out[12] = s12;
  out[13] = s13;
  out[14] = s14;
  out[15] = s14 + step(b13);
}
