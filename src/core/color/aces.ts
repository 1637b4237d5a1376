import { ACES_AP1, fromRec709, type Matrix } from './chromaticities';

/** Linear Rec.709 to ACES AP1. */
export const REC709_TO_AP1: Matrix = fromRec709(ACES_AP1)!;

const [BREAK, SLOPE, OFFSET] = [0.0078125, 10.5402377416545, 0.0729055341958355];

/** Scene light in AP1 to the logarithmic ACEScct encoding (AMPAS S-2016-001). */
export function encodeAcescct(linear: number): number {
  return linear <= BREAK ? SLOPE * linear + OFFSET : (Math.log2(linear) + 9.72) / 17.52;
}
