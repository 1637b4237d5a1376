import { FileError } from '../../errors';
import {
  deflateZlib,
  inflatePredicted,
  inflateZlib,
  unpredictBytes,
  type InflateFault,
} from '../../kernels/zip';

const FAULTS: Record<InflateFault, string> = {
  damaged: 'the compressed data are damaged',
  'too long': 'the compressed data do not have the promised size',
  'too short': 'the compressed data do not have the promised size',
  checksum: 'the checksum of the compressed data does not match',
};

function orFault(result: Uint8Array | InflateFault): Uint8Array {
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
