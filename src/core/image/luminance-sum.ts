import { LUMINANCE } from '../color/primaries';
import type { Rgb } from './rgb';

/** The sum of all pixels' luminance. */
export function luminanceSum(rgb: Rgb): number {
  let sum = 0;
  rgb.forEach((plane, c) => {
    let part = 0;
    for (let i = 0; i < plane.length; i++) part += plane[i]!;
    sum += LUMINANCE[c]! * part;
  });
  return sum;
}
