import { WASM } from '../generated/zip';
import { wasmBytes } from '../runtime/wasm';

/** What the WebAssembly kernel offers; places are bytes of its memory. */
interface ZipKernel {
  memory: WebAssembly.Memory;
  reserve(bytes: number): number;
  inflate(from: number, length: number, to: number, limit: number): number;
  deflate(from: number, length: number, to: number): number;
  predict(from: number, count: number, to: number): void;
  unpredict(from: number, count: number, to: number): void;
}

let loaded: ZipKernel | undefined;

/** The kernel of this thread, made at first use. */
function kernel(): ZipKernel {
  if (loaded) return loaded;
  const abort = (): never => {
    throw new Error('the zip kernel stopped');
  };
  loaded = new WebAssembly.Instance(new WebAssembly.Module(wasmBytes(WASM)), { env: { abort } })
    .exports as unknown as ZipKernel;
  return loaded;
}

/** Space after a stream and after its output that the kernel may touch. */
const SLACK = 512;

function allocate(bytes: number): number {
  const start = kernel().reserve(bytes);
  if (start === 0) throw new RangeError(`Array buffer allocation failed: ${bytes} bytes for the zip kernel`);
  return start;
}

/** Why a stream did not inflate. */
export type InflateFault = 'damaged' | 'too long' | 'too short' | 'checksum';

/** Inflates into the kernel's memory and gives where, or why not. */
function inflateInside(packed: Uint8Array, size: number): { at: number } | { fault: InflateFault } {
  const zip = kernel();
  const output = allocate(packed.length + 2 * size + 4 * SLACK);
  const input = output + size + SLACK;
  const bytes = new Uint8Array(zip.memory.buffer);
  bytes.set(packed, input);
  bytes.fill(0, input + packed.length, input + packed.length + SLACK);
  const written = zip.inflate(input, packed.length, output, size);
  if (written === size) return { at: output };
  if (written >= 0) return { fault: 'too short' };
  return { fault: written === -2 ? 'too long' : written === -3 ? 'checksum' : 'damaged' };
}

/** Inflates a zlib stream (RFC 1950) to exactly `size` bytes, or tells what is wrong with it. */
export function inflateZlib(packed: Uint8Array, size: number): Uint8Array | InflateFault {
  const result = inflateInside(packed, size);
  if ('fault' in result) return result.fault;
  return new Uint8Array(kernel().memory.buffer).slice(result.at, result.at + size);
}

/**
 * Inflates and undoes the byte predictor and the interleaving. What is given lies in the kernel's memory and is good
 * only until the kernel is used again.
 */
export function inflatePredicted(packed: Uint8Array, size: number): Uint8Array | InflateFault {
  const result = inflateInside(packed, size);
  if ('fault' in result) return result.fault;
  // The stream is done with; its place takes the result.
  const to = result.at + size + SLACK;
  kernel().unpredict(result.at, size, to);
  return new Uint8Array(kernel().memory.buffer, to, size);
}

/** Undoes the byte predictor and the interleaving of bytes. Good only until the kernel is used again. */
export function unpredictBytes(bytes: Uint8Array): Uint8Array {
  const from = allocate(2 * bytes.length + 2 * SLACK);
  const to = from + bytes.length + SLACK;
  new Uint8Array(kernel().memory.buffer).set(bytes, from);
  kernel().unpredict(from, bytes.length, to);
  return new Uint8Array(kernel().memory.buffer, to, bytes.length);
}

/** Deflates bytes into a zlib stream, after the byte predictor and interleaving if `predicted`. */
export function deflateZlib(raw: Uint8Array, predicted: boolean): Uint8Array {
  const size = raw.length;
  const most = size + (size >> 8) + SLACK;
  const from = allocate(size * 2 + most + 3 * SLACK);
  const parted = from + size + SLACK;
  const to = parted + size + SLACK;
  const zip = kernel();
  new Uint8Array(zip.memory.buffer).set(raw, from);
  if (predicted) zip.predict(from, size, parted);
  const written = zip.deflate(predicted ? parted : from, size, to);
  return new Uint8Array(zip.memory.buffer).slice(to, to + written);
}
