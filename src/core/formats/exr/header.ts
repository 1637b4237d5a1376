import { FileError } from '../../errors';
import type { Attribute, Window } from '../../image/picture';
import type { ExrChannel, ExrHeader, ExrHeaders, Tiling } from './types';
import { chunkBytes } from './layout';
import {
  COMPRESSIONS,
  FLAG_DEEP,
  FLAG_LONG_NAMES,
  FLAG_MULTI_PART,
  FLAG_TILED,
  KNOWN_FLAGS,
  LONG_NAME,
  MAGIC,
  MAX_CHANNELS,
  MAX_DECODED_BYTES,
  MAX_PIXELS,
  MAX_SIDE,
  FLAT_TYPES,
  LEVEL_MODES,
  MAX_PARTS,
  PIXEL_TYPES,
  SHORT_NAME,
} from './spec';

const REQUIRED = ['channels', 'compression', 'dataWindow'] as const;
const TYPE_OF: Record<string, string> = {
  channels: 'chlist',
  compression: 'compression',
  dataWindow: 'box2i',
  displayWindow: 'box2i',
  lineOrder: 'lineOrder',
  tiles: 'tiledesc',
  name: 'string',
  type: 'string',
  chunkCount: 'int',
};

/** Attributes that describe the pixels themselves; the writer makes them anew. */
const STRUCTURAL = new Set([...Object.keys(TYPE_OF), 'version', 'maxSamplesPerPixel']);

class Cursor {
  readonly view: DataView;
  at = 0;
  constructor(readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }
  need(count: number, what: string): void {
    if (this.at + count > this.bytes.length) {
      throw new FileError(`the file ends in ${what}`, { todo: 'Copy or render it again' });
    }
  }
  i32(what: string): number {
    this.need(4, what);
    this.at += 4;
    return this.view.getInt32(this.at - 4, true);
  }
  /** A zero-terminated name; empty at the end of a list. */
  name(limit: number, what: string): string {
    const start = this.at;
    const longest = Math.min(start + limit + 1, this.bytes.length);
    while (this.at < longest && this.bytes[this.at] !== 0) this.at++;
    if (this.at >= this.bytes.length) this.need(1, what);
    if (this.bytes[this.at] !== 0) throw new FileError(`${what} is longer than ${limit} bytes`);
    return new TextDecoder().decode(this.bytes.subarray(start, this.at++));
  }
}

/** Reads and checks all headers. Throws {@link FileError}. */
export function readHeaders(bytes: Uint8Array): ExrHeaders {
  const cursor = new Cursor(bytes);
  if (bytes.length < 8 || cursor.i32('its first bytes') !== MAGIC) {
    throw new FileError('this is not an OpenEXR file', { todo: 'Choose a file written as OpenEXR' });
  }
  const flags = cursor.i32('its first bytes');
  if ((flags & 0xff) !== 2) throw new FileError(`OpenEXR version ${flags & 0xff} is unknown`);
  const unknown = flags & ~0xff & ~KNOWN_FLAGS;
  if (unknown) throw new FileError(`the version field has unknown flags (0x${(unknown >>> 0).toString(16)})`);
  if (flags & FLAG_DEEP) throw deepData();
  const multiPart = (flags & FLAG_MULTI_PART) !== 0;
  if (multiPart && flags & FLAG_TILED)
    throw new FileError('a file of several parts says it is tiled as a whole');
  const limit = flags & FLAG_LONG_NAMES ? LONG_NAME : SHORT_NAME;
  const headers: Map<string, Attribute>[] = [readAttributes(cursor, limit)];
  if (multiPart) {
    for (;;) {
      const attributes = readAttributes(cursor, limit);
      if (attributes.size === 0) break;
      headers.push(attributes);
      if (headers.length > MAX_PARTS) throw new FileError(`more than ${MAX_PARTS} parts`);
    }
  }
  const parts = headers.map((attributes, index): ExrHeader => {
    try {
      return interpret(attributes, { tiled: (flags & FLAG_TILED) !== 0, multiPart, limit });
    } catch (error) {
      if (multiPart && error instanceof FileError)
        throw new FileError(error.message, {
          where: `part ${index}`,
          ...(error.todo && { todo: error.todo }),
        });
      throw error;
    }
  });
  let dataOffset = cursor.at;
  for (const part of parts) {
    part.tableOffset = dataOffset;
    dataOffset += part.chunkCount * 8;
  }
  if (dataOffset > bytes.length)
    throw new FileError('the file is too short for the lines it promises', {
      todo: 'Copy or render it again',
    });
  checkDecodedSize(parts, bytes.length);
  return { parts, multiPart, dataOffset };
}

/** Decoded sizes up to this are taken on trust: a picture of one colour packs very well. */
const TRUSTED_BYTES = 2 ** 30;
/** Beyond it, no picture packs better than this. */
const BEST_PACKING = 2000;

