import type { SharedMemory } from './memory';

/** The bytes of a WebAssembly module that is kept as text. */
export function wasmBytes(base64: string): Uint8Array<ArrayBuffer> {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}

/** A kernel that works on memory it is handed: its functions on this thread, for the memory that was used last. */
export function onMemory<Exports>(base64: string): (shared: SharedMemory) => Exports {
  let compiled: WebAssembly.Module | undefined;
  let current: { id: number; kernel: Exports } | undefined;
  return ({ id, memory }) => {
    if (current?.id === id) return current.kernel;
    compiled ??= new WebAssembly.Module(wasmBytes(base64));
    const abort = (): never => {
      throw new Error('a kernel stopped');
    };
    const { exports } = new WebAssembly.Instance(compiled, { env: { memory, abort } });
    current = { id, kernel: exports as unknown as Exports };
    return current.kernel;
  };
}
