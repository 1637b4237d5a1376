import { allocateShared, type Shared } from '../runtime/shared';
import { transform, type Complex } from './fft';

/**
 * The three passes of a convolution by FFT, each over a band of rows or of column blocks of one padded complex grid in
 * shared memory. The planes are real, so two rows travel as real and imaginary part of one transform, and only the
 * columns up to the highest frequency are kept: the others are their mirror images.
 *
 * The grid lies in blocks of {@link BLOCK} columns, each block whole: [block][row][column of the block]. A block is then
 * a batch of interleaved sequences as the transform wants it, and two cache lines a row for the row passes.
 */
export interface Grid {
  /** Padded length of a row, even, and number of rows. */
  length: number;
  rows: number;
  /** Complex columns kept, `length / 2 + 1`. The last block is filled up with columns of zeros. */
  columns: number;
  re: Shared;
  im: Shared;
}

/** Columns of a block. */
export const BLOCK = 16;

export function newGrid(length: number, rows: number): Grid {
  const columns = length / 2 + 1;
  const bytes = Math.ceil(columns / BLOCK) * BLOCK * rows * 8;
  return { length, rows, columns, re: allocateShared(bytes), im: allocateShared(bytes) };
}

/** Rows `from` to `to` of a real plane that is `width` wide; `from` is even. Further columns are zero. */
export interface RowBand {
  grid: Grid;
  from: number;
  to: number;
  width: number;
  plane: Shared;
}

export interface ColumnBlocks {
  grid: Grid;
  from: number;
  to: number;
  /** Rows from here on are zero before and of no interest after. */
  height: number;
  /** What the transformed columns are multiplied by; without it they are left transformed. */
  spectrum: Grid | undefined;
  /** Columns that were transformed before, to take in place of the grid's own. */
  source?: Grid | undefined;
}

let scratchData: Complex = { re: new Float64Array(0), im: new Float64Array(0) };
let scratchWork: Complex = scratchData;

function scratch(size: number): { data: Complex; work: Complex } {
  if (scratchData.re.length < size) {
    const make = (): Complex => ({ re: new Float64Array(size), im: new Float64Array(size) });
    scratchData = make();
    scratchWork = make();
  }
  return { data: scratchData, work: scratchWork };
}

const swapped = ({ re, im }: Complex): Complex => ({ re: im, im: re });

/** Where column `k` of row `y` lies in a grid. */
export const placeInGrid = (rows: number, y: number, k: number): number =>
  ((k >> 4) * rows + y) * BLOCK + (k & 15);

/** Transforms rows of a real plane into the grid, two at a time: the halves of the result are told apart by symmetry. */
export function transformRows({ grid, from, to, width, plane }: RowBand): void {
  const { length, rows } = grid;
  const { data, work } = scratch(length);
  const source = new Float32Array(plane);
  const re = new Float64Array(grid.re);
  const im = new Float64Array(grid.im);
  for (let y = from; y < to; y += 2) {
    const second = y + 1 < to;
    data.re.fill(0, 0, length);
    data.im.fill(0, 0, length);
    for (let x = 0; x < width; x++) data.re[x] = source[y * width + x]!;
    if (second) for (let x = 0; x < width; x++) data.im[x] = source[(y + 1) * width + x]!;
    const z = transform(length, 1, data, work);
    for (let k = 0; k <= length / 2; k++) {
      const mirror = k === 0 ? 0 : length - k;
      const at = placeInGrid(rows, y, k);
      re[at] = (z.re[k]! + z.re[mirror]!) / 2;
      im[at] = (z.im[k]! - z.im[mirror]!) / 2;
      if (!second) continue;
      re[at + BLOCK] = (z.im[k]! + z.im[mirror]!) / 2;
      im[at + BLOCK] = (z.re[mirror]! - z.re[k]!) / 2;
    }
  }
}

/** Transforms blocks of columns, multiplies them by the kernel's spectrum and transforms them back, in place. */
export function convolveColumns({ grid, from, to, height, spectrum, source }: ColumnBlocks): void {
  const { rows } = grid;
  const size = rows * BLOCK;
  const { work } = scratch(size);
  for (let block = from; block < to; block++) {
    const part = (buffer: Shared): Float64Array => new Float64Array(buffer, block * size * 8, size);
    const data: Complex = { re: part(grid.re), im: part(grid.im) };
    let result = data;
    if (source) {
      data.re.set(part(source.re));
      data.im.set(part(source.im));
    } else {
      // What an earlier convolution left below the picture is not part of this one.
      data.re.fill(0, height * BLOCK);
      data.im.fill(0, height * BLOCK);
      result = transform(rows, BLOCK, data, work);
    }
    if (spectrum) {
      multiply(result, part(spectrum.re), part(spectrum.im));
      const other = result === data ? work : data;
      result = swapped(transform(rows, BLOCK, swapped(result), swapped(other)));
    }
    if (result.re !== data.re) {
      data.re.set(result.re.subarray(0, size));
      data.im.set(result.im.subarray(0, size));
    }
  }
}

/** Multiplies complex numbers in place by others. */
function multiply({ re, im }: Complex, otherRe: Float64Array, otherIm: Float64Array): void {
  for (let i = 0; i < otherRe.length; i++) {
    const r = re[i]!;
    const j = im[i]!;
    re[i] = r * otherRe[i]! - j * otherIm[i]!;
    im[i] = r * otherIm[i]! + j * otherRe[i]!;
  }
}

/** Transforms rows back, two at a time, and writes the real plane. */
export function untransformRows({ grid, from, to, width, plane }: RowBand): void {
  const { length, rows } = grid;
  const { data, work } = scratch(length);
  const out = new Float32Array(plane);
  const re = new Float64Array(grid.re);
  const im = new Float64Array(grid.im);
  const scale = 1 / (length * rows);
  for (let y = from; y < to; y += 2) {
    const second = y + 1 < to;
    for (let k = 0; k <= length / 2; k++) {
      const at = placeInGrid(rows, y, k);
      const aR = re[at]!;
      const aI = im[at]!;
      const bR = second ? re[at + BLOCK]! : 0;
      const bI = second ? im[at + BLOCK]! : 0;
      data.re[k] = aR - bI;
      data.im[k] = aI + bR;
      if (k === 0) continue;
      data.re[length - k] = aR + bI;
      data.im[length - k] = bR - aI;
    }
    const z = swapped(transform(length, 1, swapped(data), swapped(work)));
    for (let x = 0; x < width; x++) out[y * width + x] = z.re[x]! * scale;
    if (second) for (let x = 0; x < width; x++) out[(y + 1) * width + x] = z.im[x]! * scale;
  }
}

declare module '../runtime/parallel' {
  interface JobInputs {
    transformRows: RowBand;
    convolveColumns: ColumnBlocks;
    untransformRows: RowBand;
  }
}
