import { FileError } from '../../errors';
import { floatToHalf, halvesToFloats } from '../../image/half';
import {
  deflateZlib,
  inflatePredicted,
  inflateZlib,
  unhuffmanWords,
  unpackSamples,
  unpredictBytes,
  type ChunkCoding,
  type CodecFault,
} from '../../kernels/codecs';
import { chunkBytes, gridOf, type ChunkShape } from './layout';

const FAULTS: Record<CodecFault, string> = {
  damaged: 'the compressed data are damaged',
  'too long': 'the compressed data do not have the promised size',
  'wrong size': 'the compressed data do not have the promised size',
  checksum: 'the checksum of the compressed data does not match',
  'ends early': 'the coded data end too early',
  'bad codes': 'the table of codes is damaged',
  'unknown code': 'a code of the compressed data is unknown',
  'long run': 'a run of the coded data is too long',
  'bad values': 'the table of values lies outside its range',
  'bad extent': 'the coded data do not lie in the chunk',
};

function orFault<Result extends object>(result: Result | CodecFault): Result {
  if (typeof result === 'string') throw new FileError(FAULTS[result]);
  return result;
}

/** Inflates to exactly `size` bytes. Throws {@link FileError} when the stream is damaged or of another size. */
export function inflateExactly(packed: Uint8Array, size: number): Uint8Array {
  return orFault(inflateZlib(packed, size));
}

/** Inflates one ZIP or ZIPS chunk to exactly `size` bytes, which are good until the next chunk is unpacked. */
export function unzipChunk(packed: Uint8Array, size: number): Uint8Array {
  return orFault(inflatePredicted(packed, size));
}

export function zipChunk(raw: Uint8Array): Uint8Array {
  return deflateZlib(raw, true);
}

/** Decodes the Huffman codes of a DWA chunk to exactly `count` values. */
export function unhuffman(packed: Uint8Array, count: number): Uint16Array {
  return orFault(unhuffmanWords(packed, count));
}

let exponentials: Uint16Array | undefined;

/** Channels that are perceived linearly are stored as exp(x / 8) by B44: the way back, half to half. */
function exponentialTable(): Uint16Array {
  exponentials ??= Uint16Array.from(
    halvesToFloats(Uint16Array.from({ length: 65536 }, (_, half) => half)),
    (value) => (Number.isFinite(value) && value > 0 ? floatToHalf(8 * Math.log(value)) : 0),
  );
  return exponentials;
}

/** Unpacks a PIZ, PXR24, B44 or B44A chunk; the samples are good until the next chunk is unpacked. */
export function unpackCoded(coding: ChunkCoding, packed: Uint8Array, shape: ChunkShape): Uint8Array {
  const channels = shape.channels.map((channel) => ({
    type: channel.type,
    ySampling: channel.ySampling,
    ...gridOf(shape, channel),
    table: channel.linear ? exponentialTable : undefined,
  }));
  const { y, lines } = shape;
  return orFault(unpackSamples(coding, packed, { y, lines, channels }, chunkBytes(shape)));
}

/** Expands an RLE chunk to exactly `size` bytes, which are good until the next chunk is unpacked. */
export function unrleChunk(packed: Uint8Array, size: number): Uint8Array {
  return unpredictBytes(expandRuns(packed, size));
}

/** Expands run lengths to exactly `size` bytes. */
export function expandRuns(packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let from = 0;
  let to = 0;
  while (from < packed.length) {
    const count = (packed[from++]! << 24) >> 24;
    const length = count < 0 ? -count : count + 1;
    if (to + length > size) throw new FileError('a run of the run-length data is too long');
    if (count < 0) {
      if (from + length > packed.length) throw new FileError('the run-length data end too early');
      out.set(packed.subarray(from, from + length), to);
      from += length;
    } else {
      if (from >= packed.length) throw new FileError('the run-length data end too early');
      out.fill(packed[from++]!, to, to + length);
    }
    to += length;
  }
  if (to !== size) throw new FileError('the run-length data do not have the promised size');
  return out;
}
