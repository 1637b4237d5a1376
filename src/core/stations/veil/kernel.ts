import { ContentCache } from '../../bench/cache';
import { LUMINANCE } from '../../color/primaries';
import { tintGains } from '../../color/temperature';
import { SettingError } from '../../errors';
import type { Size } from '../../image/frame';
import { serialRunner } from '../../jobs';
import type { Look } from '../../look/look';
import { partNames, veilParts, type VeilPart } from './parts';
import type { PartContext } from './parts/part';

/** What a look's kernel is asked of, besides its size. */
export type KernelContext = Partial<Pick<PartContext, 'cache' | 'parallel' | 'signal' | 'image' | 'draft'>>;

const partsAt = (look: Look, size: Size, context: KernelContext): VeilPart[] =>
  veilParts(look, {
    ...{ size, frame: { x: 0, y: 0, ...size } },
    ...{
      cache: new ContentCache(0),
      parallel: serialRunner,
      draft: false,
    },
    ...context,
  });

/** What the lens makes of one point of light. */
export interface PointSpread {
  /** Per channel, `width * height`, the source in the middle of pixel (width >> 1, height >> 1). */
  rgb: [Float32Array, Float32Array, Float32Array];
  /** Share of the scattered light that falls outside these planes. */
  outside: number;
}

/**
 * The veil's whole point-spread function, `(1 - sum w) delta + sum w K`, of a picture of the given size: what a white
 * point that feeds entirely would become. Of a single part (`veil.bloom`) it is that part's own kernel, whatever its amount.
 * Dirt, which goes by the place in the frame, counts with its mean. Throws {@link SettingError} for a part that is not there.
 */
export async function pointSpread(
  look: Look,
  { width, height }: Size,
  context: KernelContext = {},
  only?: string,
): Promise<PointSpread> {
  if (only !== undefined && !partNames(look).includes(only))
    throw new SettingError(`the veil has no part ${only}`, { todo: `It has ${partNames(look).join(', ')}` });
  const { on, mode } = look.veil;
  const parts = partsAt(only ? lit(look, only) : look, { width, height }, context).filter(
    ({ name, amount }) => (only ? name === only : on && amount > 0),
  );
  const [cx, cy] = [width >> 1, height >> 1];
  const rgb = [0, 1, 2].map(() => new Float32Array(width * height)) as PointSpread['rgb'];
  let [scattered, inside] = [0, 0];
  for (const part of parts) {
    const amount = only ? 1 : part.amount;
    const gains = tintGains(part.tint);
    const kernels = await part.kernels(width, height);
    const row = new Float32Array(2 * width - 1);
    rgb.forEach((plane, c) => {
      const { rows } = kernels[c % kernels.length]!;
      for (let y = 0; y < height; y++) {
        rows(y - cy, row);
        for (let x = 0; x < width; x++) {
          const value = amount * row[width - 1 + x - cx]!;
          plane[y * width + x]! += gains[c]! * value;
          inside += value / 3;
        }
      }
    });
    scattered += amount;
  }
  if (!only) for (const plane of rgb) plane[cy * width + cx]! += mode === 'keep' ? 1 - scattered : 1;
  return { rgb, outside: scattered === 0 ? 0 : Math.max(0, 1 - inside / scattered) };
}

/** The look with one part of its veil on, so that its kernel can be had whatever its switch and amount say. */
function lit(look: Look, name: string): Look {
  const { veil } = look;
  const place = /\[(\d+)\]$/.exec(name)?.[1];
  if (place !== undefined) {
    const stack = veil.stack.map((layer, i) =>
      i === Number(place) ? { ...layer, on: true, amount: 1 } : layer,
    );
    return { ...look, veil: { ...veil, stack } };
  }
  const key = name.slice('veil.'.length) as 'bloom';
  return { ...look, veil: { ...veil, [key]: { ...veil[key], on: true, amount: 1 } } };
}

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

/** Distances to a doubling. */
const TO_A_DOUBLING = 6;

/** The kernel's mean about the source at each distance, on planes of a size that are `scale` of the full one. */
export async function kernelProfile(
  look: Look,
  { width, height }: Size,
  scale: number,
  context: KernelContext = {},
): Promise<KernelProfile> {
  const parts = partsAt(look, { width, height }, context).filter(({ amount }) => amount > 0);
  const first = 0.75;
  const ratio = 2 ** (1 / TO_A_DOUBLING);
  const count = Math.floor(Math.log(Math.min(width, height) / first) / Math.log(ratio));
  const radius = Array.from({ length: count }, (_, k) => (first * ratio ** (k + 0.5)) / height);
  const pixels = new Float64Array(count);
  const scattered = parts.reduce((sum, { amount }) => sum + amount, 0);
  const beyond = new Float64Array(count).fill(scattered);
  const densities: KernelProfile['parts'] = [];
  for (const part of parts) {
    const { name, amount } = part;
    const made = await part.kernels(width, height);
    const sums = new Float64Array(count);
    let middle = 0;
    const row = new Float32Array(2 * width - 1);
    pixels.fill(0);
    made.forEach(({ rows }, c) => {
      const share = made.length === 1 ? 1 : LUMINANCE[c]!;
      for (let dy = 1 - height; dy < height; dy++) {
        rows(dy, row);
        for (let dx = 1 - width; dx < width; dx++) {
          const bin = Math.floor((0.5 * Math.log2(dx * dx + dy * dy) - Math.log2(first)) * TO_A_DOUBLING);
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
    let within = middle;
    for (let bin = 0; bin < count; bin++) {
      // Half of a ring lies within its middle.
      beyond[bin]! -= amount * (within + sums[bin]! / 2);
      within += sums[bin]!;
    }
    densities.push({
      ...{ name, amount },
      density: Array.from(sums, (sum, bin) =>
        pixels[bin]! > 0 ? (amount * sum * scale ** 2) / pixels[bin]! : 0,
      ),
    });
  }
  // Close to the source some distances have no pixel.
  const held = <T>(values: ArrayLike<T>): T[] => Array.from(values).filter((_, bin) => pixels[bin]! > 0);
  return {
    radius: held(radius),
    parts: densities.map(({ density, ...part }) => ({ ...part, density: held(density) })),
    whole: held(radius.map((_, bin) => densities.reduce((sum, { density }) => sum + density[bin]!, 0))),
    outside: held(Array.from(beyond, (light) => (scattered > 0 ? Math.max(0, light / scattered) : 0))),
  };
}
