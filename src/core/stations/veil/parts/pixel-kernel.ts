import { shareFloats } from '../../../kernels/runtime/shared';
import type { KernelPlane, KernelRows } from '../../../kernels/convolution';
import { rowsOfPlanes, runsOfRows } from '../../../kernels/convolution/kernel-planes';

/**
 * A kernel on pixels, around a source in the middle of pixel (0, 0). All of its light together is 1 (or what its part says)
 * or, where some falls outside, less.
 */
export interface PixelKernel {
  plane: KernelPlane;
  rows: KernelRows;
  bytes: number;
}

function pixelKernel(kind: KernelPlane['kind'], values: Float32Array, width: number): PixelKernel {
  const data = shareFloats(values);
  const plane = { kind, data, gain: 1 };
  return { plane, rows: rowsOfPlanes([plane], width), bytes: data.byteLength };
}

/** A kernel that is even in x and y, from one quadrant: `[dy * width + dx]`. */
export const evenKernel = (quadrant: Float32Array, width: number): PixelKernel =>
  pixelKernel('quadrant', quadrant, width);

/** A kernel from all its rows, asked for from `-(height - 1)` to `height - 1`, each from `-(width - 1)` to `width - 1`. */
export function kernelOfRuns(
  rowAt: (dy: number, out: Float32Array) => void,
  width: number,
  height: number,
): PixelKernel {
  const plane = { kind: 'runs', data: runsOfRows(rowAt, width, height), gain: 1 } as const;
  return { plane, rows: rowsOfPlanes([plane], width), bytes: plane.data.byteLength };
}

/** A kernel that is the same turned half way round, from its rows from the source's own downwards, each from `-(width - 1)` to `width - 1`. */
export const halfKernel = (half: Float32Array, width: number): PixelKernel =>
  pixelKernel('half', half, width);
