/** Memory that several threads see at once. */
export type Shared = SharedArrayBuffer;

/** Whether threads may share memory. A browser allows it only to pages that are isolated from other origins. */
export const canShareMemory: boolean =
  typeof SharedArrayBuffer !== 'undefined' &&
  (globalThis as { crossOriginIsolated?: boolean }).crossOriginIsolated !== false;

/** Zeroed memory for all threads; where none can share it, memory of the one that there is. */
export function allocateShared(bytes: number): Shared {
  return canShareMemory ? new SharedArrayBuffer(bytes) : (new ArrayBuffer(bytes) as unknown as Shared);
}

/** Floats in shared memory: their own buffer if it is shared and holds nothing else, or a copy. */
export function shareFloats(values: Float32Array): Shared {
  const { buffer } = values;
  const fits = values.byteOffset === 0 && values.byteLength === buffer.byteLength;
  if (fits && canShareMemory && buffer instanceof SharedArrayBuffer) return buffer;
  const shared = allocateShared(values.byteLength);
  new Float32Array(shared).set(values);
  return shared;
}
