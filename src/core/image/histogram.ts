import { MIDDLE_GREY } from '../color/view';

/** Stops from middle grey that a histogram covers, and how many bins a stop has. */
export const HISTOGRAM_STOPS = 12;
export const BINS_PER_STOP = 4;
export const HISTOGRAM_BINS = 2 * HISTOGRAM_STOPS * BINS_PER_STOP;

/** How a picture's light is spread over stops from middle grey. */
export interface Histogram {
  /** Per channel, the share of the pixels in each bin, darkest first; what lies beyond is in the outermost bins. */
  channels: [number[], number[], number[]];
  /** Shares of the pixels: a channel above display white, a channel below zero, all channels zero. */
  clipped: number;
  negative: number;
  black: number;
}

/** The histogram of scene-linear planes. */
export function histogramOf(rgb: readonly [Float32Array, Float32Array, Float32Array]): Histogram {
  const count = rgb[0].length;
  const bins = [0, 1, 2].map(() => new Uint32Array(HISTOGRAM_BINS));
  let clipped = 0;
  let negative = 0;
  let black = 0;
  for (let i = 0; i < count; i++) {
    let [over, under, dark] = [false, false, true];
    for (let c = 0; c < 3; c++) {
      const value = rgb[c]![i]!;
      if (value > 1) over = true;
      if (value < 0) under = true;
      if (value !== 0) dark = false;
      if (!(value > 0)) continue;
      const place = Math.floor((Math.log2(value / MIDDLE_GREY) + HISTOGRAM_STOPS) * BINS_PER_STOP);
      bins[c]![Math.min(HISTOGRAM_BINS - 1, Math.max(0, place))]!++;
    }
    if (over) clipped++;
    if (under) negative++;
    if (dark) black++;
  }
  const shares = bins.map((plane) => Array.from(plane, (value) => value / count)) as Histogram['channels'];
  return { channels: shares, clipped: clipped / count, negative: negative / count, black: black / count };
}
