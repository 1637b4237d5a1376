import type { KernelRows } from '../../../kernels/convolution';

/**
 * A kernel on pixels, around a source in the middle of pixel (0, 0), the same turned half way round. All of its light
 * together is 1 or, where some falls outside, less.
 */
export interface PixelKernel {
  rows: KernelRows;
  /** Adds the kernel times a gain to rows from the source's own downwards, each from `-(width - 1)` to `width - 1`. */
  addTo(sum: Float32Array, gain: number): void;
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
    addTo(sum, gain) {
      for (let at = 0, middle = width - 1; at < quadrant.length; at += width, middle += 2 * width - 1) {
        sum[middle]! += gain * quadrant[at]!;
        for (let dx = 1; dx < width; dx++) {
          const value = gain * quadrant[at + dx]!;
          sum[middle + dx]! += value;
          sum[middle - dx]! += value;
        }
      }
    },
  };
}

/** A kernel from its rows from the source's own downwards. */
export function halfKernel(half: Float32Array, width: number): PixelKernel {
  const columns = 2 * width - 1;
  return {
    bytes: half.byteLength,
    rows(dy, out) {
      out.set(half.subarray(Math.abs(dy) * columns, (Math.abs(dy) + 1) * columns));
      if (dy < 0) out.reverse();
    },
    addTo(sum, gain) {
      for (let i = 0; i < half.length; i++) sum[i]! += gain * half[i]!;
    },
  };
}

/** Several kernels as one, each times its gain. */
export function mixedRows(
  members: readonly { kernel: PixelKernel; gain: number }[],
  width: number,
  height: number,
): KernelRows {
  const [only] = members;
  if (members.length === 1 && only!.gain === 1) return only!.kernel.rows;
  const sum = new Float32Array((2 * width - 1) * height);
  for (const { kernel, gain } of members) kernel.addTo(sum, gain);
  return halfKernel(sum, width).rows;
}
