/** Linear 0..1 to the sRGB curve (IEC 61966-2-1). */
export function encodeSrgb(linear: number): number {
  return linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055;
}
