import type { Triple } from './primaries';
import { decodeSrgb } from './srgb';

/** `#rrggbb` as linear light. */
export function hexToLinear(hex: string): Triple {
  return [1, 3, 5].map((at) => decodeSrgb(parseInt(hex.slice(at, at + 2), 16) / 255)) as unknown as Triple;
}
