import { getSetting, settingAt, type Look, type SettingValue } from './look';
import type { Ease } from './ease';
import { KEYED, levelAt, lookAt, valueAt, type Key, type Track, type Tracks } from './tracks';

/** What of a setting is keyed, as seen from a frame. */
export type KeyState = 'none' | 'here' | 'elsewhere';

/** Whether a setting may change over time. */
export const canBeKeyed = (path: string): boolean => KEYED.has(settingAt(path).kind);

export function keyState(tracks: Tracks, path: string, frame: number): KeyState {
  const track = tracks[path];
  if (!track) return 'none';
  return track.keys.some((key) => key.frame === frame) ? 'here' : 'elsewhere';
}

const NEW_TRACK: Track = { keys: [], before: 'hold', after: 'hold' };

/** Whether a setting's value at a frame comes of its track, and not of a key there. */
export function isBetweenKeys(tracks: Tracks, path: string, frame: number): boolean {
  const track = tracks[path];
  return track !== undefined && (track.life !== undefined || keyState(tracks, path, frame) !== 'here');
}

/** The tracks with a key, in place of one at its frame. Its value is reached as the one's that it stands before, or evenly. */
export function withKey(
  tracks: Tracks,
  path: string,
  { frame, value, ease }: Omit<Key, 'ease'> & { ease?: Ease },
): Tracks {
  const track = tracks[path] ?? NEW_TRACK;
  const own = track.keys.find((key) => key.frame === frame);
  const next = track.keys.find((key) => key.frame > frame) ?? track.keys.at(-1);
  const key = { frame, value, ease: ease ?? own?.ease ?? next?.ease ?? usualEase(path) };
  const keys = [...track.keys.filter((one) => one !== own), key].sort((a, b) => a.frame - b.frame);
  return { ...tracks, [path]: { ...track, keys } };
}

/** What goes through its values goes evenly; what has nothing between stays until the next. */
const usualEase = (path: string): Ease =>
  ['number', 'colour'].includes(settingAt(path).kind) ? 'linear' : 'hold';

/** The tracks without the key at a frame; a track without keys is none. */
export function withoutKey(tracks: Tracks, path: string, frame: number): Tracks {
  const track = tracks[path];
  return track
    ? withTrack(tracks, path, { ...track, keys: track.keys.filter((key) => key.frame !== frame) })
    : tracks;
}

/** The tracks with one of them changed; without keys, or undefined, it is gone. */
export function withTrack(tracks: Tracks, path: string, track: Track | undefined): Tracks {
  if (track && track.keys.length > 0) return { ...tracks, [path]: track };
  return Object.fromEntries(Object.entries(tracks).filter(([own]) => own !== path));
}

/** Places of keys, by the paths of their tracks. */
export type KeyChoice = Readonly<Record<string, readonly number[]>>;

/**
 * The tracks with chosen keys at other frames and values. Frames are whole; a key that comes to lie on another that was not chosen takes
 * its place. Also gives the choice as it is by then.
 */
export function withMovedKeys(
  tracks: Tracks,
  choice: KeyChoice,
  move: (key: Key, path: string) => Pick<Key, 'frame' | 'value'>,
): { tracks: Tracks; choice: KeyChoice } {
  const chosen: Record<string, number[]> = {};
  const next: Record<string, Track> = { ...tracks };
  for (const [path, frames] of Object.entries(choice)) {
    const track = tracks[path];
    if (!track) continue;
    const at = new Map<number, Key>();
    for (const key of track.keys) {
      if (!frames.includes(key.frame)) continue;
      const { frame, value } = move(key, path);
      const moved = { ...key, frame: Math.round(frame), value };
      at.set(moved.frame, moved);
    }
    const rest = track.keys.filter((key) => !frames.includes(key.frame) && !at.has(key.frame));
    next[path] = { ...track, keys: [...rest, ...at.values()].sort((a, b) => a.frame - b.frame) };
    chosen[path] = [...at.keys()];
  }
  return { tracks: next, choice: chosen };
}

/** The tracks without chosen keys. */
export function withoutKeys(tracks: Tracks, choice: KeyChoice): Tracks {
  return Object.entries(choice).reduce(
    (left, [path, frames]) => frames.reduce((less, frame) => withoutKey(less, path, frame), left),
    tracks,
  );
}

/** The chosen keys by themselves. */
export function keysChosen(tracks: Tracks, choice: KeyChoice): Tracks {
  return Object.fromEntries(
    Object.entries(choice).flatMap(([path, frames]) => {
      const keys = tracks[path]?.keys.filter((key) => frames.includes(key.frame)) ?? [];
      return keys.length > 0 ? [[path, { ...NEW_TRACK, keys }]] : [];
    }),
  );
}

