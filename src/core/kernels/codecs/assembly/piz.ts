/** PIZ: a table of the values in use, a wavelet transform over each channel, Huffman codes. */
import { unhuffman } from './canonical';
import { bytesPerSample, channelOf, Chunk, hasLine } from './chunk';
import { BAD_EXTENT, BAD_VALUES, ENDS_EARLY } from './faults';
import { unwavelet } from './wavelet';

const BITMAP_BYTES = 8192;
/** The values that occur, in order; what is decoded is an index into them. */
const VALUES = memory.data(2 * 65536, 16);

/** Lists the values whose bits are set; 0 always occurs. Gives the index of the last. */
function readValues(bitmap: usize, first: i32, last: i32): i32 {
  memory.fill(VALUES, 0, 2 * 65536);
  let count = 1;
  for (let byte = first; byte <= last; byte++) {
    let set = <u32>load<u8>(bitmap + <usize>(byte - first));
    if (byte === 0) set &= ~1;
    for (; set; set &= set - 1) {
      store<u16>(VALUES + 2 * <usize>count, <u16>(8 * byte + ctz(set)));
      count++;
    }
  }
  return count - 1;
}

/**
 * Unpacks `length` bytes at `from` to `size` bytes of samples at `to`; `work` holds as many. Gives 0, or what is wrong.
 */
export function unpackPiz(from: usize, length: i32, chunk: Chunk, work: usize, to: usize, size: i32): i32 {
  const end = from + length;
  if (length < 4) return ENDS_EARLY;
  const first = <i32>load<u16>(from);
  const last = <i32>load<u16>(from, 2);
  if (first >= BITMAP_BYTES || last >= BITMAP_BYTES) return BAD_VALUES;
  from += 4;
  const bitmap = from;
  if (first <= last) from += last - first + 1;
  if (from + 4 > end) return ENDS_EARLY;
  const highest = readValues(bitmap, first, last);
  const coded = load<i32>(from);
  from += 4;
  if (coded < 0 || from + coded > end) return BAD_EXTENT;
  const fault = unhuffman(from, coded, work, size >> 1);
  if (fault) return fault;
  undoWavelets(chunk, work, highest);
  orderRows(chunk, to);
  return 0;
}

/** Channel lies after channel; every 32-bit sample is two interleaved planes. */
function undoWavelets(chunk: Chunk, work: usize, highest: i32): void {
  for (let index = 0; index < chunk.channels; index++) {
    const channel = channelOf(chunk, index);
    const words = bytesPerSample(channel) >> 1;
    const pitch = channel.columns * words;
    channel.next = work;
    for (let word = 0; word < words; word++)
      unwavelet(work + 2 * <usize>word, channel.columns, words, channel.rows, pitch, highest);
    work += <usize>(2 * pitch * channel.rows);
  }
}

/** Looks the values up, and puts rows in the order of the file: line after line, in each channel after channel. */
function orderRows(chunk: Chunk, to: usize): void {
  for (let line = chunk.y; line < chunk.y + chunk.lines; line++) {
    for (let index = 0; index < chunk.channels; index++) {
      const channel = channelOf(chunk, index);
      if (!hasLine(channel, line)) continue;
      let from = channel.next;
      channel.next += <usize>(channel.columns * bytesPerSample(channel));
      for (; from < channel.next; from += 2, to += 2)
        store<u16>(to, load<u16>(VALUES + ((<usize>load<u16>(from)) << 1)));
    }
  }
}
