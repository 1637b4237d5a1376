import { transform, type Complex } from './fft';
import type { Shared } from './parallel';

/**
 * The three passes of a convolution by FFT, each over a band of rows or of column blocks of one padded complex grid in
 * shared memory. Two real planes travel as real and imaginary part: a real kernel keeps them apart.
 *
 * The grid lies in blocks of {@link BLOCK} columns, each block whole: [block][row][column of the block]. A block is then
 * a batch of interleaved sequences as the transform wants it, and two cache lines a row for the row passes.
 */
export interface Grid {
  /** Padded size. The last block is filled up with columns of zeros. */
  columns: number;
  rows: number;
  re: Shared;
  im: Shared;
}

/** Columns of a block. */
export const BLOCK = 16;

export function newGrid(columns: number, rows: number): Grid {
  const bytes = Math.ceil(columns / BLOCK) * BLOCK * rows * 8;
  return { columns, rows, re: new SharedArrayBuffer(bytes), im: new SharedArrayBuffer(bytes) };
}

export interface RowsIn {
  grid: Grid;
  from: number;
  to: number;
  /** Size of the planes; further columns are zero. */
  width: number;
  planes: [Shared, Shared | undefined];
}

export interface RowsOut extends Omit<RowsIn, 'planes'> {
  out: [Shared, Shared | undefined];
}

export interface ColumnBlocks {
  grid: Grid;
  from: number;
  to: number;
  /** Rows from here on are zero before and of no interest after. */
  height: number;
  /** What the transformed columns are multiplied by; without it they are left transformed. */
  spectrum: Grid | undefined;
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

/** Copies a row of the grid into a line, or back. */
function copyRow(
  grid: Float64Array,
  rows: number,
  y: number,
  line: Float64Array,
  columns: number,
  back: boolean,
): void {
  for (let x = 0, at = y * BLOCK; x < columns; x += BLOCK, at += rows * BLOCK) {
    const width = Math.min(BLOCK, columns - x);
    if (back) for (let b = 0; b < width; b++) grid[at + b] = line[x + b]!;
    else for (let b = 0; b < width; b++) line[x + b] = grid[at + b]!;
  }
}

/** Transforms rows of two real planes into the grid. */
export function transformRows({ grid, from, to, width, planes }: RowsIn): void {
  const { columns, rows } = grid;
  const { data, work } = scratch(columns);
  const first = new Float32Array(planes[0]);
  const second = planes[1] ? new Float32Array(planes[1]) : undefined;
  const re = new Float64Array(grid.re);
  const im = new Float64Array(grid.im);
  for (let y = from; y < to; y++) {
    data.re.fill(0, 0, columns);
    data.im.fill(0, 0, columns);
    for (let x = 0; x < width; x++) data.re[x] = first[y * width + x]!;
    if (second) for (let x = 0; x < width; x++) data.im[x] = second[y * width + x]!;
    const result = transform(columns, 1, data, work);
    copyRow(re, rows, y, result.re, columns, true);
    copyRow(im, rows, y, result.im, columns, true);
  }
}

/** Transforms blocks of columns, multiplies them by the kernel's spectrum and transforms them back, in place. */
export function convolveColumns({ grid, from, to, height, spectrum }: ColumnBlocks): void {
  const { rows } = grid;
  const size = rows * BLOCK;
  const { work } = scratch(size);
  for (let block = from; block < to; block++) {
    const part = (buffer: Shared): Float64Array => new Float64Array(buffer, block * size * 8, size);
    const data: Complex = { re: part(grid.re), im: part(grid.im) };
    // What an earlier convolution left below the picture is not part of this one.
    data.re.fill(0, height * BLOCK);
    data.im.fill(0, height * BLOCK);
    let result = transform(rows, BLOCK, data, work);
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

/** Transforms rows back and writes the two real planes. */
export function untransformRows({ grid, from, to, width, out }: RowsOut): void {
  const { columns, rows } = grid;
  const { data, work } = scratch(columns);
  const first = new Float32Array(out[0]);
  const second = out[1] ? new Float32Array(out[1]) : undefined;
  const re = new Float64Array(grid.re);
  const im = new Float64Array(grid.im);
  const scale = 1 / (columns * rows);
  for (let y = from; y < to; y++) {
    copyRow(re, rows, y, data.re, columns, false);
    copyRow(im, rows, y, data.im, columns, false);
    const result = swapped(transform(columns, 1, swapped(data), swapped(work)));
    for (let x = 0; x < width; x++) first[y * width + x] = result.re[x]! * scale;
    if (second) for (let x = 0; x < width; x++) second[y * width + x] = result.im[x]! * scale;
  }
}
