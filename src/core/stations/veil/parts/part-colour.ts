import { hexToLinear } from '../../../color/hex';
import { LUMINANCE, type Triple } from '../../../color/primaries';
import { tintGains } from '../../../color/temperature';

/** Settings of the colour of what a part spreads. */
interface ColourSettings {
  /** Kelvin. */
  tint: number;
  /** `#rrggbb` in sRGB. */
  tintColour: string;
  /** How much of that colour there is, from 0 to 1. */
  tintShare: number;
  saturation?: number;
}

/** What a part does to the colour of the light that it spreads. */
export interface PartColour {
  /** A channel; the luminance of white stays. */
  gains: Triple;
  /** About the luminance of each pixel: 0 is grey, 1 as it is. */
  saturation: number;
}

/** Gains that give white a hue and leave its luminance. */
export const hueGains = (gains: Triple): Triple => {
  const luminance = gains.reduce((sum, value, c) => sum + value * LUMINANCE[c]!, 0);
  return luminance > 0 ? (gains.map((value) => value / luminance) as Triple) : [1, 1, 1];
};

/** Temperature and colour together. Without either the gains are exactly 1. */
export function partColour({ tint, tintColour, tintShare, saturation = 1 }: ColourSettings): PartColour {
  const warmth = tintGains(tint);
  const [r, g, b] = hexToLinear(tintColour);
  const isNeutral = tintShare === 0 || (r === g && g === b);
  if (isNeutral) return { gains: warmth, saturation };
  const hue = hueGains([r, g, b]);
  const mixed = hue.map((value, c) => warmth[c]! * (1 + tintShare * (value - 1))) as Triple;
  return { gains: hueGains(mixed), saturation };
}
