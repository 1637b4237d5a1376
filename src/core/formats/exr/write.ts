import { FileError } from '../../errors';
import type { Picture } from '../../image/picture';
import { zipChunk } from './codec';
import {
  BYTES_PER_SAMPLE,
  COMPRESSIONS,
  FLAG_LONG_NAMES,
  LONG_NAME,
  MAGIC,
  PIXEL_TYPES,
  SHORT_NAME,
} from './spec';

export interface WriteOptions {
  /** 'zip' packs 16 lines at a time (default); 'none' stores them. */
  compression?: 'zip' | 'none';
  /** Told the share done, 0 to 1. */
  progress?: (done: number) => void;
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
export function writeExr(picture: Picture, options: WriteOptions = {}): Uint8Array<ArrayBuffer> {
  const code = COMPRESSIONS.findIndex((entry) => entry.name === (options.compression ?? 'zip'));
  const { lines, name: compression } = COMPRESSIONS[code]!;
  const channels = [...picture.channels.values()].sort((a, b) => byBytes(a.name, b.name));
  if (channels.length === 0) throw new FileError('a picture without channels cannot be written');
  const longest = Math.max(
    ...[...picture.attributes.keys(), ...picture.channels.keys()].map(
      (name) => new TextEncoder().encode(name).length,
    ),
  );
  if (longest > LONG_NAME)
    throw new FileError(`a channel's name has ${longest} bytes; OpenEXR allows ${LONG_NAME}`);
  const out = new Bytes();
  out.i32(MAGIC, 2 | (longest > SHORT_NAME ? FLAG_LONG_NAMES : 0));
  out.attribute('channels', 'chlist', (value) => {
    for (const channel of channels) {
      value.text(channel.name);
      value.i32(PIXEL_TYPES.indexOf(channel.type), 0, 1, 1);
    }
    value.push(new Uint8Array(1));
  });
  out.attribute('compression', 'compression', (value) => value.push(Uint8Array.of(code)));
  const { dataWindow, displayWindow } = picture;
  out.attribute('dataWindow', 'box2i', (value) =>
    value.i32(dataWindow.xMin, dataWindow.yMin, dataWindow.xMax, dataWindow.yMax),
  );
  out.attribute('displayWindow', 'box2i', (value) =>
    value.i32(displayWindow.xMin, displayWindow.yMin, displayWindow.xMax, displayWindow.yMax),
  );
  out.attribute('lineOrder', 'lineOrder', (value) => value.push(new Uint8Array(1)));
  const carried = new Map(picture.attributes);
  for (const [name, type, values] of [
    ['pixelAspectRatio', 'float', [1]],
    ['screenWindowCenter', 'v2f', [0, 0]],
    ['screenWindowWidth', 'float', [1]],
  ] as const) {
    if (!carried.has(name)) out.attribute(name, type, (value) => value.f32(...values));
  }
  for (const [name, { type, bytes }] of carried) out.attribute(name, type, (value) => value.push(bytes));
  out.push(new Uint8Array(1));

  const chunkCount = Math.ceil(picture.height / lines);
  const offsets = new BigUint64Array(chunkCount);
  const tableAt = out.length;
  out.push(new Uint8Array(offsets.buffer));
  const views = channels.map(
    (channel) =>
      new Uint8Array(channel.samples.buffer, channel.samples.byteOffset, channel.samples.byteLength),
  );
  const lineBytes =
    picture.width * channels.reduce((sum, channel) => sum + BYTES_PER_SAMPLE[channel.type], 0);
  for (let index = 0; index < chunkCount; index++) {
    const first = index * lines;
    const count = Math.min(lines, picture.height - first);
    const raw = new Uint8Array(count * lineBytes);
    let at = 0;
    for (let y = first; y < first + count; y++) {
      for (const [order, channel] of channels.entries()) {
        const length = picture.width * BYTES_PER_SAMPLE[channel.type];
        raw.set(views[order]!.subarray(y * length, (y + 1) * length), at);
        at += length;
      }
    }
    const zipped = compression === 'zip' ? zipChunk(raw) : raw;
    const packed = zipped.length < raw.length ? zipped : raw;
    offsets[index] = BigInt(out.length);
    out.i32(dataWindow.yMin + first, packed.length);
    out.push(packed);
    options.progress?.((index + 1) / chunkCount);
  }
  const file = out.join();
  file.set(new Uint8Array(offsets.buffer), tableAt);
  return file;
}
