import { mapRgb, type Rgb } from '../../image/rgb';

/** A picture that was cleaned, and what of it was touched. */
export interface Cleaned {
  rgb: Rgb;
  /** Per pixel: 1 despiked, 2 clamped, 3 both. */
  touched: Uint8Array;
  despiked: number;
  clamped: number;
}

const brightest = ([r, g, b]: Rgb, i: number): number => Math.max(r[i]!, g[i]!, b[i]!);

/**
 * Replaces every pixel whose brightest channel is more than `times` the median of its 3 x 3 neighbourhood (itself in it)
 * by the neighbour that is that median. Gives the places that were replaced.
 */
export function despike(
  rgb: Rgb,
  width: number,
  height: number,
  times: number,
): { rgb: Rgb; places: number[] } {
  const level = new Float32Array(width * height);
  for (let i = 0; i < level.length; i++) level[i] = brightest(rgb, i);
  const out = mapRgb(rgb, (plane) => plane.slice());
  const places: number[] = [];
  const around = new Int32Array(9);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const limit = level[i]! / times;
      if (!(limit > 0)) continue;
      // More than k times the median: at least five of the nine lie below a k-th of it.
      let below = 0;
      let count = 0;
      for (let dy = -1; dy <= 1; dy++) {
        const row = Math.min(height - 1, Math.max(0, y + dy)) * width;
        for (let dx = -1; dx <= 1; dx++) {
          const at = row + Math.min(width - 1, Math.max(0, x + dx));
          around[count++] = at;
          if (level[at]! < limit) below++;
        }
      }
      if (below < 5) continue;
      const median = [...around].sort((a, b) => level[a]! - level[b]!)[4]!;
      for (let c = 0; c < 3; c++) out[c]![i] = rgb[c]![median]!;
      places.push(i);
    }
  }
  return { rgb: out, places };
}

/** Scales every pixel whose brightest channel exceeds `most` down to it. Gives the places. */
export function clampFireflies(rgb: Rgb, most: number): { rgb: Rgb; places: number[] } {
  const places: number[] = [];
  const count = rgb[0].length;
  for (let i = 0; i < count; i++) if (brightest(rgb, i) > most) places.push(i);
  if (places.length === 0) return { rgb, places };
  const out = mapRgb(rgb, (plane) => plane.slice());
  for (const i of places) {
    const gain = most / brightest(rgb, i);
    for (let c = 0; c < 3; c++) out[c]![i]! *= gain;
  }
  return { rgb: out, places };
}
