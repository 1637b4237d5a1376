import type { Triple } from './primaries';
import { decodeSrgb, encodeSrgb } from './srgb';

/** `#rrggbb` as linear light. */
export function hexToLinear(hex: string): Triple {
  return [1, 3, 5].map((at) => decodeSrgb(parseInt(hex.slice(at, at + 2), 16) / 255)) as unknown as Triple;
}

/** Linear light from 0 to 1 as `#rrggbb`; what is brighter is held. */
export function linearToHex(colour: readonly number[]): string {
  const byte = (value: number): number => Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, value))));
  return `#${colour.map((value) => byte(value).toString(16).padStart(2, '0')).join('')}`;
}
