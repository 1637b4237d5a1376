import type { NumberMeta } from './setting';

/** A value as its field shows it, in the shown unit. One that comes of a movement is rounded: nobody typed its digits. */
export function shownText(setting: NumberMeta, value: number, isMoving = false): string {
  const { factor, digits } = setting.shown;
  const shown = Number((value * factor).toPrecision(12));
  const fixed = shown.toFixed(digits);
  // A value finer than its digits is shown whole: what is typed must not seem lost.
  return isMoving || Number(fixed) === shown ? fixed : String(Number(shown.toPrecision(7)));
}
