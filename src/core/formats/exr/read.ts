import { FileError } from '../../errors';
import type { Channel, Picture, Samples } from '../../image/picture';
import { unpackB44 } from './b44';
import { unrleChunk, unzipChunk } from './codec';
import { readHeader, type ExrHeader } from './header';
import type { ChunkShape } from './layout';
import { unpackPiz } from './piz';
import { unpackPxr24 } from './pxr24';
import { BYTES_PER_SAMPLE } from './spec';

export interface ReadOptions {
  /** Told the share done, 0 to 1. */
  progress?: (done: number) => void;
}

/**
 * Reads a scan-line OpenEXR file: compression NONE, RLE, ZIPS, ZIP, PIZ, PXR24, B44 or B44A; half, float and uint
 * channels, all of them by name.
 *
 * Nothing in the file is trusted: sizes and offsets are checked against the file before memory is taken. Throws
 * {@link FileError} for a damaged file and {@link UnsupportedError} for a valid one with a feature that is not read.
 */
export function readExr(bytes: Uint8Array, options: ReadOptions = {}): Picture {
  const header = readHeader(bytes);
  const chunks = locateChunks(bytes, header);
  const { width, height } = header;
  const channels = header.channels.map(({ name, type }): Channel => ({
    name,
    type,
    samples: allocate(type, width * height),
  }));
  const views = channels.map((channel) => new Uint8Array(channel.samples.buffer));
  for (const [index, chunk] of chunks.entries()) {
    const raw = decode(bytes.subarray(chunk.offset, chunk.offset + chunk.size), chunk, header);
    scatterLines(raw, chunk, header, views);
    if ((index & 7) === 0) options.progress?.(index / chunks.length);
  }
  return {
    width,
    height,
    dataWindow: header.dataWindow,
    displayWindow: header.displayWindow,
    channels: new Map(channels.map((channel) => [channel.name, channel])),
    compression: header.compression.name,
    attributes: header.attributes,
    warnings: chromaticityWarnings(header),
  };
}

interface Chunk {
  /** Of the packed data. */
  offset: number;
  size: number;
  /** First line, counted from the top of the data window, and how many. */
  line: number;
  lines: number;
}

function allocate(type: Channel['type'], count: number): Samples {
  if (type === 'half') return new Uint16Array(count);
  return type === 'float' ? new Float32Array(count) : new Uint32Array(count);
}

function locateChunks(bytes: Uint8Array, header: ExrHeader): Chunk[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const { height, compression, dataWindow, tableOffset } = header;
  const count = Math.ceil(height / compression.lines);
  const firstData = tableOffset + count * 8;
  const chunks: Chunk[] = [];
  for (let index = 0; index < count; index++) {
    const line = index * compression.lines;
    const lines = Math.min(compression.lines, height - line);
    const where = `lines ${line} to ${line + lines - 1}`;
    const entry = view.getBigUint64(tableOffset + index * 8, true);
    if (entry === 0n) {
      throw new FileError('these lines are missing; the file is incomplete', {
        where,
        todo: 'Let the render finish or render it again',
      });
    }
    if (entry < BigInt(firstData) || entry + 8n > BigInt(bytes.length)) {
      throw new FileError('the offset table points outside the data', {
        where,
        todo: 'Copy or render it again',
      });
    }
    const offset = Number(entry);
    const y = view.getInt32(offset, true);
    const size = view.getInt32(offset + 4, true);
    if (y - dataWindow.yMin !== line)
      throw new FileError(`the table leads to line ${y - dataWindow.yMin}`, { where });
    if (size < 0 || size > lines * header.lineBytes)
      throw new FileError(`a chunk says it has ${size} bytes`, { where });
    if (offset + 8 + size > bytes.length)
      throw new FileError('the file ends in the middle of a chunk', {
        where,
        todo: 'Copy or render it again',
      });
    chunks.push({ offset: offset + 8, size, line, lines });
  }
  return chunks;
}

function decode(packed: Uint8Array, chunk: Chunk, header: ExrHeader): Uint8Array {
  const size = chunk.lines * header.lineBytes;
  // A chunk that would not shrink is stored as it is, under any compression.
  if (packed.length === size) return packed;
  const where = `lines ${chunk.line} to ${chunk.line + chunk.lines - 1}`;
  if (header.compression.name === 'none')
    throw new FileError(`a chunk has ${packed.length} bytes, not ${size}`, { where });
  try {
    return unpack(packed, chunk, header);
  } catch (error) {
    if (error instanceof FileError)
      throw new FileError(error.message, { where, todo: 'Copy or render it again' });
    throw error;
  }
}

function unpack(packed: Uint8Array, chunk: Chunk, header: ExrHeader): Uint8Array {
  const { width, channels, lineBytes } = header;
  const shape: ChunkShape = { width, lines: chunk.lines, channels };
  switch (header.compression.name) {
    case 'rle':
      return unrleChunk(packed, chunk.lines * lineBytes);
    case 'piz':
      return unpackPiz(packed, shape);
    case 'pxr24':
      return unpackPxr24(packed, shape);
    case 'b44':
    case 'b44a':
      return unpackB44(packed, shape);
    default:
      return unzipChunk(packed, chunk.lines * lineBytes);
  }
}

/** Lines hold channel after channel; samples are little-endian, as are all machines this runs on. */
function scatterLines(raw: Uint8Array, chunk: Chunk, header: ExrHeader, views: Uint8Array[]): void {
  let from = 0;
  for (let y = chunk.line; y < chunk.line + chunk.lines; y++) {
    for (const [index, { type }] of header.channels.entries()) {
      const length = header.width * BYTES_PER_SAMPLE[type];
      views[index]!.set(raw.subarray(from, from + length), y * length);
      from += length;
    }
  }
}

/** CIE xy of the Rec.709 primaries and D65 white, in the attribute's order (ITU-R BT.709-6, table 1). */
const REC709 = [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329];

function chromaticityWarnings(header: ExrHeader): string[] {
  const attribute = header.attributes.get('chromaticities');
  if (attribute?.bytes.length !== 32) return [];
  const view = new DataView(attribute.bytes.buffer);
  const far = REC709.some((value, index) => Math.abs(view.getFloat32(index * 4, true) - value) > 0.002);
  return far ? ['the file names primaries other than Rec.709; its numbers are used as they are'] : [];
}
