/** Shares of the pixels that a display cannot show as they are. */
export interface OutOfRange {
  /** At the display's brightest in some channel. */
  clipped: number;
  /** At its darkest in all channels. */
  crushed: number;
  /** Outside the primaries of the bench: some channel is negative. */
  gamut: number;
}

/** What is painted over them. */
export const RANGE_COLOURS = {
  clipped: [224, 96, 76],
  crushed: [92, 138, 214],
  gamut: [201, 120, 201],
} as const;

/** A channel that is so much of the brightest one below zero is outside. */
const OUTSIDE = 1e-3;

/**
 * Paints over display bytes (RGBA) what they cannot show, and counts it. `rgb` is the light that they show.
 */
export function markOutOfRange(pixels: Uint8ClampedArray, rgb: readonly Float32Array[]): OutOfRange {
  const [r, g, b] = rgb as [Float32Array, Float32Array, Float32Array];
  const count = { clipped: 0, crushed: 0, gamut: 0 };
  for (let i = 0, at = 0; i < r.length; i++, at += 4) {
    const [red, green, blue] = [r[i]!, g[i]!, b[i]!];
    const least = Math.min(red, green, blue);
    const kind =
      least < 0 && -least > OUTSIDE * Math.max(red, green, blue)
        ? 'gamut'
        : pixels[at] === 255 || pixels[at + 1] === 255 || pixels[at + 2] === 255
          ? 'clipped'
          : pixels[at] === 0 && pixels[at + 1] === 0 && pixels[at + 2] === 0
            ? 'crushed'
            : undefined;
    if (!kind) continue;
    count[kind]++;
    const colour = RANGE_COLOURS[kind];
    pixels[at] = colour[0];
    pixels[at + 1] = colour[1];
    pixels[at + 2] = colour[2];
  }
  const all = Math.max(1, r.length);
  return { clipped: count.clipped / all, crushed: count.crushed / all, gamut: count.gamut / all };
}
