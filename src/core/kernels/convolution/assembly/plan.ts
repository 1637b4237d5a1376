/**
 * Where everything of one size of convolution lies in memory. The module's caller writes it, field by field in this
 * order; every field takes four bytes.
 *
 * The grid holds the transform of a real plane: of each row the frequencies 0 to half its length. They lie in blocks of
 * 16 columns, a block's rows one after the other, so that a block stays in the processor's cache while its columns are
 * transformed; the highest frequency lies by itself in a last block of four columns, of which one is used. Complex
 * numbers go by four: their real parts, then their imaginary ones.
 */
@unmanaged
export class Plan {
  /** Rows of the planes, which are filled up to a multiple of eight, and bytes of one, a multiple of 16. */
  height: i32;
  pitch: i32;
  /** Length of a padded row, a multiple of 32, and number of padded rows. */
  length: i32;
  rows: i32;
  rowStages: usize;
  columnStages: usize;
  /** By frequency, from 0 to `length`: where a transformed row holds it, in bytes. */
  positions: usize;
  /** Blocks of 16 columns, and bytes from one to the next. */
  blocks: i32;
  blockBytes: i32;
  grid: usize;
  /** A real plane, on its way in and out. */
  plane: usize;
}

/**
 * One level of a transform that is done depth first and in place: it splits `radix * count` numbers into `radix` runs
 * of `count`. The last level has a count of 1. Results lie in the order of reversed digits.
 */
@unmanaged
export class Stage {
  radix: i32;
  count: i32;
  /** For each of `count`: `radix - 1` factors, real and imaginary part. */
  twiddles: usize;
  spare: i32;
}

export const STAGE_BYTES: usize = 16;

/** Bytes of a number four lanes wide, and of a block's row. */
export const NUMBER: usize = 32;
export const BLOCK_ROW: usize = 128;

/** Rows that are transformed at once: four pairs. */
export const ROWS: i32 = 8;
