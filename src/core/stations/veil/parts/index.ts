import type { Look } from '../../../look/look';
import { bloom } from './bloom';
import { diffusion } from './diffusion';
import { dirt } from './dirt';
import { halo } from './halo';
import type { PartContext, PartDefinition, VeilPart } from './part';
import { filter, spikes } from './spikes';
import { stack } from './stack';
import { streaks } from './streaks';

export type { VeilPart } from './part';

/** Everything the veil is made of, in the order of the panel. A new part is one line here. */
export const PARTS: readonly PartDefinition[] = [
  bloom,
  stack,
  spikes,
  filter,
  halo,
  streaks,
  diffusion,
  dirt,
];

/** The parts of a look's veil that are on, whatever their amounts. */
export function veilParts(look: Look, context: PartContext): VeilPart[] {
  return PARTS.flatMap(({ make }) => make(look, context)).filter(({ on }) => on);
}

/** The paths of a look's parts of some kinds: one a kind, or one for each entry of a list. */
export function partPaths(look: Look, parts: readonly PartDefinition[] = PARTS): string[] {
  return parts.flatMap(({ id }) => {
    const settings: unknown = look.veil[id as keyof Look['veil']];
    if (!Array.isArray(settings)) return [`veil.${id}`];
    return settings.map((_, index) => `veil.${id}[${index}]`);
  });
}
