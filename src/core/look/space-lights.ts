import { SettingError } from '../errors';
import { clamp } from '../image/clamp';
import type { SpaceLight, SpaceLights } from '../formats/lights/space-light';
import { MOST_LIGHTS } from '../stations/ghosts/settings';
import { MOST_LETTERS } from '../settings/setting';
import { withKey, withTrack } from './track-edits';
import type { Tracks } from './tracks';
import { parseLook, settingAt, type Look } from './look';

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

/** What of a light in space may change from frame to frame. */
const MOVING = ['px', 'py', 'pz', 'cone', 'turn', 'tilt', 'gain'] as const;

/**
 * The tracks with the ways of lights that a file tells by frame; `look` has the lights already. A brightness that a light had before the
 * file stays its own: `known` are the names of those lights.
 */
export function trackSpaceLights(
  tracks: Tracks,
  { lights }: SpaceLights,
  { look, known }: { look: Look; known: ReadonlySet<string> },
): Tracks {
  let next = tracks;
  look.ghosts.lights.forEach(({ name }, place) => {
    const own = lights.filter(
      (light) => light.name.slice(0, MOST_LETTERS) === name && light.frame !== undefined,
    );
    if (own.length < 2) return;
    for (const field of MOVING) {
      const path = `ghosts.lights[${place}].${field}`;
      const values = own.map((light) => light[field]);
      // What does not change is the look's.
      if (values.includes(undefined) || new Set(values).size < 2 || (field === 'gain' && known.has(name)))
        continue;
      const setting = settingAt(path);
      const { min, max } = setting.kind === 'number' ? setting : { min: -Infinity, max: Infinity };
      next = withTrack(next, path, undefined);
      own.forEach((light, k) => {
        next = withKey(next, path, {
          frame: light.frame!,
          value: clamp(values[k]!, min, max),
          ease: 'linear',
        });
      });
    }
  });
  return next;
}
