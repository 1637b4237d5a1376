import type { Triple } from './primaries';
import { decodeSrgb, encodeSrgb } from './srgb';
import { applyView, viewOf, type ViewName } from './view';

/** `#rrggbb` as linear light. */
export function hexToLinear(hex: string): Triple {
  return [1, 3, 5].map((at) => decodeSrgb(parseInt(hex.slice(at, at + 2), 16) / 255)) as unknown as Triple;
}

/** Linear light from 0 to 1 as `#rrggbb`; what is brighter is held. */
export function linearToHex(colour: readonly number[]): string {
  const byte = (value: number): number => Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, value))));
  return `#${colour.map((value) => byte(value).toString(16).padStart(2, '0')).join('')}`;
}

/** What a display shows of light of a colour under a view, as `#rrggbb`. */
export function viewedHex(hex: string, view: ViewName): string {
  const out = new Float32Array(3);
  applyView(
    viewOf(view),
    hexToLinear(hex).map((value) => Float32Array.of(value)),
    1,
    out,
  );
  return `#${Array.from(out, (value) =>
    Math.round(255 * value)
      .toString(16)
      .padStart(2, '0'),
  ).join('')}`;
}
