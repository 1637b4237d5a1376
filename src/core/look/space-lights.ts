import { SettingError } from '../errors';
import type { SpaceLight } from '../formats/lights/space-light';
import { MOST_LIGHTS } from '../stations/ghosts/settings';
import { MOST_LETTERS } from '../settings/setting';
import { parseLook, type Look } from './look';

/** A light of a file that tells no brightness, in full-size pixels of value 1. */
const ORDINARY = 1000;
const within = (value: number, most: number): number => Math.max(-most, Math.min(most, value));

/**
 * The look with lights in space. One of a name that it has already keeps all its settings but its place and what the file tells
 * of its cone; others are added. Throws {@link SettingError} if there are too many.
 */
export function placeSpaceLights(look: Look, lights: readonly SpaceLight[]): Look {
  const next: unknown[] = [...look.ghosts.lights];
  for (const { gain, tint, name: full, px, py, pz, cone, turn, tilt } of lights) {
    const name = full.slice(0, MOST_LETTERS);
    const place = {
      space: true,
      px: within(px, 1e6),
      py: within(py, 1e6),
      pz: within(pz, 1e6),
      ...(cone !== undefined && { cone, turn: turn ?? 0, tilt: tilt ?? 0 }),
    };
    const known = look.ghosts.lights.findIndex((light) => light.name === name);
    if (known >= 0) next[known] = { ...look.ghosts.lights[known], ...place };
    else
      next.push({
        name,
        ...place,
        ...(tint !== undefined && { tint }),
        gain: Math.min(1e9, Math.max(0, gain ?? ORDINARY)),
      });
  }
  if (next.length > MOST_LIGHTS)
    throw new SettingError(`there would be ${next.length} lights; up to ${MOST_LIGHTS} can be`, {
      where: 'ghosts.lights',
      todo: 'Remove some, or bring in fewer',
    });
  return parseLook({ ...look, ghosts: { ...look.ghosts, lights: next } });
}
