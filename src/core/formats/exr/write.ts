import { FileError } from '../../errors';
import type { Channel, Picture } from '../../image/picture';
import type { TaskRunner } from '../../kernels/runtime/parallel';
import { groupsOf, runGroups } from './jobs';
import {
  BYTES_PER_SAMPLE,
  COMPRESSIONS,
  FLAG_LONG_NAMES,
  LONG_NAME,
  MAGIC,
  PIXEL_TYPES,
  SHORT_NAME,
  type CompressionName,
} from './spec';

export interface WriteOptions {
  /** 'zip' packs 16 lines at a time (default); 'none' stores them. */
  compression?: 'zip' | 'none';
  /** Called with the share done, 0 to 1. */
  progress?: ((done: number) => void) | undefined;
  /** Threads to pack on; without them it is done on this one. */
  runner?: TaskRunner | undefined;
}

class Bytes {
  private parts: Uint8Array[] = [];
  length = 0;
  push(bytes: Uint8Array): void {
    this.parts.push(bytes);
    this.length += bytes.length;
  }
  text(text: string): void {
    this.push(new TextEncoder().encode(`${text}\0`));
  }
  i32(...values: number[]): void {
    this.push(new Uint8Array(Int32Array.from(values).buffer));
  }
  f32(...values: number[]): void {
    this.push(new Uint8Array(Float32Array.from(values).buffer));
  }
  attribute(name: string, type: string, fill: (value: Bytes) => void): void {
    const value = new Bytes();
    fill(value);
    this.text(name);
    this.text(type);
    this.i32(value.length);
    this.push(value.join());
  }
  join(): Uint8Array<ArrayBuffer> {
    const out = new Uint8Array(this.length);
    let at = 0;
    for (const part of this.parts) {
      out.set(part, at);
      at += part.length;
    }
    return out;
  }
}

function byBytes(a: string, b: string): number {
  const [x, y] = [new TextEncoder().encode(a), new TextEncoder().encode(b)];
  for (let i = 0; i < Math.min(x.length, y.length); i++) if (x[i] !== y[i]) return x[i]! - y[i]!;
  return x.length - y.length;
}

/**
 * Writes a picture as a scan-line OpenEXR file, every channel in its own sample type, sorted by name as the
 * format asks. Carried attributes are written again. Throws {@link FileError} for a name that does not fit.
 */
export async function writeExr(
  picture: Picture,
  options: WriteOptions = {},
): Promise<Uint8Array<ArrayBuffer>> {
  const compression = options.compression ?? 'zip';
  const channels = [...picture.channels.values()].sort((a, b) => byBytes(a.name, b.name));
  if (channels.length === 0) throw new FileError('a picture without channels cannot be written');
  const out = new Bytes();
  writeHeader(out, picture, channels, compression);
  const blocks = blocksOf(picture, channels, compression);
  const packed = await packBlocks(blocks, picture, channels, options);
  const offsets = new BigUint64Array(blocks.length);
  out.push(new Uint8Array(offsets.buffer));
  packed.forEach((bytes, index) => {
    offsets[index] = BigInt(out.length);
    out.i32(picture.dataWindow.yMin + blocks[index]!.first, bytes.length);
    out.push(bytes);
  });
  return out.join();
}

