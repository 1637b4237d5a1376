import { sampleStore, type Picture } from '../../image/picture';
import type { TaskRunner } from '../../kernels/runtime/parallel';
import type { Shared } from '../../kernels/runtime/shared';
import { locateChunks, missingText, type Chunk, type PartChunks } from './chunks';
import { readHeaders } from './header';
import { groupsOf, runGroups, type Group, type UnpackTask } from './jobs';
import { joinParts } from './join';
import { chunkBytes, forEachRun, gridOf } from './layout';
import { BYTES_PER_SAMPLE } from './spec';
import type { ExrHeader, StoredChannel, StoredPart } from './types';

export interface ReadOptions {
  /** Called with the share done, 0 to 1. */
  progress?: ((done: number) => void) | undefined;
  /** Threads to unpack on; without them it is done on this one. */
  runner?: TaskRunner | undefined;
}

/**
 * Reads an OpenEXR file of any compression, in scan lines or tiles (the full-size level), of one part or many, as one
 * picture: parts become layers, subsampled luminance and chroma become red, green and blue.
 *
 * Nothing in the file is trusted: sizes and offsets are checked against the file before memory is taken. Throws
 * {@link FileError} for a damaged file and for deep data.
 */
export async function readExr(bytes: Uint8Array, options: ReadOptions = {}): Promise<Picture> {
  return joinParts(await readParts(bytes, options));
}

/** Reads every part as it is stored. Chunks that are not in the file leave black, with a warning. */
export async function readParts(bytes: Uint8Array, options: ReadOptions = {}): Promise<StoredPart[]> {
  const headers = readHeaders(bytes);
  const located = locateChunks(bytes, headers);
  const parts = headers.parts.map((header, index) => emptyPart(header, located[index]!));
  const chunks = located.flatMap(({ found }, index) =>
    found.map((chunk): PlacedChunk => ({ chunk, header: headers.parts[index]!, part: parts[index]! })),
  );
  const groups = groupsOf(chunks, ({ chunk }) => chunkBytes(chunk));
  const bufferBytes = groups.reduce((most, group) => Math.max(most, group.bytes + packedBytes(group)), 0);
  await runGroups(groups, bufferBytes, {
    runner: options.runner,
    progress: options.progress,
    fill: (group, buffer) => ({ job: 'unpackChunks', input: unpackTask(bytes, group, buffer) }),
    empty: (group, buffer, { input }) =>
      input.chunks.forEach(({ to }, index) => placeSamples(group.items[index]!, new Uint8Array(buffer, to))),
  });
  return parts;
}

interface PlacedChunk {
  chunk: Chunk;
  header: ExrHeader;
  part: StoredPart;
}

function packedBytes({ items }: Group<PlacedChunk>): number {
  return items.reduce((sum, { chunk }) => sum + chunk.size, 0);
}

/** A part without its pixels. */
function emptyPart(header: ExrHeader, { missing, searched }: PartChunks): StoredPart {
  const { name, tiling, dataWindow, displayWindow, attributes, width, height } = header;
  const whole = { x: dataWindow.xMin, y: dataWindow.yMin, width, lines: height };
  const warnings: string[] = [];
  if (missing.length) warnings.push(missingText(missing, tiling !== undefined));
  else if (searched) warnings.push('its table of offsets is damaged; the pixels were found all the same');
  return {
    name,
    compression: header.compression.name,
    tiling,
    dataWindow,
    displayWindow,
    attributes,
    channels: header.channels.map((channel): StoredChannel => {
      const { type, xSampling, ySampling } = channel;
      const { columns, rows } = gridOf(whole, channel);
      const samples = sampleStore(type, columns * rows);
      return { name: channel.name, type, xSampling, ySampling, columns, rows, samples };
    }),
    isIncomplete: missing.length > 0,
    warnings,
  };
}

/** Copies a group's chunks into a buffer, behind the place of their samples. */
function unpackTask(
  bytes: Uint8Array,
  { items, bytes: sampleBytes }: Group<PlacedChunk>,
  buffer: Shared,
): UnpackTask {
  let [from, to] = [sampleBytes, 0];
  const chunks = items.map(({ chunk, header }) => {
    const { x, y, width, lines, channels, offset, size } = chunk;
    new Uint8Array(buffer, from, size).set(bytes.subarray(offset, offset + size));
    const task = {
      chunk: {
        x,
        y,
        width,
        lines,
        channels,
        compression: header.compression.name,
        tiled: header.tiling !== undefined,
      },
      from,
      size,
      to,
    };
    from += size;
    to += chunkBytes(chunk);
    return task;
  });
  return { buffer, chunks };
}

/** Puts a chunk's samples where they belong; they are little-endian, as are all machines this runs on. */
function placeSamples({ chunk, header, part }: PlacedChunk, raw: Uint8Array): void {
  const starts = part.channels.map(({ type, xSampling, ySampling, columns, samples }) => {
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
