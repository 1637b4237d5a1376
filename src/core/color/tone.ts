import { MIDDLE_GREY } from './view';
import { monotoneCubic } from './monotone';
import type { Curve } from '../settings/curve';

/** Exponents that tables cover: far below what a half can hold, to far above. */
const LOWEST = -24;
const HIGHEST = 20;
/** Entries an octave; between them is interpolated, to within 1e-7 of a smooth function. */
const STEPS = 1024;
const SHIFT = 13;
/** All bits of a float but its sign. */
const MAGNITUDE = 0x7fffffff;

const bits = new Float32Array(1);
const asInteger = new Uint32Array(bits.buffer);
const patternOf = (value: number): number => {
  bits[0] = value;
  return asInteger[0]!;
};
const FIRST = patternOf(2 ** LOWEST);

/**
 * A function of light as a table over the exponent and the upper mantissa, so that pictures need no logarithms. Below the
 * table its factor at the low end goes on; above it, that at the high end. Negative light is mapped as positive light is,
 * and keeps its sign.
 */
export class ToneTable {
  private readonly values = new Float64Array((HIGHEST - LOWEST) * STEPS + 1);
  private readonly lowGain: number;
  private readonly highGain: number;

  constructor(map: (light: number) => number) {
    for (let i = 0; i < this.values.length; i++) {
      const light = 2 ** (LOWEST + Math.floor(i / STEPS)) * (1 + (i % STEPS) / STEPS);
      this.values[i] = map(light);
    }
    this.lowGain = this.values[0]! / 2 ** LOWEST;
    this.highGain = this.values.at(-1)! / 2 ** HIGHEST;
  }

  /** Maps a plane. */
  apply(plane: Float32Array): Float32Array {
    const out = new Float32Array(plane.length);
    const pattern = new Uint32Array(plane.buffer, plane.byteOffset, plane.length);
    const last = (this.values.length - 1) << SHIFT;
    for (let i = 0; i < out.length; i++) {
      const light = plane[i]!;
      const place = (pattern[i]! & MAGNITUDE) - FIRST;
      if (place < 0) out[i] = light * this.lowGain;
      else if (place >= last) out[i] = light * this.highGain;
      else {
        const index = place >>> SHIFT;
        const low = this.values[index]!;
        const mapped = low + ((this.values[index + 1]! - low) * (place & ((1 << SHIFT) - 1))) / (1 << SHIFT);
        out[i] = light < 0 ? -mapped : mapped;
      }
    }
    return out;
  }
}

/** Entries an octave of a {@link logTable}. */
const TABLE_STEPS = 256;

/**
 * A function of light as the table that the grading kernel reads: over the exponent and the upper mantissa, to within 2e-6 of
 * a smooth function; then the ratios of value to light by which it goes on below and above. Negative light is mapped as
 * positive is, and keeps its sign.
 */
export function logTable(map: (light: number) => number): Float32Array {
  const count = (HIGHEST - LOWEST) * TABLE_STEPS + 1;
  const table = new Float32Array(count + 2);
  for (let i = 0; i < count; i++)
    table[i] = map(2 ** (LOWEST + Math.floor(i / TABLE_STEPS)) * (1 + (i % TABLE_STEPS) / TABLE_STEPS));
  table[count] = table[0]! / 2 ** LOWEST;
  table[count + 1] = table[count - 1]! / 2 ** HIGHEST;
  return table;
}

/** Contrast about a pivot in log2: `pivot * (x / pivot) ^ contrast`. */
export function contrastMap(contrast: number, pivot: number): (light: number) => number {
  return (light) => pivot * (light / pivot) ** contrast;
}

/** A curve in stops from middle grey, as a function of light. */
export function curveMap(curve: Curve): (light: number) => number {
  const map = monotoneCubic(curve, 1);
  return (light) => MIDDLE_GREY * 2 ** map(Math.log2(light / MIDDLE_GREY));
}

export interface Levels {
  inLow: number;
  inHigh: number;
  gamma: number;
  outLow: number;
  outHigh: number;
}

export function levelsAreNeutral({ inLow, inHigh, gamma, outLow, outHigh }: Levels): boolean {
  return inLow === 0 && inHigh === 1 && gamma === 1 && outLow === 0 && outHigh === 1;
}

/** Applies levels to a plane; below the low end the gamma's curve goes on turned about it. */
export function applyLevels(plane: Float32Array, levels: Levels): Float32Array {
  const { inLow, outLow, gamma } = levels;
  const range = levels.inHigh - inLow;
  const scale = 1 / (Math.abs(range) < 1e-6 ? 1e-6 : range);
  const span = levels.outHigh - outLow;
  const power = 1 / gamma;
  return plane.map((value) => {
    const t = (value - inLow) * scale;
    return outLow + span * (power === 1 ? t : Math.sign(t) * Math.abs(t) ** power);
  });
}