function writeHeader(
  out: Bytes,
  { dataWindow, displayWindow, attributes }: Picture,
  channels: readonly Channel[],
  compression: CompressionName,
): void {
  const names = [...attributes.keys(), ...channels.map(({ name }) => name)];
  const longest = Math.max(...names.map((name) => new TextEncoder().encode(name).length));
  if (longest > LONG_NAME)
    throw new FileError(`a channel's name has ${longest} bytes; OpenEXR allows ${LONG_NAME}`);
  out.i32(MAGIC, 2 | (longest > SHORT_NAME ? FLAG_LONG_NAMES : 0));
  out.attribute('channels', 'chlist', (value) => {
    for (const channel of channels) {
      value.text(channel.name);
      value.i32(PIXEL_TYPES.indexOf(channel.type), 0, 1, 1);
    }
    value.push(new Uint8Array(1));
  });
  const code = COMPRESSIONS.findIndex(({ name }) => name === compression);
  out.attribute('compression', 'compression', (value) => value.push(Uint8Array.of(code)));
  for (const [name, { xMin, yMin, xMax, yMax }] of [
    ['dataWindow', dataWindow],
    ['displayWindow', displayWindow],
  ] as const)
    out.attribute(name, 'box2i', (value) => value.i32(xMin, yMin, xMax, yMax));
  out.attribute('lineOrder', 'lineOrder', (value) => value.push(new Uint8Array(1)));
  for (const [name, type, values] of [
    ['pixelAspectRatio', 'float', [1]],
    ['screenWindowCenter', 'v2f', [0, 0]],
    ['screenWindowWidth', 'float', [1]],
  ] as const) {
    if (!attributes.has(name)) out.attribute(name, type, (value) => value.f32(...values));
  }
  for (const [name, { type, bytes }] of attributes) out.attribute(name, type, (value) => value.push(bytes));
  out.push(new Uint8Array(1));
}

/** Lines that are packed together. */
interface Block {
  first: number;
  lines: number;
  bytes: number;
}

function blocksOf(
  { width, height }: Picture,
  channels: readonly Channel[],
  compression: CompressionName,
): Block[] {
  const { lines } = COMPRESSIONS.find(({ name }) => name === compression)!;
  const lineBytes = width * channels.reduce((sum, { type }) => sum + BYTES_PER_SAMPLE[type], 0);
  return Array.from({ length: Math.ceil(height / lines) }, (_, index) => {
    const first = index * lines;
    const count = Math.min(lines, height - first);
    return { first, lines: count, bytes: count * lineBytes };
  });
}

/** The bytes of each block as they lie in the file. */
async function packBlocks(
  blocks: readonly Block[],
  { width }: Picture,
  channels: readonly Channel[],
  { compression = 'zip', progress, runner }: WriteOptions,
): Promise<Uint8Array[]> {
  if (compression === 'none')
    return blocks.map((block) => {
      const raw = new Uint8Array(block.bytes);
      copyLines(channels, width, block, raw);
      return raw;
    });
  const packed: Uint8Array[] = [];
  const groups = groupsOf([...blocks.entries()], ([, { bytes }]) => bytes);
  const largest = Math.max(...groups.map(({ bytes, items }) => 4 * items.length + bytes));
  await runGroups(groups, largest, {
    runner,
    progress,
    fill: ({ items }, buffer) => {
      let from = 4 * items.length;
      const chunks = items.map(([, block]) => {
        copyLines(channels, width, block, new Uint8Array(buffer, from, block.bytes));
        from += block.bytes;
        return { from: from - block.bytes, size: block.bytes };
      });
      return { job: 'packChunks', input: { buffer, sizes: 0, chunks } };
    },
    empty: ({ items }, buffer, { input }) => {
      const sizes = new Int32Array(buffer, input.sizes, items.length);
      for (const [k, [index]] of items.entries())
        packed[index] = new Uint8Array(buffer, input.chunks[k]!.from, sizes[k]).slice();
    },
  });
  return packed;
}

/** Copies a block's samples in the order of the file: line after line, and in a line channel after channel. */
function copyLines(
  channels: readonly Channel[],
  width: number,
  { first, lines }: Block,
  to: Uint8Array,
): void {
  const sources = channels.map(
    ({ samples }) => new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength),
  );
  let at = 0;
  for (let y = first; y < first + lines; y++) {
    for (const [index, { type }] of channels.entries()) {
      const length = width * BYTES_PER_SAMPLE[type];
      to.set(sources[index]!.subarray(y * length, (y + 1) * length), at);
      at += length;
    }
  }
}
