import { LUMINANCE } from '../../color/primaries';
import type { Size } from '../../image/rectangle';
import type { Look } from '../../look/look';
import type { PixelKernel } from './parts/pixel-kernel';
import { partsForSize, type KernelContext } from './point-spread';

/** How a look's kernel falls off with the distance from a light. */
export interface KernelProfile {
  /** Distances as shares of the picture's height, in even ratios. */
  radius: number[];
  /** Of each part what it puts into a pixel of the full-size picture, as a share of the source's light. */
  parts: { name: string; amount: number; density: number[] }[];
  /** Of all parts together. */
  whole: number[];
  /** Share of the scattered light that falls farther out than each distance, outside the frame as well. */
  outside: number[];
}

/** Distances to a doubling, and the first bin's inner edge in pixels. */
const BINS_PER_OCTAVE = 6;
const FIRST_RADIUS = 0.75;

/** The kernel's mean about the source at each distance, on planes of a size that are `scale` of the full one. */
export async function kernelProfile(
  look: Look,
  { width, height }: Size,
  scale: number,
  context: KernelContext,
): Promise<KernelProfile> {
  const parts = partsForSize(look, { width, height }, context).filter(({ amount }) => amount > 0);
  const count = Math.floor(Math.log2(Math.min(width, height) / FIRST_RADIUS) * BINS_PER_OCTAVE);
  const scattered = parts.reduce((sum, { amount }) => sum + amount, 0);
  const beyond = new Float64Array(count).fill(scattered);
  let pixels: Float64Array = new Float64Array(count);
  const densities: KernelProfile['parts'] = [];
  for (const part of parts) {
    const { name, amount } = part;
    const binned = binByDistance(await part.kernels(width, height), { width, height }, count);
    pixels = binned.pixels;
    let within = binned.middle;
    for (let bin = 0; bin < count; bin++) {
      // Half of a ring lies within its middle.
      beyond[bin]! -= amount * (within + binned.sums[bin]! / 2);
      within += binned.sums[bin]!;
    }
    const density = Array.from(binned.sums, (sum, bin) =>
      pixels[bin]! > 0 ? (amount * sum * scale ** 2) / pixels[bin]! : 0,
    );
    densities.push({ name, amount, density });
  }
  // Close to the source some distances have no pixel.
  const dropEmptyBins = <T>(values: ArrayLike<T>): T[] =>
    Array.from(values).filter((_, bin) => pixels[bin]! > 0);
  const radius = Array.from(
    { length: count },
    (_, bin) => (FIRST_RADIUS * 2 ** ((bin + 0.5) / BINS_PER_OCTAVE)) / height,
  );
  const whole = radius.map((_, bin) => densities.reduce((sum, { density }) => sum + density[bin]!, 0));
  const outside = Array.from(beyond, (light) => (scattered > 0 ? Math.max(0, light / scattered) : 0));
  return {
    radius: dropEmptyBins(radius),
    parts: densities.map(({ density, ...part }) => ({ ...part, density: dropEmptyBins(density) })),
    whole: dropEmptyBins(whole),
    outside: dropEmptyBins(outside),
  };
}

/** A kernel's luminance summed over rings about the source, the pixels in each ring, and what lies nearer than all. */
function binByDistance(
  kernels: readonly PixelKernel[],
  { width, height }: Size,
  count: number,
): { sums: Float64Array; pixels: Float64Array; middle: number } {
  const sums = new Float64Array(count);
  const pixels = new Float64Array(count);
  let middle = 0;
  const row = new Float32Array(2 * width - 1);
  kernels.forEach(({ rows }, c) => {
    const share = kernels.length === 1 ? 1 : LUMINANCE[c]!;
    for (let dy = 1 - height; dy < height; dy++) {
      rows(dy, row);
      for (let dx = 1 - width; dx < width; dx++) {
        const octaves = 0.5 * Math.log2(dx * dx + dy * dy) - Math.log2(FIRST_RADIUS);
        const bin = Math.floor(octaves * BINS_PER_OCTAVE);
        if (bin >= count) continue;
        const value = share * row[dx + width - 1]!;
        if (bin < 0) middle += value;
        else {
          sums[bin]! += value;
          if (c === 0) pixels[bin]!++;
        }
      }
    }
  });
  return { sums, pixels, middle };
}
