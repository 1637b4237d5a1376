/** The straight part of the sRGB curve: up to where, and its line. */
export const SRGB_LINE = { end: 0.0031308, slope: 12.92, start: 0 } as const;

/** Linear 0..1 to the sRGB curve (IEC 61966-2-1). */
export function encodeSrgb(linear: number): number {
  return linear <= SRGB_LINE.end ? SRGB_LINE.slope * linear : 1.055 * linear ** (1 / 2.4) - 0.055;
}

/** The sRGB curve 0..1 back to linear (IEC 61966-2-1). */
export function decodeSrgb(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}
