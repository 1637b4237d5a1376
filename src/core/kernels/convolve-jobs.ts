import { transform, type Complex } from './fft';
import type { Shared } from './parallel';

/**
 * The three passes of a convolution by FFT, each over a band of rows or columns of one padded complex grid in shared
 * memory. Two real planes travel as real and imaginary part: a real kernel keeps them apart.
 */
export interface Grid {
  /** Padded size. */
  columns: number;
  rows: number;
  re: Shared;
  im: Shared;
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

export interface Columns {
  grid: Grid;
  from: number;
  to: number;
  /** Rows from here on are zero before and of no interest after. */
  height: number;
  /** What the transformed columns are multiplied by; without it they are left transformed. */
  spectrum: Grid | undefined;
}

/** Columns taken together: a cache line of doubles. */
const BATCH = 8;

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

/** Transforms rows of two real planes into the grid. */
export function transformRows({ grid, from, to, width, planes }: RowsIn): void {
  const { columns } = grid;
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
    re.set(result.re.subarray(0, columns), y * columns);
    im.set(result.im.subarray(0, columns), y * columns);
  }
}

/** Transforms columns, multiplies them by the kernel's spectrum and transforms them back. */
export function convolveColumns({ grid, from, to, height, spectrum }: Columns): void {
  const { columns, rows } = grid;
  const { data, work } = scratch(rows * BATCH);
  const re = new Float64Array(grid.re);
  const im = new Float64Array(grid.im);
  const kernelRe = spectrum && new Float64Array(spectrum.re);
  const kernelIm = spectrum && new Float64Array(spectrum.im);
  for (let x = from; x < to; x += BATCH) {
    const batch = Math.min(BATCH, to - x);
    for (let y = 0; y < height; y++) {
      for (let b = 0; b < batch; b++) {
        data.re[y * batch + b] = re[y * columns + x + b]!;
        data.im[y * batch + b] = im[y * columns + x + b]!;
      }
    }
    data.re.fill(0, height * batch, rows * batch);
    data.im.fill(0, height * batch, rows * batch);
    let result = transform(rows, batch, data, work);
    if (kernelRe && kernelIm) {
      for (let y = 0; y < rows; y++) {
        for (let b = 0; b < batch; b++) {
          const i = y * batch + b;
          const k = y * columns + x + b;
          const r = result.re[i]!;
          const j = result.im[i]!;
          result.re[i] = r * kernelRe[k]! - j * kernelIm[k]!;
          result.im[i] = r * kernelIm[k]! + j * kernelRe[k]!;
        }
      }
      const other = result === data ? work : data;
      result = swapped(transform(rows, batch, swapped(result), swapped(other)));
    }
    const kept = spectrum ? height : rows;
    for (let y = 0; y < kept; y++) {
      for (let b = 0; b < batch; b++) {
        re[y * columns + x + b] = result.re[y * batch + b]!;
        im[y * columns + x + b] = result.im[y * batch + b]!;
      }
    }
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
    data.re.set(re.subarray(y * columns, (y + 1) * columns));
    data.im.set(im.subarray(y * columns, (y + 1) * columns));
    const result = swapped(transform(columns, 1, swapped(data), swapped(work)));
    for (let x = 0; x < width; x++) first[y * width + x] = result.re[x]! * scale;
    if (second) for (let x = 0; x < width; x++) second[y * width + x] = result.im[x]! * scale;
  }
}
