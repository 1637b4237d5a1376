import type { SharedMemory } from './memory';
import { canShareMemory } from './shared';

/** The bytes of a WebAssembly module that is kept as text. */
export function wasmBytes(base64: string): Uint8Array<ArrayBuffer> {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}

/** How a module says that it imports `env.memory`, up to the byte that tells of which kind. */
const MEMORY_IMPORT = [3, ...ascii('env'), 6, ...ascii('memory'), 2];
/** That the memory is shared and has a maximum, and that it only has a maximum (WebAssembly core specification, limits). */
const [SHARED_LIMITS, OWN_LIMITS] = [3, 1];

function ascii(text: string): number[] {
  return Array.from(text, (letter) => letter.charCodeAt(0));
}

/** A module that was compiled for shared memory, changed to take memory of one thread. It has no atomic instructions. */
function withOwnMemory(bytes: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
  for (let at = 0; at + MEMORY_IMPORT.length < bytes.length; at++) {
    const limits = at + MEMORY_IMPORT.length;
    if (!MEMORY_IMPORT.every((byte, k) => bytes[at + k] === byte) || bytes[limits] !== SHARED_LIMITS)
      continue;
    bytes[limits] = OWN_LIMITS;
    return bytes;
  }
  return bytes;
}

/**
 * A kernel that works on memory it is handed: its functions on this thread, for the memory that was used last. An instance
 * may not know yet that another thread has grown its memory, and then traps in what was added; so the size is part of
 * what it is known by.
 */
export function onMemory<Exports extends object>(base64: string): (shared: SharedMemory) => Exports {
  let compiled: WebAssembly.Module | undefined;
  // Weak, so that memory which its host has let go is not kept by every thread that ever worked in it.
  let current: { id: number; bytes: number; kernel: WeakRef<Exports> } | undefined;
  return ({ id, memory }) => {
    const bytes = memory.buffer.byteLength;
    const known = current?.id === id && current.bytes === bytes ? current.kernel.deref() : undefined;
    if (known) return known;
    compiled ??= new WebAssembly.Module(
      canShareMemory ? wasmBytes(base64) : withOwnMemory(wasmBytes(base64)),
    );
    const abort = (): never => {
      throw new Error('a kernel stopped');
    };
    const { exports } = new WebAssembly.Instance(compiled, { env: { memory, abort } });
    const kernel = exports as unknown as Exports;
    current = { id, bytes, kernel: new WeakRef(kernel) };
    return kernel;
  };
}
