import { luminance } from './primaries';
import { MIDDLE_GREY } from './view';

/** One step of the scale: light from so many stops of middle grey on, up to the next. */
export interface FalseColourStep {
  from: number;
  colour: readonly [number, number, number];
}

/**
 * Luminance in stops from middle grey as colours: cold and dark below, neutral about middle grey, warm and bright above,
 * so that lightness alone tells the order, too. The first step has no lower end.
 */
export const FALSE_COLOURS: readonly FalseColourStep[] = [
  { from: -Infinity, colour: [12, 12, 16] },
  { from: -8, colour: [20, 32, 52] },
  { from: -6, colour: [22, 52, 76] },
  { from: -4, colour: [26, 78, 92] },
  { from: -3, colour: [38, 98, 102] },
  { from: -2, colour: [62, 114, 110] },
  { from: -1, colour: [96, 124, 118] },
  { from: -0.5, colour: [136, 136, 136] },
  { from: 0.5, colour: [168, 158, 128] },
  { from: 1, colour: [200, 172, 104] },
  { from: 2, colour: [226, 168, 72] },
  { from: 3, colour: [232, 136, 60] },
  { from: 4, colour: [224, 100, 72] },
  { from: 6, colour: [226, 120, 132] },
  { from: 8, colour: [242, 190, 200] },
];

/** Scene-linear planes as false colour, opaque RGBA. `gain` multiplies the light first. Negative light is violet. */
export function falseColourBytes(
  [r, g, b]: readonly [Float32Array, Float32Array, Float32Array],
  gain: number,
): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(r.length * 4);
  const limits = FALSE_COLOURS.map(({ from }) => MIDDLE_GREY * 2 ** from);
  for (let i = 0; i < r.length; i++) {
    const light = gain * luminance(r[i]!, g[i]!, b[i]!);
    let step = limits.length - 1;
    while (step > 0 && light < limits[step]!) step--;
    out.set(light < 0 ? NEGATIVE : FALSE_COLOURS[step]!.colour, i * 4);
    out[i * 4 + 3] = 255;
  }
  return out;
}

const NEGATIVE = [120, 60, 150] as const;
