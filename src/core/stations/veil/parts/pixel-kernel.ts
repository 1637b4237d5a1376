import type { KernelRows } from '../../../kernels/convolution';

/** A kernel on pixels, around a source in the middle of pixel (0, 0). All of its light together is 1 or, where some falls outside, less. */
export interface PixelKernel {
  rows: KernelRows;
  bytes: number;
}

/** A kernel that is even in x and y, from one quadrant: `[dy * width + dx]`. */
export function evenKernel(quadrant: Float32Array, width: number): PixelKernel {
  return {
    bytes: quadrant.byteLength,
    rows(dy, out) {
      const at = Math.abs(dy) * width;
      for (let dx = 0; dx < width; dx++) {
        const value = quadrant[at + dx]!;
        out[width - 1 + dx] = value;
        out[width - 1 - dx] = value;
      }
    },
  };
}

/** A kernel that is the same turned half way round, from its rows from the source's own downwards. */
export function halfKernel(rows: Float32Array, width: number): PixelKernel {
  const columns = 2 * width - 1;
  return {
    bytes: rows.byteLength,
    rows(dy, out) {
      out.set(rows.subarray(Math.abs(dy) * columns, (Math.abs(dy) + 1) * columns));
      if (dy < 0) out.reverse();
    },
  };
}

/** Several kernels as one, each times its gain. */
export function mixedRows(members: readonly { kernel: PixelKernel; gain: number }[]): KernelRows {
  const [only] = members;
  if (members.length === 1 && only!.gain === 1) return only!.kernel.rows;
  let row = new Float32Array(0);
  return (dy, out) => {
    if (row.length !== out.length) row = new Float32Array(out.length);
    out.fill(0);
    for (const { kernel, gain } of members) {
      kernel.rows(dy, row);
      for (let i = 0; i < out.length; i++) out[i]! += gain * row[i]!;
    }
  };
}
