/** Convolution of real planes by fast Fourier transform, on memory that all threads share. */
export { rowsForward, rowsInverse, rowsMirrored } from './rows';
export { columnsForward, columnsConvolve, columnsMultiply } from './columns';

/** Where memory is free for the caller. */
export function firstFree(): usize {
  return __heap_base;
}
