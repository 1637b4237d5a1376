import { ssim } from 'ssim.js';
import { encodeSrgb } from '../color/srgb';
import type { Size } from './rectangle';
import type { Rgb } from './rgb';

/** How far two pictures of one size are apart. */
export interface Difference {
  /** The largest difference of any channel, and the pixel that it is in. */
  largest: number;
  x: number;
  y: number;
  /** Mean absolute difference of all channels, and the sum of all over the sum of the first picture. */
  mean: number;
  relative: number;
  /** Peak signal to noise in decibels as an sRGB display shows both, held to 0..1; infinite if it shows no difference. */
  psnr: number;
  /** Structural similarity of the same, 1 if they are alike (Wang et al. 2004). */
  ssim: number;
}

const onDisplay = (value: number): number => encodeSrgb(value > 0 ? Math.min(1, value) : 0);

/** Compares the light of two pictures of one size, value for value and as a display shows them. What is not a number counts as 0. */
export function compareRgb(a: Rgb, b: Rgb, size: Size): Difference {
  let [largest, place, sum, all, square] = [0, 0, 0, 0, 0];
  const finite = (value: number): number => (Number.isFinite(value) ? value : 0);
  for (let c = 0; c < 3; c++) {
    const [one, other] = [a[c as 0], b[c as 0]];
    for (let i = 0; i < one.length; i++) {
      const [p, q] = [finite(one[i]!), finite(other[i]!)];
      const apart = Math.abs(p - q);
      if (apart > largest) [largest, place] = [apart, i];
      sum += apart;
      all += Math.abs(p);
      square += (onDisplay(p) - onDisplay(q)) ** 2;
    }
  }
  const count = 3 * a[0].length;
  return {
    largest,
    x: place % size.width,
    y: Math.floor(place / size.width),
    mean: sum / count,
    relative: all > 0 ? sum / all : sum > 0 ? Infinity : 0,
    psnr: -10 * Math.log10(square / count),
    ssim: similarity(displayed(a), displayed(b), size),
  };
}

/** Planes as bytes of an sRGB display, red, green, blue and opaque. */
function displayed(rgb: Rgb): Uint8ClampedArray {
  const data = new Uint8ClampedArray(rgb[0].length * 4).fill(255);
  rgb.forEach((plane, c) => plane.forEach((value, i) => (data[4 * i + c] = 255 * onDisplay(value))));
  return data;
}

/** Structural similarity of two pictures as RGBA bytes. */
export function similarity(a: Uint8ClampedArray, b: Uint8ClampedArray, { width, height }: Size): number {
  const picture = (data: Uint8ClampedArray) => ({ data, width, height });
  return ssim(picture(a), picture(b), { ssim: 'original', downsample: false }).mssim;
}
