import { luminance } from '../color/primaries';
import type { ValueShape } from '../settings/mask';
import type { Rgb } from './rgb';
import { smoothStep } from './smooth-step';

/** A colour whose channels differ by less than this share of the brightest one has little hue, and by none none. */
const PURE = 0.1;

/** Hue in degrees (0 red, 120 green, 240 blue, by the hexagon of Smith 1978), and how pure the colour is, 0 to 1. */
export function hueOf(r: number, g: number, b: number): { hue: number; purity: number } {
  const most = Math.max(r, g, b);
  const span = most - Math.min(r, g, b);
  if (!(span > 0) || most <= 0) return { hue: 0, purity: 0 };
  const sixth = most === r ? ((g - b) / span + 6) % 6 : most === g ? (b - r) / span + 2 : (r - g) / span + 4;
  return { hue: 60 * sixth, purity: Math.min(1, span / most) };
}

/** How much of a range of hues covers one: all between its ends clockwise, fading beyond them. */
function hueCoverage({ from, to, soft }: ValueShape): (hue: number) => number {
  const span = to === null ? 360 : (((to - from) % 360) + 360) % 360;
  return (hue) => {
    const past = (((hue - from) % 360) + 360) % 360;
    const beyond = past <= span ? 0 : Math.min(past - span, 360 - past);
    return fade(beyond, soft);
  };
}

/** The same for values that count by doublings. */
function rangeCoverage({ from, to, soft }: ValueShape): (value: number) => number {
  return (value) => {
    if (value < from) return value > 0 ? fade(Math.log2(from / value), soft) : 0;
    if (to !== null && value > to) return to > 0 ? fade(Math.log2(value / to), soft) : 0;
    return value >= 0 ? 1 : 0;
  };
}

const fade = (beyond: number, soft: number): number =>
  beyond <= 0 ? 1 : beyond >= soft ? 0 : 1 - smoothStep(beyond / soft);

/** Coverage by the value of light. */
export function lightCoverage(shape: ValueShape, [r, g, b]: Rgb): Float32Array {
  const out = new Float32Array(r.length);
  if (shape.of === 'hue') {
    const coverage = hueCoverage(shape);
    for (let i = 0; i < out.length; i++) {
      const { hue, purity } = hueOf(r[i]!, g[i]!, b[i]!);
      out[i] = purity > 0 ? coverage(hue) * smoothStep(purity / PURE) : 0;
    }
    return out;
  }
  const coverage = rangeCoverage(shape);
  const channel = { red: r, green: g, blue: b, luminance: undefined, depth: undefined }[shape.of];
  for (let i = 0; i < out.length; i++)
    out[i] = coverage(channel ? channel[i]! : luminance(r[i]!, g[i]!, b[i]!));
  return out;
}

/** Coverage by distance. */
export function distanceCoverage(shape: ValueShape, distances: Float32Array): Float32Array {
  const coverage = rangeCoverage(shape);
  return distances.map(coverage);
}
