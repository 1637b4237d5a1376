/** What compressed chunks of OpenEXR need, and zlib streams, on one memory. */
export { inflate } from './inflate';
export { deflate } from './deflate';
export { predict, unpredict } from './predictor';
export { unhuffman } from './canonical';
export { unpackPiz } from './piz';
export { unpackB44 } from './b44';
export { unpackPxr24 } from './pxr24';

/** Makes `bytes` of memory available and gives where they begin. What was there before may be gone. */
export function reserve(bytes: i32): usize {
  const start = (__heap_base + 15) & ~15;
  const pages = <i32>((start + bytes + 0xffff) >> 16) - memory.size();
  if (pages > 0 && memory.grow(pages) < 0) return 0;
  return start;
}
