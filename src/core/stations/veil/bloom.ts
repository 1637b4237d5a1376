import type { KernelRows } from '../../kernels/convolution';
import type { Look } from '../../look/look';
import type { PowerLaw } from '../../optics/power-law';

/**
 * The bloom of a look on a picture of some size; its far end is the picture's diagonal. Its core is a share of the frame's
 * height, so that overscan does not change the look.
 */
export function bloomLaw(look: Look, width: number, height: number, frameHeight = height): PowerLaw {
  const { radius, falloff } = look.veil.bloom;
  return { core: radius * frameHeight, falloff, reach: Math.hypot(width, height) };
}

/** Gives the rows that a convolution asks for out of one quadrant of a kernel that is even in x and y. */
export function evenKernelRows(quadrant: Float32Array, width: number): KernelRows {
  return (dy, out) => {
    const at = Math.abs(dy) * width;
    for (let dx = 0; dx < width; dx++) {
      const value = quadrant[at + dx]!;
      out[width - 1 + dx] = value;
      out[width - 1 - dx] = value;
    }
  };
}
