import { offsetsAround, type NearbyLights, type ResolvedLight } from '../../core/light/resolved-light';
import type { Look } from '../../core/look/look';
import { lookAt, type Tracks } from '../../core/look/tracks';
import { lightsKey, readsNearbyLights } from '../../core/stations/ghosts/lights';
import { askStation } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { filesAt, holdFrame, type HeldFrame } from './hold-frame';
import { benchLook } from './open-plates';

export interface LookOverTime {
  look: Look;
  tracks: Tracks;
}

/** So many frames' lights are kept: the oldest are forgotten first. */
const MOST_KNOWN = 4096;

/** What was sighted in frames, by what it depends on; null where a frame cannot be read. */
const known = new Map<string, readonly ResolvedLight[] | null>();

function keyAt(frame: number, { look, tracks }: LookOverTime): string {
  return JSON.stringify([
    filesAt(frame),
    lightsKey(lookAt(look, tracks, frame)),
    useDesk.getState().engineStarts,
  ]);
}

/** The offsets of the frames whose lights bear on one. */
function offsetsAt(frame: number, { look, tracks }: LookOverTime): number[] {
  const timed = lookAt(look, tracks, frame);
  return readsNearbyLights(timed) ? offsetsAround(timed.ghosts.steady) : [];
}

/** What tells whether the lights of the frames near one are still the same. */
export const nearbyKeys = (frame: number, of: LookOverTime): string[] =>
  offsetsAt(frame, of).map((offset) => keyAt(frame + offset, of));

function gather(frame: number, of: LookOverTime): NearbyLights[] {
  return offsetsAt(frame, of).flatMap((offset) => {
    const lights = known.get(keyAt(frame + offset, of));
    return lights ? [{ offset, lights }] : [];
  });
}

/** The lights of the frames near one, where they are known of all; else none. */
export function knownNearbyLights(frame: number, of: LookOverTime): NearbyLights[] {
  return nearbyKeys(frame, of).every((key) => known.has(key)) ? gather(frame, of) : [];
}

/**
 * The lights of the frames near one, for which frames are opened one after the other; a frame that cannot be read is left out.
 * Undefined as soon as they are not wanted any more.
 */
export async function nearbyLights(
  frame: number,
  of: LookOverTime,
  isWanted: () => boolean = () => true,
): Promise<NearbyLights[] | undefined> {
  for (const offset of offsetsAt(frame, of)) {
    if (!isWanted()) return undefined;
    if (!known.has(keyAt(frame + offset, of))) await sightFrame(frame + offset, of);
  }
  return isWanted() ? gather(frame, of) : undefined;
}

/** Notices the lights of a frame that is open, for the frames near it. */
export async function sightHeld(frame: number, of: LookOverTime, held: HeldFrame): Promise<void> {
  if (offsetsAt(frame, of).length === 0 || known.has(keyAt(frame, of))) return;
  await sight(frame, of, held);
}

async function sightFrame(frame: number, of: LookOverTime): Promise<void> {
  const key = keyAt(frame, of);
  let held: HeldFrame | undefined;
  try {
    held = await holdFrame(frame);
    if (held) await sight(frame, of, held);
  } catch {
    // The frame by itself tells what is wrong with it.
    remember(key, null);
  } finally {
    held?.release();
  }
}

async function sight(frame: number, of: LookOverTime, { id, under }: HeldFrame): Promise<void> {
  const key = keyAt(frame, of);
  const look = benchLook(lookAt(of.look, of.tracks, frame), under);
  const { lights } = await askStation({ name: 'sightedLights', look, input: {}, plate: id });
  remember(key, lights);
}

function remember(key: string, lights: readonly ResolvedLight[] | null): void {
  known.set(key, lights);
  for (const oldest of known.keys()) {
    if (known.size <= MOST_KNOWN) break;
    known.delete(oldest);
  }
}
