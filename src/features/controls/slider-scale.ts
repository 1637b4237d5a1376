import type { NumberMeta } from '../../core/settings/setting';

/** Positions on a slider run from 0 to this. */
export const SLIDER_STEPS = 1000;

/** Where a value lies on its slider, 0 to {@link SLIDER_STEPS}. */
export function toPosition(setting: NumberMeta, value: number): number {
  const { min, max } = setting;
  if (setting.scale === 'linear') return ((value - min) / (max - min)) * SLIDER_STEPS;
  const low = setting.floor ?? min;
  if (value <= low) return 0;
  return (Math.log(value / low) / Math.log(max / low)) * SLIDER_STEPS;
}

/** The value at a slider's position, rounded to the setting's step. The left end is the minimum itself. */
export function fromPosition(setting: NumberMeta, position: number): number {
  const { min, max, step } = setting;
  if (position <= 0) return min;
  if (position >= SLIDER_STEPS) return max;
  const share = position / SLIDER_STEPS;
  if (setting.scale === 'linear') return tidy(min + share * (max - min), step, min, max);
  const low = setting.floor ?? min;
  const value = low * (max / low) ** share;
  const { stops } = setting;
  if (stops && value >= stops[0]! && value <= stops.at(-1)!) return nearestStop(stops, value);
  // Three digits are kept where the step would be finer than a hand can place.
  const digits = 10 ** (2 - Math.floor(Math.log10(value)));
  return tidy(Math.round(value * digits) / digits, Math.min(step, 1 / digits), min, max);
}

function nearestStop(stops: readonly number[], value: number): number {
  const away = (stop: number): number => Math.abs(Math.log(stop / value));
  return stops.reduce((best, stop) => (away(stop) < away(best) ? stop : best));
}

/** The value that one press of an arrow key leads to: the next stop, or a step further. */
export function nudged(setting: NumberMeta, value: number, direction: 1 | -1, coarse: boolean): number {
  const { min, max, step, stops } = setting;
  const count = coarse ? (stops ? 3 : 10) : 1;
  const ahead = stops?.filter((stop) => (direction > 0 ? stop > value * 1.0001 : stop < value * 0.9999));
  if (ahead?.length)
    return direction > 0 ? ahead[Math.min(count, ahead.length) - 1]! : (ahead.at(-count) ?? ahead[0]!);
  return Math.min(max, Math.max(min, Number((value + direction * step * count).toPrecision(12))));
}

function tidy(value: number, step: number, min: number, max: number): number {
  const rounded = Number((Math.round(value / step) * step).toPrecision(12));
  return Math.min(max, Math.max(min, rounded));
}
