/** CIE XYZ (white at Y = 1, D65) to linear Rec.709/sRGB (IEC 61966-2-1). */
const XYZ_TO_RGB = [
  [3.2404542, -1.5371385, -0.4985314],
  [-0.969266, 1.8760108, 0.041556],
  [0.0556434, -0.2040259, 1.0572252],
] as const;

/** Share of each channel in luminance, linear Rec.709 (ITU-R BT.709-6). */
export const LUMINANCE = [0.2126, 0.7152, 0.0722] as const;

export type Triple = [number, number, number];

export function xyzToRgb(x: number, y: number, z: number): Triple {
  return XYZ_TO_RGB.map((row) => row[0] * x + row[1] * y + row[2] * z) as Triple;
}

/** Relative luminance of a linear Rec.709 colour. */
export const luminance = (r: number, g: number, b: number): number =>
  LUMINANCE[0] * r + LUMINANCE[1] * g + LUMINANCE[2] * b;