function checkDecodedSize(parts: readonly ExrHeader[], size: number): void {
  const decoded = parts.reduce(
    (sum, { dataWindow, width, height, channels }) =>
      sum + chunkBytes({ x: dataWindow.xMin, y: dataWindow.yMin, width, lines: height, channels }),
    0,
  );
  if (decoded > MAX_DECODED_BYTES || (decoded > TRUSTED_BYTES && decoded > size * BEST_PACKING)) {
    throw new FileError(
      `its samples would take ${(decoded / 2 ** 30).toFixed(1)} GiB; at most ${MAX_DECODED_BYTES / 2 ** 30} are read, and no more than the file can hold`,
    );
  }
}

function deepData(): FileError {
  return new FileError('these are deep data, with many samples a pixel, which are not read', {
    todo: 'Flatten the picture in the renderer and bring that in',
  });
}

function readAttributes(cursor: Cursor, limit: number): Map<string, Attribute> {
  const attributes = new Map<string, Attribute>();
  for (;;) {
    const name = cursor.name(limit, 'the name of an attribute');
    if (name === '') return attributes;
    const type = cursor.name(limit, `the type of attribute ${name}`);
    const size = cursor.i32(`attribute ${name}`);
    if (size < 0) throw new FileError(`attribute ${name} has a negative size`);
    cursor.need(size, `attribute ${name}`);
    attributes.set(name, { type, bytes: new Uint8Array(cursor.bytes.subarray(cursor.at, cursor.at + size)) });
    cursor.at += size;
  }
}

/** What the whole file says about its parts. */
interface FileFlags {
  tiled: boolean;
  multiPart: boolean;
  /** Longest name, bytes. */
  limit: number;
}

function interpret(attributes: Map<string, Attribute>, file: FileFlags): ExrHeader {
  const kind = text(attributes.get('type'));
  checkKind(kind, attributes, file);
  const compression = readCompression(attributes);
  checkLineOrder(attributes);
  const { dataWindow, displayWindow, width, height } = readExtent(attributes);
  const channels = readChannels(attributes.get('channels')!.bytes, file.limit);
  for (const channel of channels) checkSampling(channel, dataWindow, width, height);
  const tiling = (file.multiPart ? kind === 'tiledimage' : file.tiled) ? readTiling(attributes) : undefined;
  if (tiling && channels.some(({ xSampling, ySampling }) => xSampling !== 1 || ySampling !== 1))
    throw new FileError('a tiled part has subsampled channels');
  const chunkCount = tiling ? countTiles(tiling, width, height) : Math.ceil(height / compression.lines);
  if (file.multiPart) checkChunkCount(attributes.get('chunkCount'), chunkCount);
  return {
    name: text(attributes.get('name')) ?? '',
    channels,
    compression,
    dataWindow,
    displayWindow,
    tiling,
    attributes: new Map([...attributes].filter(([name]) => !STRUCTURAL.has(name))),
    tableOffset: 0,
    chunkCount,
    width,
    height,
  };
}

/** Checks that a part is of a kind that is read, and that it has what such a part needs, in the right types. */
function checkKind(kind: string | undefined, attributes: Map<string, Attribute>, file: FileFlags): void {
  if (kind?.startsWith('deep')) throw deepData();
  for (const name of file.multiPart ? [...REQUIRED, 'type', 'name', 'chunkCount'] : REQUIRED) {
    if (!attributes.has(name)) throw new FileError(`the header has no ${name}`);
  }
  for (const [name, type] of Object.entries(TYPE_OF)) {
    const attribute = attributes.get(name);
    if (attribute && attribute.type !== type) {
      throw new FileError(
        `attribute ${name} is a ${attribute.type || 'nameless type'} where a ${type} belongs`,
      );
    }
  }
  if (kind !== undefined && !FLAT_TYPES.some((flat) => flat === kind))
    throw new FileError(`parts of type ${kind} are not known`, { todo: 'Write flat scan lines or tiles' });
}

/** The windows of a part, and the extent of its pixels. */
function readExtent(
  attributes: Map<string, Attribute>,
): Pick<ExrHeader, 'dataWindow' | 'displayWindow' | 'width' | 'height'> {
  const dataWindow = readWindow(attributes, 'dataWindow')!;
  const displayWindow = readWindow(attributes, 'displayWindow') ?? dataWindow;
  const width = dataWindow.xMax - dataWindow.xMin + 1;
  const height = dataWindow.yMax - dataWindow.yMin + 1;
  if (width > MAX_SIDE || height > MAX_SIDE || width * height > MAX_PIXELS) {
    throw new FileError(
      `the data window is ${width} x ${height}; at most ${MAX_SIDE} a side and ${MAX_PIXELS} pixels are read`,
    );
  }
  return { dataWindow, displayWindow, width, height };
}

function readCompression(attributes: Map<string, Attribute>): ExrHeader['compression'] {
  const code = attributes.get('compression')!.bytes;
  const compression = COMPRESSIONS[code.length === 1 ? code[0]! : -1];
  if (!compression) throw new FileError(`compression ${code.join(' ')} is unknown`);
  return compression;
}

