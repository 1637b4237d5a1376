/** Diffraction by a pupil: its image in all wavelengths, and that on pixels, on memory that all threads share. */
export { powerRows, polarRows, blurRows, mixRows } from './spectrum';
export { antialiasRows, rasterRows } from './raster';

/** Where memory is free for the caller. */
export function firstFree(): usize {
  return __heap_base;
}
