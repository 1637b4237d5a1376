import { FileError } from '../../errors';
import type { ExrHeader, ExrHeaders } from './types';
import { chunkBytes, type ChunkShape } from './layout';

/** Packed data and the pixels they are for. */
export interface Chunk extends ChunkShape {
  offset: number;
  size: number;
}

/** The chunks of one part's full-size level. */
export interface PartChunks {
  found: Chunk[];
  /** Not in the file, as it ends early or its render never finished. */
  missing: ChunkShape[];
  /** The table of offsets was wrong, and chunks were found by walking through the file. */
  searched: boolean;
}

/** The chunks of the full-size level in the order of the table. Smaller levels follow it and are left alone. */
function shapesOf(header: ExrHeader): ChunkShape[] {
  const { dataWindow, width, height, compression, tiling, channels } = header;
  const { xMin, yMin } = dataWindow;
  const shapes: ChunkShape[] = [];
  const [across, down] = tiling ? [tiling.x, tiling.y] : [width, compression.lines];
  for (let y = 0; y < height; y += down) {
    for (let x = 0; x < width; x += across) {
      shapes.push({
        x: xMin + x,
        y: yMin + y,
        width: Math.min(across, width - x),
        lines: Math.min(down, height - y),
        channels,
      });
    }
  }
  return shapes;
}

/** What a chunk calls itself: its line, or its tile's coordinates and level. */
function keyOf(header: ExrHeader, shape: ChunkShape): string {
  const { tiling, dataWindow } = header;
  if (!tiling) return `${shape.y}`;
  return `${(shape.x - dataWindow.xMin) / tiling.x} ${(shape.y - dataWindow.yMin) / tiling.y} 0 0`;
}

interface Found {
  part: number;
  key: string;
  offset: number;
  size: number;
}

/** Reads the header of the chunk at an offset; undefined if none can stand there. */
function chunkAt(
  view: DataView,
  { parts, multiPart, dataOffset }: ExrHeaders,
  at: number,
): Found | undefined {
  if (at < dataOffset || at + 8 > view.byteLength) return undefined;
  const part = multiPart ? view.getInt32(at, true) : 0;
  const header = parts[part];
  if (!header) return undefined;
  let from = at + (multiPart ? 4 : 0);
  const words = header.tiling ? 4 : 1;
  if (from + (words + 1) * 4 > view.byteLength) return undefined;
  const key = Array.from({ length: words }, (_, i) => view.getInt32(from + i * 4, true)).join(' ');
  from += words * 4;
  const size = view.getInt32(from, true);
  from += 4;
  return size < 0 || from + size > view.byteLength ? undefined : { part, key, offset: from, size };
}

/**
 * Finds the chunks of every part. Nothing in the table is trusted: an entry counts only if a chunk of the right part
 * and place stands where it points. What the table does not lead to is looked for by walking from chunk to chunk.
 */
export function locateChunks(bytes: Uint8Array, headers: ExrHeaders): PartChunks[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let walked: Map<string, Found> | undefined;
  return headers.parts.map((header, part) => {
    const result: PartChunks = { found: [], missing: [], searched: false };
    for (const [index, shape] of shapesOf(header).entries()) {
      const key = keyOf(header, shape);
      const entry = view.getBigUint64(header.tableOffset + index * 8, true);
      let found = entry < BigInt(bytes.length) ? chunkAt(view, headers, Number(entry)) : undefined;
      if (found?.part !== part || found.key !== key) {
        walked ??= walk(view, headers);
        found = walked.get(`${part}: ${key}`);
        result.searched ||= found !== undefined;
      }
      if (!found) result.missing.push(shape);
      else if (found.size > chunkBytes(shape))
        throw new FileError(`a chunk says it has ${found.size} bytes, more than its samples`, {
          where: placeOf(shape),
        });
      else result.found.push({ ...shape, offset: found.offset, size: found.size });
    }
    if (result.found.length === 0) {
      throw new FileError(
        'none of its pixels can be found; the file is cut off or its table of offsets is damaged',
        {
          ...(headers.multiPart && { where: `part ${part}` }),
          todo: 'Copy or render it again',
        },
      );
    }
    return result;
  });
}

function walk(view: DataView, headers: ExrHeaders): Map<string, Found> {
  const all = new Map<string, Found>();
  let at = headers.dataOffset;
  for (;;) {
    const found = chunkAt(view, headers, at);
    if (!found) return all;
    const name = `${found.part}: ${found.key}`;
    if (!all.has(name)) all.set(name, found);
    at = found.offset + found.size;
  }
}

/** Where a chunk's pixels lie, in words. */
export function placeOf({ x, y, width, lines }: ChunkShape, tiled = false): string {
  return tiled
    ? `the tile at ${x} ${y} to ${x + width - 1} ${y + lines - 1}`
    : `lines ${y} to ${y + lines - 1}`;
}

/** What is missing, in one sentence; runs of lines are put together. */
export function missingText(missing: readonly ChunkShape[], tiled: boolean): string {
  if (tiled) return `${missing.length} tiles are missing and stay black; the file is incomplete`;
  const runs: [number, number][] = [];
  for (const { y, lines } of missing) {
    const last = runs.at(-1);
    if (last && last[1] + 1 === y) last[1] = y + lines - 1;
    else runs.push([y, y + lines - 1]);
  }
  const shown = runs
    .slice(0, 4)
    .map(([first, last]) => (first === last ? `${first}` : `${first} to ${last}`));
  if (runs.length > 4) shown.push(`${runs.length - 4} more runs`);
  return `lines ${shown.join(', ')} are missing and stay black; the file is incomplete`;
}
