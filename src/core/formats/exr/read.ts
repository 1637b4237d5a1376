import { FileError } from '../../errors';
import { sampleStore, type Picture } from '../../image/picture';
import { unpackB44 } from './b44';
import { locateChunks, missingText, placeOf, type Chunk } from './chunks';
import { unrleChunk, unzipChunk } from './codec';
import { unpackDwa } from './dwa';
import { readHeaders } from './header';
import type { ExrHeader, StoredChannel, StoredPart } from './types';
import { joinParts } from './join';
import { chunkBytes, forEachRun, gridOf } from './layout';
import { unpackPiz } from './piz';
import { unpackPxr24 } from './pxr24';
import { BYTES_PER_SAMPLE } from './spec';

export interface ReadOptions {
  /** Told the share done, 0 to 1. */
  progress?: (done: number) => void;
}

/**
 * Reads an OpenEXR file of any compression, in scan lines or tiles (the full-size level), of one part or many, as one
 * picture: parts become layers, subsampled luminance and chroma become red, green and blue.
 *
 * Nothing in the file is trusted: sizes and offsets are checked against the file before memory is taken. Throws
 * {@link FileError} for a damaged file and for deep data.
 */
export function readExr(bytes: Uint8Array, options: ReadOptions = {}): Picture {
  return joinParts(readParts(bytes, options));
}

/** Reads every part as it is stored. Chunks that are not in the file leave black, with a warning. */
export function readParts(bytes: Uint8Array, options: ReadOptions = {}): StoredPart[] {
  const headers = readHeaders(bytes);
  const chunks = locateChunks(bytes, headers);
  const total = chunks.reduce((sum, { found }) => sum + found.length, 0);
  let done = 0;
  return headers.parts.map((header, index) => {
    const { found, missing, searched } = chunks[index]!;
    const channels = header.channels.map((channel): StoredChannel => {
      const grid = gridOf(
        { x: header.dataWindow.xMin, y: header.dataWindow.yMin, width: header.width, lines: header.height },
        channel,
      );
      const { name, type, xSampling, ySampling } = channel;
      return {
        name,
        type,
        xSampling,
        ySampling,
        ...grid,
        samples: sampleStore(type, grid.columns * grid.rows),
      };
    });
    for (const chunk of found) {
      scatter(
        decode(bytes.subarray(chunk.offset, chunk.offset + chunk.size), chunk, header),
        chunk,
        header,
        channels,
      );
      if ((++done & 7) === 0) options.progress?.(done / total);
    }
    const warnings: string[] = [];
    if (missing.length) warnings.push(missingText(missing, header.tiling !== undefined));
    else if (searched) warnings.push('its table of offsets is damaged; the pixels were found all the same');
    const { name, tiling, dataWindow, displayWindow, attributes } = header;
    return {
      name,
      compression: header.compression.name,
      tiling,
      dataWindow,
      displayWindow,
      attributes,
      channels,
      warnings,
    };
  });
}

function decode(packed: Uint8Array, chunk: Chunk, header: ExrHeader): Uint8Array {
  const size = chunkBytes(chunk);
  // A chunk that would not shrink is stored as it is, under any compression.
  if (packed.length === size) return packed;
  const where = placeOf(chunk, header.tiling !== undefined);
  const todo = 'Copy or render it again';
  if (header.compression.name === 'none')
    throw new FileError(`a chunk has ${packed.length} bytes, not ${size}`, { where, todo });
  try {
    return unpack(packed, chunk, header);
  } catch (error) {
    if (error instanceof FileError) throw new FileError(error.message, { where, todo });
    throw error;
  }
}

function unpack(packed: Uint8Array, chunk: Chunk, header: ExrHeader): Uint8Array {
  switch (header.compression.name) {
    case 'rle':
      return unrleChunk(packed, chunkBytes(chunk));
    case 'piz':
      return unpackPiz(packed, chunk);
    case 'pxr24':
      return unpackPxr24(packed, chunk);
    case 'b44':
    case 'b44a':
      return unpackB44(packed, chunk);
    case 'dwaa':
    case 'dwab':
      return unpackDwa(packed, chunk);
    default:
      return unzipChunk(packed, chunkBytes(chunk));
  }
}

/** Puts a chunk's samples where they belong; they are little-endian, as are all machines this runs on. */
function scatter(raw: Uint8Array, chunk: Chunk, header: ExrHeader, channels: StoredChannel[]): void {
  const starts = channels.map(({ type, xSampling, ySampling, columns, samples }) => {
    const column = (chunk.x - header.dataWindow.xMin) / xSampling;
    const row = Math.ceil((chunk.y - header.dataWindow.yMin) / ySampling);
    return {
      bytes: new Uint8Array(samples.buffer),
      size: BYTES_PER_SAMPLE[type],
      at: (row * columns + column) * BYTES_PER_SAMPLE[type],
      pitch: columns * BYTES_PER_SAMPLE[type],
    };
  });
  forEachRun(chunk, (index, row, from, count) => {
    const { bytes, size, at, pitch } = starts[index]!;
    bytes.set(raw.subarray(from, from + count * size), at + row * pitch);
  });
}
