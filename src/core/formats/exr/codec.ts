import { unzlibSync, zlibSync } from 'fflate';
import { FileError } from '../../errors';

/** Adler-32 checksum (RFC 1950), which closes every zlib stream. */
function adler32(bytes: Uint8Array): number {
  let a = 1;
  let b = 0;
  for (let i = 0; i < bytes.length;) {
    const end = Math.min(i + 3800, bytes.length);
    for (; i < end; i++) {
      a += bytes[i]!;
      b += a;
    }
    a %= 65521;
    b %= 65521;
  }
  return ((b << 16) | a) >>> 0;
}

/** Undoes the byte predictor (running sum minus 128) and puts the two halves of the bytes back in turn. */
function unpredict(bytes: Uint8Array): Uint8Array {
  const size = bytes.length;
  const out = new Uint8Array(size);
  const half = (size + 1) >> 1;
  let sum = bytes[0] ?? 0;
  out[0] = sum;
  for (let i = 1; i < half; i++) {
    sum = (sum + bytes[i]! - 128) & 0xff;
    out[2 * i] = sum;
  }
  for (let i = half; i < size; i++) {
    sum = (sum + bytes[i]! - 128) & 0xff;
    out[2 * (i - half) + 1] = sum;
  }
  return out;
}

function predict(raw: Uint8Array): Uint8Array {
  const size = raw.length;
  const half = (size + 1) >> 1;
  const out = new Uint8Array(size);
  for (let i = 0; i < size; i++) out[(i & 1 ? half : 0) + (i >> 1)] = raw[i]!;
  for (let i = size - 1; i > 0; i--) out[i] = (out[i]! - out[i - 1]! + 384) & 0xff;
  return out;
}

/** Inflates to exactly `size` bytes. Throws {@link FileError} when the stream is damaged or of another size. */
export function inflateExactly(packed: Uint8Array, size: number): Uint8Array {
  // One byte more than wanted shows a stream that runs on; the buffer bounds what a hostile stream can take.
  const room = new Uint8Array(size + 1);
  let inflated: Uint8Array;
  try {
    inflated = unzlibSync(packed, { out: room });
  } catch {
    throw new FileError('the compressed data are damaged');
  }
  if (inflated.length !== size) throw new FileError('the compressed data do not have the promised size');
  const end = packed.length - 4;
  const stored = new DataView(packed.buffer, packed.byteOffset, packed.byteLength).getUint32(end);
  if (stored !== adler32(inflated)) throw new FileError('the checksum of the compressed data does not match');
  return inflated;
}

/** Inflates one ZIP or ZIPS chunk to exactly `size` bytes. */
export function unzipChunk(packed: Uint8Array, size: number): Uint8Array {
  return unpredict(inflateExactly(packed, size));
}

export function zipChunk(raw: Uint8Array): Uint8Array {
  return zlibSync(predict(raw), { level: 4, mem: 8 });
}

/** Expands run lengths to exactly `size` bytes. */
export function unrleChunk(packed: Uint8Array, size: number): Uint8Array {
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
  return unpredict(out);
}
