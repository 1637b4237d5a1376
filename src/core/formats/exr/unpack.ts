import { FileError } from '../../errors';
import { placeOf, type Chunk } from './chunks';
import { unpackCoded, unrleChunk, unzipChunk } from './codec';
import { unpackDwa } from './dwa';
import { chunkBytes, type ChunkShape } from './layout';
import type { CompressionName } from './spec';

/** A chunk as it lies in a file, and what it needs to be unpacked. */
export interface PackedChunk extends Pick<Chunk, keyof ChunkShape> {
  compression: CompressionName;
  /** Whether it is a tile. */
  tiled: boolean;
}

/**
 * Unpacks a chunk to its samples in the order of the file, which are good until the next chunk is unpacked. Throws
 * {@link FileError} that tells which lines or tile are damaged.
 */
export function unpackChunk(packed: Uint8Array, chunk: PackedChunk): Uint8Array {
  const size = chunkBytes(chunk);
  // A chunk that would not shrink is stored as it is, under any compression.
  if (packed.length === size) return packed;
  const where = placeOf(chunk, chunk.tiled);
  const todo = 'Copy or render it again';
  if (chunk.compression === 'none')
    throw new FileError(`a chunk has ${packed.length} bytes, not ${size}`, { where, todo });
  try {
    return unpack(packed, chunk, size);
  } catch (error) {
    if (error instanceof FileError) throw new FileError(error.message, { where, todo });
    throw error;
  }
}

function unpack(packed: Uint8Array, chunk: PackedChunk, size: number): Uint8Array {
  switch (chunk.compression) {
    case 'rle':
      return unrleChunk(packed, size);
    case 'piz':
    case 'pxr24':
      return unpackCoded(chunk.compression, packed, chunk);
    case 'b44':
    case 'b44a':
      return unpackCoded('b44', packed, chunk);
    case 'dwaa':
    case 'dwab':
      return unpackDwa(packed, chunk);
    default:
      return unzipChunk(packed, size);
  }
}