/** The tracks with the keys of others laid in, the earliest of which comes to lie at a frame. */
export function withPasted(
  tracks: Tracks,
  pasted: Tracks,
  frame: number,
): { tracks: Tracks; choice: KeyChoice } {
  const first = Math.min(...Object.values(pasted).flatMap(({ keys }) => keys.map((key) => key.frame)));
  const choice: Record<string, number[]> = {};
  let next = tracks;
  for (const [path, { keys }] of Object.entries(pasted))
    for (const key of keys) {
      const at = key.frame - first + frame;
      next = withKey(next, path, { ...key, frame: at });
      choice[path] = [...(choice[path] ?? []), at];
    }
  return { tracks: next, choice };
}

/** Each track with a key, so that a look may be written over by what it is at a frame and nothing is lost. */
export function anchored(tracks: Tracks, look: Look): Tracks {
  return Object.fromEntries(
    Object.entries(tracks).map(([path, track]) => {
      if (track.keys.length > 0) return [path, track];
      const key: Key = {
        frame: track.life?.offset ?? 0,
        value: getSetting(look, path),
        ease: usualEase(path),
      };
      return [path, { ...track, keys: [key] }];
    }),
  );
}

/**
 * What a change of the look at a frame means over time: settings that have tracks get keys there, tracks of things in lists go with
 * them, and the look is again what the tracks make of it at the frame.
 */
export function carryChange(
  tracks: Tracks,
  { before, after, frame }: { before: Look; after: Look; frame: number },
): { tracks: Tracks; look: Look } {
  if (Object.keys(tracks).length === 0) return { tracks, look: after };
  const followed = followLists(tracks, before, after);
  let next = followed;
  for (const [path, track] of Object.entries(followed)) {
    const [own, value] = [
      getSetting(after, path),
      valueAt(settingAt(path), track, { frame, own: getSetting(after, path) }),
    ];
    if (own !== value) next = withValueAt(next, path, { frame, value: own });
  }
  return { tracks: next, look: lookAt(after, next, frame) };
}

/** A track with a value at a frame; of what goes between two values, the one that is nearer there. */
function withValueAt(
  tracks: Tracks,
  path: string,
  { frame, value }: { frame: number; value: SettingValue },
): Tracks {
  const track = tracks[path]!;
  const { life } = track;
  if (life?.kind !== 'blink' && life?.kind !== 'pulse') return withKey(tracks, path, { frame, value });
  const side = levelAt(life, frame) < 0.5 ? 'low' : 'high';
  return { ...tracks, [path]: { ...track, life: { ...life, [side]: value } } };
}

const PLACE_IN_LIST = /^([^[]+)\[(\d+)\]/;

/** Tracks of things in a list go with them when they are put in another order; those of what is gone are gone. */
function followLists(tracks: Tracks, before: Look, after: Look): Tracks {
  const lists = new Set(Object.keys(tracks).flatMap((path) => PLACE_IN_LIST.exec(path)?.[1] ?? []));
  return [...lists].reduce((left, list) => {
    const [old, now] = [listIn(before, list), listIn(after, list)];
    return withPlaces(left, list, placesIn(old, now, list));
  }, tracks);
}

function listIn(look: Look, list: string): readonly unknown[] {
  const found = list.split('.').reduce<unknown>((node, key) => (node as Record<string, unknown>)[key], look);
  return Array.isArray(found) ? found : [];
}

/** Where each thing of a list went. What was changed and not moved stays. */
function placesIn(
  old: readonly unknown[],
  now: readonly unknown[],
  list: string,
): (place: number) => number | undefined {
  // Elements are renders, which are there before anything is set about them: their places are told when they change.
  if (list === 'elements') return (place) => place;
  const texts = now.map((one) => JSON.stringify(one));
  const taken = new Set<number>();
  const went = old.map((one) => {
    const place = texts.findIndex((text, k) => !taken.has(k) && text === JSON.stringify(one));
    if (place >= 0) taken.add(place);
    return place < 0 ? undefined : place;
  });
  // One that is not found again was changed where it stood, if nothing else came to stand there.
  return (place) =>
    went[place] ?? (old.length <= now.length && !taken.has(place) && place < now.length ? place : undefined);
}

/** The tracks of a list's things at other places; undefined takes them out. */
export function withPlaces(
  tracks: Tracks,
  list: string,
  placeOf: (place: number) => number | undefined,
): Tracks {
  return Object.fromEntries(
    Object.entries(tracks).flatMap(([path, track]) => {
      const match = PLACE_IN_LIST.exec(path);
      if (match?.[1] !== list) return [[path, track]];
      const place = placeOf(Number(match[2]));
      return place === undefined ? [] : [[`${list}[${place}]${path.slice(match[0].length)}`, track]];
    }),
  );
}
