import { WASM } from '../generated/codecs';
import { wasmBytes } from '../runtime/wasm';

/** What the WebAssembly kernel offers; places are bytes of its memory. */
interface CodecsKernel {
  memory: WebAssembly.Memory;
  reserve(bytes: number): number;
  inflate(from: number, length: number, to: number, limit: number): number;
  deflate(from: number, length: number, to: number): number;
  predict(from: number, count: number, to: number): void;
  unpredict(from: number, count: number, to: number): void;
  unhuffman(from: number, length: number, to: number, count: number): number;
  unpackPiz(from: number, length: number, chunk: number, work: number, to: number, size: number): number;
  unpackB44(from: number, length: number, chunk: number, starts: number, to: number): number;
  unpackPxr24(from: number, length: number, chunk: number, work: number, to: number): number;
}

let loaded: CodecsKernel | undefined;

/** The kernel of this thread, made at first use. */
function kernel(): CodecsKernel {
  if (loaded) return loaded;
  const abort = (): never => {
    throw new Error('the codecs kernel stopped');
  };
  loaded = new WebAssembly.Instance(new WebAssembly.Module(wasmBytes(WASM)), { env: { abort } })
    .exports as unknown as CodecsKernel;
  return loaded;
}

/** Space after a stream and after its output that the kernel may touch. */
const SLACK = 512;

/** Memory for one call, taken piece by piece. What earlier calls gave may be overwritten. */
class CallMemory {
  private readonly starts: number[] = [];

  /** Takes `sizes` bytes each, with space behind each. */
  constructor(...sizes: readonly number[]) {
    let bytes = 0;
    for (const size of sizes) {
      this.starts.push(bytes);
      bytes += (size + SLACK + 15) & ~15;
    }
    const first = kernel().reserve(bytes);
    if (first === 0)
      throw new RangeError(`Array buffer allocation failed: ${bytes} bytes for the codecs kernel`);
    this.starts = this.starts.map((start) => first + start);
  }

  /** Where piece `index` begins. */
  at(index: number): number {
    return this.starts[index]!;
  }

  /** Puts bytes at the beginning of a piece, and zeros behind them. */
  put(index: number, values: Uint8Array): number {
    const at = this.at(index);
    const bytes = new Uint8Array(kernel().memory.buffer);
    bytes.set(values, at);
    bytes.fill(0, at + values.length, at + values.length + SLACK);
    return at;
  }
}

/** Bytes of the kernel's memory, which are good until it is used again. */
function bytesAt(at: number, size: number): Uint8Array {
  return new Uint8Array(kernel().memory.buffer, at, size);
}

/** Why data cannot be unpacked, by the kernel's numbers (assembly/faults.ts). */
const FAULTS = {
  [-1]: 'damaged',
  [-2]: 'too long',
  [-3]: 'checksum',
  [-4]: 'ends early',
  [-5]: 'bad codes',
  [-6]: 'unknown code',
  [-7]: 'long run',
  [-8]: 'bad values',
  [-9]: 'bad extent',
  [-10]: 'wrong size',
} as const;

export type CodecFault = (typeof FAULTS)[keyof typeof FAULTS];

const faultOf = (result: number): CodecFault => FAULTS[result as keyof typeof FAULTS];

/** Inflates into the first piece of memory, whose second holds the stream and has room for as much, or tells why not. */
function inflateInside(packed: Uint8Array, size: number): CallMemory | CodecFault {
  const memory = new CallMemory(size, Math.max(size, packed.length));
  const written = kernel().inflate(memory.put(1, packed), packed.length, memory.at(0), size);
  if (written < 0) return faultOf(written);
  return written === size ? memory : 'wrong size';
}

/** Inflates a zlib stream (RFC 1950) to exactly `size` bytes, or tells what is wrong with it. */
export function inflateZlib(packed: Uint8Array, size: number): Uint8Array | CodecFault {
  const memory = inflateInside(packed, size);
  return typeof memory === 'string' ? memory : bytesAt(memory.at(0), size).slice();
}

/**
 * Inflates and undoes the byte predictor and the interleaving. What is given lies in the kernel's memory and is good
 * only until the kernel is used again.
 */
export function inflatePredicted(packed: Uint8Array, size: number): Uint8Array | CodecFault {
  const memory = inflateInside(packed, size);
  if (typeof memory === 'string') return memory;
  // The stream is done with; its place takes the result.
  kernel().unpredict(memory.at(0), size, memory.at(1));
  return bytesAt(memory.at(1), size);
}

