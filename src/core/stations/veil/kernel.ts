import { ContentCache } from '../../bench/cache';
import { tintGains } from '../../color/temperature';
import type { Look } from '../../look/look';
import { veilParts, type VeilPart } from './parts';

/** What the lens makes of one point of light. */
export interface PointSpread {
  /** Per channel, `width * height`, the source in the middle of pixel (width >> 1, height >> 1). */
  rgb: [Float32Array, Float32Array, Float32Array];
  /** Share of the scattered light that falls outside these planes. */
  outside: number;
}

/**
 * The veil's whole point-spread function, `(1 - sum w) delta + sum w K`, of a picture of the given size: what a white
 * point that feeds entirely would become. Of a single part it is that part's own kernel, whatever its amount.
 */
export async function pointSpread(
  look: Look,
  width: number,
  height: number,
  only?: VeilPart['name'],
): Promise<PointSpread> {
  const { on, mode } = look.veil;
  const size = { width, height };
  const parts = veilParts(look, size, size, new ContentCache(0)).filter(({ name, amount }) =>
    only ? name === only : on && amount > 0,
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
      const rows = kernels[c % kernels.length]!;
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
