import type { ExrChannel } from './header';
import { BYTES_PER_SAMPLE } from './spec';

/** What a decoder needs to know of a chunk: its lines hold channel after channel, `width` samples each. */
export interface ChunkShape {
  width: number;
  lines: number;
  channels: readonly ExrChannel[];
}

/** Bytes of a chunk's samples. */
export function chunkBytes({ width, lines, channels }: ChunkShape): number {
  return lines * width * channels.reduce((sum, { type }) => sum + BYTES_PER_SAMPLE[type], 0);
}

/** Calls `each` with every line of every channel and where its samples begin, in bytes, in the order of the file. */
export function forEachRun(
  { width, lines, channels }: ChunkShape,
  each: (channel: number, line: number, at: number) => void,
): void {
  let at = 0;
  for (let line = 0; line < lines; line++) {
    for (const [index, { type }] of channels.entries()) {
      each(index, line, at);
      at += width * BYTES_PER_SAMPLE[type];
    }
  }
}