function checkLineOrder(attributes: Map<string, Attribute>): void {
  const order = attributes.get('lineOrder')?.bytes;
  if (order && (order.length !== 1 || order[0]! > 2))
    throw new FileError(`line order ${order.join(' ')} is unknown`);
}

function checkSampling(
  { name, xSampling, ySampling }: ExrChannel,
  { xMin, yMin }: Window,
  width: number,
  height: number,
): void {
  const fitsX = xMin % xSampling === 0 && width % xSampling === 0;
  const fitsY = yMin % ySampling === 0 && height % ySampling === 0;
  if (!fitsX || !fitsY)
    throw new FileError(
      `channel ${name}'s sampling of ${xSampling} x ${ySampling} does not divide the window`,
    );
}

function checkChunkCount(told: Attribute | undefined, count: number): void {
  if (told?.bytes.length !== 4) return;
  const promised = new DataView(told.bytes.buffer).getInt32(0, true);
  if (promised !== count) throw new FileError(`the header promises ${promised} chunks where ${count} belong`);
}

function text(attribute: Attribute | undefined): string | undefined {
  return attribute && new TextDecoder().decode(attribute.bytes);
}

function readTiling(attributes: Map<string, Attribute>): Tiling {
  const bytes = attributes.get('tiles')?.bytes;
  if (!bytes) throw new FileError('the file says it is tiled but does not describe its tiles');
  if (bytes.length !== 9) throw new FileError(`attribute tiles has ${bytes.length} bytes, not 9`);
  const view = new DataView(bytes.buffer);
  const [x, y] = [view.getUint32(0, true), view.getUint32(4, true)];
  if (x < 1 || y < 1 || x > MAX_SIDE || y > MAX_SIDE)
    throw new FileError(`tiles of ${x} x ${y} pixels; 1 to ${MAX_SIDE} a side are read`);
  const mode = LEVEL_MODES[bytes[8]! & 15];
  if (!mode || bytes[8]! >> 4 > 1) throw new FileError(`tile mode ${bytes[8]} is unknown`);
  return { x, y, mode, roundUp: bytes[8]! >> 4 === 1 };
}

/** Sides of the levels of a picture's side: each half of the one before, down to 1. */
function levels(side: number, roundUp: boolean): number[] {
  const sides = [side];
  while (side > 1) sides.push((side = roundUp ? (side + 1) >> 1 : side >> 1));
  return sides;
}

function countTiles(tiling: Tiling, width: number, height: number): number {
  const { mode, roundUp, x, y } = tiling;
  if (mode === 'one') return Math.ceil(width / x) * Math.ceil(height / y);
  if (mode === 'rip') {
    const along = (side: number, tile: number): number =>
      levels(side, roundUp).reduce((sum, length) => sum + Math.ceil(length / tile), 0);
    return along(width, x) * along(height, y);
  }
  const count = levels(Math.max(width, height), roundUp).length;
  let tiles = 0;
  for (let level = 0; level < count; level++) {
    const at = (side: number): number =>
      Math.max(1, roundUp ? Math.ceil(side / 2 ** level) : Math.floor(side / 2 ** level));
    tiles += Math.ceil(at(width) / x) * Math.ceil(at(height) / y);
  }
  return tiles;
}

function readWindow(attributes: Map<string, Attribute>, name: string): Window | undefined {
  const attribute = attributes.get(name);
  if (!attribute) return undefined;
  if (attribute.bytes.length !== 16)
    throw new FileError(`attribute ${name} has ${attribute.bytes.length} bytes, not 16`);
  const view = new DataView(attribute.bytes.buffer);
  const [xMin, yMin, xMax, yMax] = [0, 4, 8, 12].map((at) => view.getInt32(at, true)) as [
    number,
    number,
    number,
    number,
  ];
  if (xMax < xMin || yMax < yMin)
    throw new FileError(`${name} is empty (${xMin} ${yMin} to ${xMax} ${yMax})`);
  return { xMin, yMin, xMax, yMax };
}

function readChannels(bytes: Uint8Array, limit: number): ExrChannel[] {
  const cursor = new Cursor(bytes);
  const channels: ExrChannel[] = [];
  const seen = new Set<string>();
  for (;;) {
    const name = cursor.name(limit, 'the channel list');
    if (name === '') break;
    const type = PIXEL_TYPES[cursor.i32(`channel ${name}`)];
    if (!type) throw new FileError(`channel ${name} has an unknown sample type`);
    const linear = (cursor.i32(`channel ${name}`) & 0xff) !== 0;
    const xSampling = cursor.i32(`channel ${name}`);
    const ySampling = cursor.i32(`channel ${name}`);
    if (xSampling < 1 || ySampling < 1)
      throw new FileError(`channel ${name} has a sampling of ${xSampling} x ${ySampling}`);
    if (seen.has(name)) throw new FileError(`channel ${name} stands twice in the header`);
    seen.add(name);
    channels.push({ name, type, linear, xSampling, ySampling });
    if (channels.length > MAX_CHANNELS) throw new FileError(`more than ${MAX_CHANNELS} channels`);
  }
  if (channels.length === 0) throw new FileError('the file has no channels');
  return channels;
}
