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
  const view = new DataView(out.buffer);
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
    for (let y = 0; y < rows; y += 4) {
      for (let x = 0; x < columns; x += 4) {
        need(3);
        const flat = packed[from + 2]! >= FLAT;
        if (!flat) need(14);
        unpackBlock(packed, from, flat, block);
        from += flat ? 3 : 14;
        for (let v = 0; v < 4 && y + v < rows; v++) {
          for (let u = 0; u < 4 && x + u < columns; u++) {
            const half = block[v * 4 + u]!;
            view.setUint16(
              starts[index]![y + v]! + (x + u) * 2,
              linear ? logarithmTable()[half]! : half,
              true,
            );
          }
        }
      }
    }
  }
  if (from !== packed.length) throw new FileError('the block-compressed data do not have the promised size');
  return out;
}

/** Fifteen differences of 6 bits each, packed from byte 2 on after the shift that they share. */
function unpackBlock(b: Uint8Array, at: number, flat: boolean, out: Uint16Array): void {
  out[0] = (b[at]! << 8) | b[at + 1]!;
  if (flat) out.fill(out[0]);
  else {
    const shift = b[at + 2]! >> 2;
    const bias = 0x20 << shift;
    // The first column runs down from the corner, the others follow the column to their left.
    for (let k = 0; k < 15; k++) {
      const bit = 22 + 6 * k;
      const byte = at + (bit >> 3);
      const pair = (b[byte]! << 8) | (b[byte + 1] ?? 0);
      const difference = (pair >> (10 - (bit & 7))) & 0x3f;
      const column = k < 3 ? 0 : 1 + ((k - 3) >> 2);
      const row = k < 3 ? k + 1 : (k - 3) & 3;
      const source = column === 0 ? (row - 1) * 4 : row * 4 + column - 1;
      out[row * 4 + column] = out[source]! + (difference << shift) - bias;
    }
  }
  for (let i = 0; i < 16; i++) out[i] = out[i]! & 0x8000 ? out[i]! & 0x7fff : ~out[i]!;
}
