import { BLOCK, newGrid, type ColumnBlocks, type Grid, type RowBand } from './convolution-reference-jobs';
import type { ConvolutionKernel, Spectrum } from './convolution';
import { goodSize } from './fft';
import { rowsOfPlanes } from './kernel-planes';
import { portion, type Parallel, type RunOptions, type Shared, type Task } from './parallel';

interface ReferenceSpectrum extends Spectrum {
  grid: Grid;
}

/** A larger grid is not kept between convolutions. */
const KEPT_GRID_BYTES = 128 * 1024 ** 2;
/** Even, since rows go in pairs. */
const ROWS_A_TASK = 32;
const BLOCKS_A_TASK = 4;

/** The reference: double-precision FFT in TypeScript, its rows and columns shared out over threads. */
export function referenceConvolution(parallel: Parallel): ConvolutionKernel {
  /** The grid of the last convolution, for the next of the same size: shared memory is slow to be given back. */
  let spare: Grid | undefined;
  return {
    async prepare(width, height, kernel, options = {}) {
      const kernelRow = typeof kernel === 'function' ? kernel : rowsOfPlanes(kernel, width);
      const length = evenGoodSize(2 * width - 1);
      const rows = goodSize(2 * height - 1);
      const plane = newPlane(length * rows);
      const wrapped = new Float32Array(plane);
      const row = new Float32Array(2 * width - 1);
      for (let dy = 1 - height; dy < height; dy++) {
        kernelRow(dy, row);
        const at = ((dy + rows) % rows) * length;
        wrapped.set(row.subarray(width - 1), at);
        wrapped.set(row.subarray(0, width - 1), at + length - (width - 1));
      }
      const grid = newGrid(length, rows);
      await parallel.run(
        rowTasks('transformRows', { grid, width: length, plane }, rows),
        portion(options, 0, 0.5),
      );
      await parallel.run(columnTasks({ grid, height: rows, spectrum: undefined }), portion(options, 0.5, 1));
      return { grid, width, height, bytes: grid.re.byteLength * 2 } satisfies ReferenceSpectrum;
    },

    async transform(width, height, planes, options = {}) {
      const made: ReferenceSpectrum[] = [];
      for (const plane of planes) {
        const grid = newGrid(evenGoodSize(2 * width - 1), goodSize(2 * height - 1));
        await parallel.run(
          rowTasks('transformRows', { grid, width, plane: toShared(plane) }, height),
          options,
        );
        await parallel.run(columnTasks({ grid, height, spectrum: undefined }), options);
        made.push({ grid, width, height, bytes: grid.re.byteLength * 2 });
      }
      return made;
    },

    async convolve(planes, spectra, options = {}) {
      const kernels = spectra as readonly ReferenceSpectrum[];
      const { width, height } = kernels[0]!;
      const { length, rows } = kernels[0]!.grid;
      const fits = spare?.length === length && spare.rows === rows;
      const grid = fits ? spare! : newGrid(length, rows);
      spare = undefined;
      const results: Float32Array[] = [];
      for (const [index, source] of planes.entries()) {
        const share = (from: number, to: number): RunOptions =>
          portion(options, (index + from) / planes.length, (index + to) / planes.length);
        const out = newPlane(width * height);
        const fresh = source instanceof Float32Array;
        if (fresh)
          await parallel.run(
            rowTasks('transformRows', { grid, width, plane: toShared(source) }, height),
            share(0, 0.2),
          );
        const before = fresh ? undefined : (source as ReferenceSpectrum).grid;
        await parallel.run(
          columnTasks({ grid, height, spectrum: kernels[index % kernels.length]!.grid, source: before }),
          share(0.2, 0.8),
        );
        await parallel.run(rowTasks('untransformRows', { grid, width, plane: out }, height), share(0.8, 1));
        results.push(new Float32Array(out));
      }
      if (grid.re.byteLength <= KEPT_GRID_BYTES) spare = grid;
      return results;
    },
  };
}

type Rest<T> = Omit<T, 'from' | 'to'>;

function rowTasks(job: 'transformRows' | 'untransformRows', band: Rest<RowBand>, rows: number): Task[] {
  return bands(rows, ROWS_A_TASK).map(([from, to]) => ({
    job,
    input: { ...band, from, to } satisfies RowBand,
  }));
}

function columnTasks(blocks: Rest<ColumnBlocks>): Task[] {
  const count = Math.ceil(blocks.grid.columns / BLOCK);
  return bands(count, BLOCKS_A_TASK).map(([from, to]) => ({
    job: 'convolveColumns',
    input: { ...blocks, from, to } satisfies ColumnBlocks,
  }));
}

/** The smallest good size that is even, so that rows have a middle frequency. */
function evenGoodSize(size: number): number {
  return 2 * goodSize(Math.ceil(size / 2));
}

function newPlane(count: number): Shared {
  return new SharedArrayBuffer(count * 4);
}

function toShared(plane: Float32Array): Shared {
  if (
    plane.buffer instanceof SharedArrayBuffer &&
    plane.byteOffset === 0 &&
    plane.byteLength === plane.buffer.byteLength
  ) {
    return plane.buffer;
  }
  const shared = newPlane(plane.length);
  new Float32Array(shared).set(plane);
  return shared;
}

function bands(count: number, size: number): [from: number, to: number][] {
  return Array.from({ length: Math.ceil(count / size) }, (_, index) => [
    index * size,
    Math.min(count, (index + 1) * size),
  ]);
}
