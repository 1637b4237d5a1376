import type { ExrChannel } from './types';
import { BYTES_PER_SAMPLE } from './spec';

/** The pixels of one chunk, lines or tile: where it begins in the file's own coordinates, and what is in it. */
export interface ChunkShape {
  x: number;
  y: number;
  width: number;
  lines: number;
  channels: readonly ExrChannel[];
}

/** How many of `count` pixels from `first` on carry a sample, if every `sampling`-th does, counted from 0. */
export function samplesAlong(sampling: number, first: number, count: number): number {
  return Math.floor((first + count - 1) / sampling) - Math.ceil(first / sampling) + 1;
}

/** Samples of a channel in a chunk: how many in a row, and how many rows. */
export function gridOf(
  { x, y, width, lines }: Omit<ChunkShape, 'channels'>,
  { xSampling, ySampling }: ExrChannel,
): { columns: number; rows: number } {
  return { columns: samplesAlong(xSampling, x, width), rows: samplesAlong(ySampling, y, lines) };
}

/** Bytes of a chunk's samples. */
export function chunkBytes(shape: ChunkShape): number {
  return shape.channels.reduce((sum, channel) => {
    const { columns, rows } = gridOf(shape, channel);
    return sum + columns * rows * BYTES_PER_SAMPLE[channel.type];
  }, 0);
}

/**
 * Calls `each` with every row of every channel, where its samples begin, in bytes, and how many they are, in the order
 * of the file: line after line, and in a line channel after channel.
 */
export function forEachRun(
  shape: ChunkShape,
  each: (channel: number, row: number, at: number, count: number) => void,
): void {
  const { channels, y, lines } = shape;
  const columns = channels.map((channel) => gridOf(shape, channel).columns);
  const next = channels.map(() => 0);
  let at = 0;
  for (let line = y; line < y + lines; line++) {
    for (const [index, { type, ySampling }] of channels.entries()) {
      if (line % ySampling !== 0) continue;
      each(index, next[index]!++, at, columns[index]!);
      at += columns[index]! * BYTES_PER_SAMPLE[type];
    }
  }
}
