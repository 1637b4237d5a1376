import type { Look } from '../../core/look/look';
import { AXIS } from '../stations';

/** The bench as an optical drawing: geometry only, in pixels of the strip. */
export const BENCH_HEIGHT = 96;

const RAYS = [-1, -0.66, -0.33, 0, 0.33, 0.66, 1] as const;

/** Middle of each of `count` stations along a strip of some width. */
export function stationX(index: number, count: number, width: number): number {
  return ((index + 0.5) * width) / count;
}

/** The rays that pass the stations, as SVG paths from the first element to the last; `heights` are those of the bundle. */
export function rayPaths(heights: readonly number[], width: number): string[] {
  return RAYS.map((share) =>
    heights
      .map((height, index) => {
        const x = stationX(index, heights.length, width);
        return `${index === 0 ? 'M' : 'L'}${x.toFixed(1)} ${(AXIS + share * height).toFixed(1)}`;
      })
      .join(' '),
  );
}

/**
 * Rays that the veil throws off its course, from the element to the strip's last one. The more light is moved the
 * more of them are drawn (`height` is the bundle's half height at the veil): one for every tenth of the way from a clean lens (0.1 %) to a quarter of all light.
 */
export function scatteredRays(from: number, to: number, moved: number, height: number): string[] {
  if (moved <= 0) return [];
  const count = Math.round(2 + 10 * Math.min(1, Math.max(0, Math.log10(moved / 0.001) / Math.log10(250))));
  return Array.from({ length: count }, (_, index) => {
    const side = index % 2 === 0 ? 1 : -1;
    const slope = (0.35 + 0.65 * ((index * 0.618034) % 1)) * side;
    const start = AXIS + side * height * ((index * 0.414214) % 1);
    const reach = Math.min(to - from, (side > 0 ? 60 - start : start - 4) / Math.abs(slope * 0.16));
    return `M${from.toFixed(1)} ${start.toFixed(1)} L${(from + reach).toFixed(1)} ${(start + slope * 0.16 * reach).toFixed(1)}`;
  });
}

/** How far the glass of a look parts colours, roughly, as a share: for the drawing alone. */
export function colourSpread({ glass }: Look): number {
  const { on, fromLens, drive, residue, abbe, lateral, axial } = glass;
  if (!on) return 0;
  if (fromLens) return 0.0005;
  return drive === 'glass' ? residue / abbe : Math.max(Math.abs(lateral), Math.abs(axial));
}

/** Rays in three colours that glass fans out, the farther the more it parts them: one step a factor of three. */
export function fannedRays(
  from: number,
  to: number,
  spread: number,
  height: number,
): { path: string; colour: string }[] {
  if (spread <= 0) return [];
  const apart = 2 + 2.5 * Math.min(4, Math.max(0, Math.log(spread / 0.0001) / Math.log(3)));
  return ['#8fb0d9', '#8fc2a4', '#d98a7d'].map((colour, k) => ({
    colour,
    path: `M${from.toFixed(1)} ${(AXIS - height).toFixed(1)} L${to.toFixed(1)} ${(AXIS - 2 + apart * (k - 1)).toFixed(1)}`,
  }));
}
