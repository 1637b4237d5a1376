import { ACES_AP1, fromRec709, type Matrix } from './chromaticities';

/** Linear Rec.709 to ACES AP1. */
export const REC709_TO_AP1: Matrix = fromRec709(ACES_AP1)!;

/** The straight part of ACEScct: up to where, and its line. */
export const ACESCCT_LINE = { end: 0.0078125, slope: 10.5402377416545, start: 0.0729055341958355 } as const;

/** Scene light in AP1 to the logarithmic ACEScct encoding (AMPAS S-2016-001). */
export function encodeAcescct(linear: number): number {
  const { end, slope, start } = ACESCCT_LINE;
  return linear <= end ? slope * linear + start : (Math.log2(linear) + 9.72) / 17.52;
}
