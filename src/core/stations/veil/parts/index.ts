import type { Look } from '../../../look/look';
import { bloom } from './bloom';
import { diffusion } from './diffusion';
import { dirt } from './dirt';
import { halo } from './halo';
import type { PartContext, PartKind, VeilPart } from './part';
import { spikes } from './spikes';
import { stack } from './stack';
import { streak } from './streak';

export type { VeilPart } from './part';

/** Everything the veil is made of, in the order of the panel. A new part is one line here. */
const PARTS: readonly PartKind[] = [bloom, stack, spikes, halo, streak, diffusion, dirt];

/** The parts of a look's veil that are on, whatever their amounts. */
export function veilParts(look: Look, context: PartContext): VeilPart[] {
  return PARTS.flatMap((kind) => kind(look, context)).filter(({ on }) => on);
}

/** Parts of which there is one, by their names in the look. */
export const SINGLE = ['bloom', 'spikes', 'halo', 'streak', 'diffusion', 'dirt'] as const;

/** The names of all parts of a look's veil. */
export function partNames(look: Look): string[] {
  return [...SINGLE.map((name) => `veil.${name}`), ...look.veil.stack.map((_, i) => `veil.stack[${i}]`)];
}