/** Undoes the byte predictor and the interleaving of bytes. Good only until the kernel is used again. */
export function unpredictBytes(bytes: Uint8Array): Uint8Array {
  const memory = new CallMemory(bytes.length, bytes.length);
  kernel().unpredict(memory.put(0, bytes), bytes.length, memory.at(1));
  return bytesAt(memory.at(1), bytes.length);
}

/** Deflates bytes into a zlib stream, after the byte predictor and interleaving if `predicted`. */
export function deflateZlib(raw: Uint8Array, predicted: boolean): Uint8Array {
  const size = raw.length;
  const memory = new CallMemory(size, size, size + (size >> 8));
  const from = memory.put(0, raw);
  if (predicted) kernel().predict(from, size, memory.at(1));
  const written = kernel().deflate(memory.at(predicted ? 1 : 0), size, memory.at(2));
  return bytesAt(memory.at(2), written).slice();
}

/** Decodes the Huffman codes of PIZ and DWA to exactly `count` values, or tells what is wrong with them. */
export function unhuffmanWords(packed: Uint8Array, count: number): Uint16Array | CodecFault {
  const memory = new CallMemory(2 * count, packed.length);
  const fault = kernel().unhuffman(memory.put(1, packed), packed.length, memory.at(0), count);
  return fault ? faultOf(fault) : new Uint16Array(kernel().memory.buffer, memory.at(0), count).slice();
}

/** How the samples of a chunk lie. */
export interface ChunkLayout {
  /** The first line, and how many. */
  y: number;
  lines: number;
  channels: readonly ChannelLayout[];
}

export interface ChannelLayout {
  type: 'uint' | 'half' | 'float';
  ySampling: number;
  /** Samples in a row, and rows in the chunk. */
  columns: number;
  rows: number;
  /** Gives the 65536 halves that B44 puts in the place of those that it unpacks. */
  table?: (() => Uint16Array) | undefined;
}

const TYPES = ['uint', 'half', 'float'] as const;
const TABLE_BYTES = 2 * 65536;
const [CHUNK_INTS, CHANNEL_INTS] = [3, 6];

export type ChunkCoding = 'piz' | 'b44' | 'pxr24';

/**
 * Unpacks a chunk to exactly `size` bytes of samples in the order of the file, or tells what is wrong with it. The samples
 * lie in the kernel's memory and are good only until it is used again.
 */
export function unpackSamples(
  coding: ChunkCoding,
  packed: Uint8Array,
  layout: ChunkLayout,
  size: number,
): Uint8Array | CodecFault {
  const { y, lines, channels } = layout;
  const table = channels.find((channel) => channel.table)?.table?.();
  const ints = CHUNK_INTS + CHANNEL_INTS * channels.length;
  const memory = new CallMemory(
    4 * ints,
    table ? TABLE_BYTES : 0,
    Math.max(size, 4 * lines),
    size,
    packed.length,
  );
  const [chunk, tableAt, work, to] = [memory.at(0), memory.at(1), memory.at(2), memory.at(3)];
  const from = memory.put(4, packed);
  const record = new Int32Array(kernel().memory.buffer, chunk, ints);
  record.set([y, lines, channels.length]);
  channels.forEach((channel, index) => {
    const { type, ySampling, columns, rows } = channel;
    record.set(
      [TYPES.indexOf(type), ySampling, columns, rows, channel.table ? tableAt : 0, 0],
      CHUNK_INTS + CHANNEL_INTS * index,
    );
  });
  if (table) new Uint16Array(kernel().memory.buffer, tableAt, table.length).set(table);
  const fault = run(coding, { from, length: packed.length, chunk, work, to, size });
  return fault ? faultOf(fault) : bytesAt(to, size);
}

function run(
  coding: ChunkCoding,
  {
    from,
    length,
    chunk,
    work,
    to,
    size,
  }: Record<'from' | 'length' | 'chunk' | 'work' | 'to' | 'size', number>,
): number {
  switch (coding) {
    case 'piz':
      return kernel().unpackPiz(from, length, chunk, work, to, size);
    case 'b44':
      return kernel().unpackB44(from, length, chunk, work, to);
    case 'pxr24':
      return kernel().unpackPxr24(from, length, chunk, work, to);
  }
}
