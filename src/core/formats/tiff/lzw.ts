import { FileError } from '../../errors';
import { COPY_AGAIN } from '../limits';

const [CLEAR, END, FIRST_FREE] = [256, 257, 258] as const;
const [FIRST_BITS, MOST_BITS] = [9, 12] as const;
const TABLE_SIZE = 1 << MOST_BITS;

/**
 * Decodes LZW as TIFF has it (TIFF 6.0, section 13: most significant bit first, codes grow one code early) into a block of
 * `size` bytes. What a stream holds beyond the block is left out; a code that cannot be is an error.
 */
export function decodeLzw(packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  // Every entry is a run of bytes that was written before: where it begins, and how long it is.
  const start = new Int32Array(TABLE_SIZE);
  const length = new Int32Array(TABLE_SIZE);
  let [next, bits] = [FIRST_FREE as number, FIRST_BITS as number];
  let [buffer, held, at, from] = [0, 0, 0, 0];
  let previous = -1;
  while (at < size) {
    while (held < bits && from < packed.length) {
      buffer = ((buffer << 8) | packed[from++]!) & 0xffffff;
      held += 8;
    }
    // A stream that stops without saying so is one whose end was cut off.
    if (held < bits) break;
    held -= bits;
    const code = (buffer >> held) & ((1 << bits) - 1);
    if (code === END) break;
    if (code === CLEAR) {
      [next, bits, previous] = [FIRST_FREE, FIRST_BITS, -1];
      continue;
    }
    const begins = at;
    if (code < CLEAR) out[at++] = code;
    else if (code < next) at = copyRun(out, start[code]!, length[code]!, at);
    else if (code === next && previous >= 0) {
      // The run before, and its first byte once more.
      at = copyRun(out, previous, begins - previous, at);
      if (at < size) out[at++] = out[previous]!;
    } else throw new FileError('the TIFF is damaged: an LZW code that cannot be', COPY_AGAIN);
    if (previous >= 0 && next < TABLE_SIZE) {
      start[next] = previous;
      length[next] = begins - previous + 1;
      next++;
    }
    previous = begins;
    if (next + 1 >= 1 << bits && bits < MOST_BITS) bits++;
  }
  return out;
}

/** Copies a run that was written before to the end, as far as there is room; gives the new end. */
function copyRun(out: Uint8Array, from: number, count: number, at: number): number {
  const end = Math.min(out.length, at + count);
  // Byte by byte, since the two may overlap.
  for (let i = at, k = from; i < end; i++, k++) out[i] = out[k]!;
  return end;
}
