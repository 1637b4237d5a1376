import { FileError, UnsupportedError } from '../../errors';
import type { Attribute, SampleType, Window } from '../../image/picture';
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
  PIXEL_TYPES,
  SHORT_NAME,
  BYTES_PER_SAMPLE,
} from './spec';

export interface ExrChannel {
  name: string;
  type: SampleType;
  /** Perceived linearly: block compression keeps its exponential. */
  linear: boolean;
}

/** What a scan-line file says about itself, checked for sense and against the file's size. */
export interface ExrHeader {
  channels: ExrChannel[];
  compression: (typeof COMPRESSIONS)[number];
  dataWindow: Window;
  displayWindow: Window;
  attributes: Map<string, Attribute>;
  /** Where the table of chunk offsets begins. */
  tableOffset: number;
  width: number;
  height: number;
  /** Bytes of one line of all channels. */
  lineBytes: number;
}

const REQUIRED = ['channels', 'compression', 'dataWindow'] as const;
const TYPE_OF: Record<string, string> = {
  channels: 'chlist',
  compression: 'compression',
  dataWindow: 'box2i',
  displayWindow: 'box2i',
  lineOrder: 'lineOrder',
};

/** Attributes that describe the pixels themselves; the writer makes them anew. */
const STRUCTURAL = new Set([
  ...Object.keys(TYPE_OF),
  'tiles',
  'type',
  'name',
  'version',
  'chunkCount',
  'maxSamplesPerPixel',
]);

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

/** Reads and checks the header. Throws {@link FileError}, or {@link UnsupportedError} by the feature's name. */
export function readHeader(bytes: Uint8Array): ExrHeader {
  const cursor = new Cursor(bytes);
  if (bytes.length < 8 || cursor.i32('its first bytes') !== MAGIC) {
    throw new FileError('this is not an OpenEXR file', { todo: 'Choose a file written as OpenEXR' });
  }
  const flags = cursor.i32('its first bytes');
  if ((flags & 0xff) !== 2) throw new FileError(`OpenEXR version ${flags & 0xff} is unknown`);
  const unknown = flags & ~0xff & ~KNOWN_FLAGS;
  if (unknown) throw new FileError(`the version field has unknown flags (0x${(unknown >>> 0).toString(16)})`);
  if (flags & FLAG_DEEP) throw deepData();
  if (flags & FLAG_MULTI_PART)
    throw new UnsupportedError('files of several parts', { todo: 'Write the passes as layers of one part' });
  const attributes = readAttributes(cursor, flags & FLAG_LONG_NAMES ? LONG_NAME : SHORT_NAME);
  const kind = attributes.get('type');
  if (kind && new TextDecoder().decode(kind.bytes).startsWith('deep')) throw deepData();
  if (flags & FLAG_TILED) {
    if (!attributes.has('tiles'))
      throw new FileError('the file says it is tiled but does not describe its tiles');
    throw new UnsupportedError('tiles', { todo: 'Write the file in scan lines' });
  }
  return interpret(attributes, cursor.at, flags, bytes.length);
}

function deepData(): UnsupportedError {
  return new UnsupportedError('deep data', { todo: 'Flatten the picture in the renderer' });
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

function interpret(
  attributes: Map<string, Attribute>,
  tableOffset: number,
  flags: number,
  size: number,
): ExrHeader {
  for (const name of REQUIRED) {
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
  const dataWindow = readWindow(attributes, 'dataWindow')!;
  const displayWindow = readWindow(attributes, 'displayWindow') ?? dataWindow;
  const width = dataWindow.xMax - dataWindow.xMin + 1;
  const height = dataWindow.yMax - dataWindow.yMin + 1;
  if (width > MAX_SIDE || height > MAX_SIDE || width * height > MAX_PIXELS) {
    throw new FileError(
      `the data window is ${width} x ${height}; at most ${MAX_SIDE} a side and ${MAX_PIXELS} pixels are read`,
    );
  }
  const code = attributes.get('compression')!.bytes;
  const compression = COMPRESSIONS[code.length === 1 ? code[0]! : -1];
  if (!compression) throw new FileError(`compression ${code.join(' ')} is unknown`);
  const order = attributes.get('lineOrder')?.bytes;
  if (order && (order.length !== 1 || order[0]! > 2))
    throw new FileError(`line order ${order.join(' ')} is unknown`);
  const limit = flags & FLAG_LONG_NAMES ? LONG_NAME : SHORT_NAME;
  const channels = readChannels(attributes.get('channels')!.bytes, limit);
  const lineBytes = width * channels.reduce((sum, channel) => sum + BYTES_PER_SAMPLE[channel.type], 0);
  if (lineBytes * height > MAX_DECODED_BYTES) {
    throw new FileError(
      `its samples would take ${(lineBytes * height) / 2 ** 30} GiB; at most ${MAX_DECODED_BYTES / 2 ** 30} are read`,
    );
  }
  if (!compression.supported) {
    throw new UnsupportedError(`compression ${compression.name.toUpperCase()}`, {
      todo: 'Write the file with ZIP compression',
    });
  }
  const chunks = Math.ceil(height / compression.lines);
  // Each chunk takes its table entry, its two header words and at least one byte.
  if (tableOffset + chunks * 17 > size)
    throw new FileError('the file is too short for the lines it promises', {
      todo: 'Copy or render it again',
    });
  const carried = new Map([...attributes].filter(([name]) => !STRUCTURAL.has(name)));
  return {
    channels,
    compression,
    dataWindow,
    displayWindow,
    attributes: carried,
    tableOffset,
    width,
    height,
    lineBytes,
  };
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
    if (xSampling !== 1 || ySampling !== 1)
      throw new UnsupportedError(`subsampled channels (${name})`, {
        todo: 'Write the file as full-size RGB',
      });
    if (seen.has(name)) throw new FileError(`channel ${name} stands twice in the header`);
    seen.add(name);
    channels.push({ name, type, linear });
    if (channels.length > MAX_CHANNELS) throw new FileError(`more than ${MAX_CHANNELS} channels`);
  }
  if (channels.length === 0) throw new FileError('the file has no channels');
  return channels;
}
