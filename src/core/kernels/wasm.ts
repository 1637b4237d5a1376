/** The bytes of a WebAssembly module that is kept as text. */
export function wasmBytes(base64: string): Uint8Array<ArrayBuffer> {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}
