import { allocateShared, shareFloats, type Shared } from '../runtime/shared';
import { BLOCK, newGrid, type ColumnBlocks, type Grid, type RowBand } from './fft-grid-jobs';
import type { ConvolutionKernel, Spectrum } from '.';
import { nextFastLength } from './fft';
import { rowsOfPlanes } from './kernel-planes';
import { rangeTasks, subProgress, type TaskRunner, type RunOptions, type Task } from '../runtime/parallel';

class ReferenceSpectrum implements Spectrum {
  constructor(
    readonly width: number,
    readonly height: number,
    readonly grid: Grid,
  ) {}

  get bytes(): number {
    return this.grid.re.byteLength * 2;
  }

  dispose(): void {
    // Its memory is given back with the object.
  }
}

/** Checks that a spectrum was made by this kernel. */
function ownSpectrum(spectrum: Spectrum): ReferenceSpectrum {
  if (spectrum instanceof ReferenceSpectrum) return spectrum;
  throw new TypeError('this spectrum was made by another convolution kernel');
}

/** A larger grid is not kept between convolutions. */
const KEPT_GRID_BYTES = 128 * 1024 ** 2;
/** Even, since rows go in pairs. */
const ROWS_PER_TASK = 32;
const BLOCKS_PER_TASK = 4;

/** The reference: double-precision FFT in TypeScript, its rows and columns shared out over threads. */
export function referenceConvolution(parallel: TaskRunner): ConvolutionKernel {
  /** The grid of the last convolution, for the next of the same size: shared memory is slow to be given back. */
  let spare: Grid | undefined;
  return {
    async prepare(width, height, kernel, options = {}) {
      const kernelRow = typeof kernel === 'function' ? kernel : rowsOfPlanes(kernel, width);
      const length = nextFastEvenLength(2 * width - 1);
      const rows = nextFastLength(2 * height - 1);
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
        subProgress(options, 0, 0.5),
      );
      await parallel.run(
        columnTasks({ grid, height: rows, spectrum: undefined }),
        subProgress(options, 0.5, 1),
      );
      return new ReferenceSpectrum(width, height, grid);
    },

    async transform(width, height, planes, options = {}) {
      const made: ReferenceSpectrum[] = [];
      for (const plane of planes) {
        const grid = newGrid(nextFastEvenLength(2 * width - 1), nextFastLength(2 * height - 1));
        await parallel.run(
          rowTasks('transformRows', { grid, width, plane: shareFloats(plane) }, height),
          options,
        );
        await parallel.run(columnTasks({ grid, height, spectrum: undefined }), options);
        made.push(new ReferenceSpectrum(width, height, grid));
      }
      return made;
    },

    async convolve(planes, spectra, options = {}) {
      const kernels = spectra.map(ownSpectrum);
      const { width, height } = kernels[0]!;
      const { length, rows } = kernels[0]!.grid;
      const fits = spare?.length === length && spare.rows === rows;
      const grid = fits ? spare! : newGrid(length, rows);
      spare = undefined;
      const results: Float32Array[] = [];
      for (const [index, source] of planes.entries()) {
        const share = (from: number, to: number): RunOptions =>
          subProgress(options, (index + from) / planes.length, (index + to) / planes.length);
        const out = newPlane(width * height);
        const fresh = source instanceof Float32Array;
        if (fresh)
          await parallel.run(
            rowTasks('transformRows', { grid, width, plane: shareFloats(source) }, height),
            share(0, 0.2),
          );
        const before = fresh ? undefined : ownSpectrum(source).grid;
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

function rowTasks(
  job: 'transformRows' | 'untransformRows',
  band: Omit<RowBand, 'from' | 'to'>,
  rows: number,
): Task[] {
  return rangeTasks(job, band, rows, ROWS_PER_TASK);
}

function columnTasks(blocks: Omit<ColumnBlocks, 'from' | 'to'>): Task[] {
  return rangeTasks('convolveColumns', blocks, Math.ceil(blocks.grid.columns / BLOCK), BLOCKS_PER_TASK);
}

/** The smallest good size that is even, so that rows have a middle frequency. */
function nextFastEvenLength(size: number): number {
  return 2 * nextFastLength(Math.ceil(size / 2));
}

function newPlane(count: number): Shared {
  return allocateShared(count * 4);
}
