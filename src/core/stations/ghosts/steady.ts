import { luminance, type Triple } from '../../color/primaries';
import type { NearbyLights, ResolvedLight } from '../../light/resolved-light';

/** Farther than this share of the picture height from one frame to the next, a light is another. */
const FARTHEST_STEP = 0.15;
/** Stops by which a light may change from one frame to the next: less than half of it may be left behind a bar. */
const MOST_STOPS = 6;
/** How far its colour may change, as shares of red, green and blue. */
const FARTHEST_COLOUR = 0.25;

/** A found light in one of the frames, and what it is in the next and in the one before, if it is there. */
interface Sighting {
  light: ResolvedLight;
  slot: number;
  next?: Sighting;
  isFollowed?: true;
}

/**
 * Lights of a frame, none of which pops up or goes out at once: the visibility of those in the list, and the light of those
 * that were found, are the mean over the frames up to `reach` before and after. Found ones are followed from frame to frame by place,
 * light and colour; where one is hidden, it stands between where it was seen. Between two frames of a scene, the mean of
 * `2 reach + 1` frames changes by at most so many parts of the whole. Beyond a frame that is missing, the one before it stands.
 */
export function steadyLights(
  own: readonly ResolvedLight[],
  nearby: readonly NearbyLights[],
  reach: number,
  aspect: number,
): ResolvedLight[] {
  const frames = framesAround(own, nearby, reach);
  const listed = own
    .filter(({ isFound }) => !isFound)
    .map((light) => ({ ...light, visibility: meanVisibility(light, frames) }));
  const found = follow(frames, aspect)
    .flatMap((sightings) => meanLight(sightings, reach) ?? [])
    .sort((a, b) => luminance(...b.flux) - luminance(...a.flux))
    .map((light, index) => ({ ...light, name: nameOfFound(index), index }));
  return [...listed, ...found];
}

export const nameOfFound = (index: number): string => `Found ${index + 1}`;

type Frames = readonly (readonly ResolvedLight[])[];

/** The lights of every frame from `-reach` to `reach`. */
function framesAround(own: readonly ResolvedLight[], nearby: readonly NearbyLights[], reach: number): Frames {
  const known = new Map(nearby.map(({ offset, lights }) => [offset, lights]));
  const side = (sign: 1 | -1): (readonly ResolvedLight[])[] => {
    const frames: (readonly ResolvedLight[])[] = [];
    for (let k = 1; k <= reach; k++) frames.push(known.get(sign * k) ?? frames.at(-1) ?? own);
    return frames;
  };
  return [...side(-1).reverse(), own, ...side(1)];
}

/** Of a light of the list; frames in which it does not shine do not count. */
function meanVisibility({ index }: ResolvedLight, frames: Frames): number {
  const seen = frames.flatMap((lights) => lights.find((one) => !one.isFound && one.index === index) ?? []);
  return seen.reduce((sum, { visibility }) => sum + visibility, 0) / seen.length;
}

/** The found lights of all frames, each with its sightings in order. */
function follow(frames: Frames, aspect: number): Sighting[][] {
  const sightings = frames.map((lights, slot) =>
    lights.filter(({ isFound }) => isFound).map((light): Sighting => ({ light, slot })),
  );
  // What goes on in the next frame first, then what was hidden for a while.
  for (let gap = 1; gap < frames.length; gap++)
    for (let slot = 0; slot + gap < frames.length; slot++)
      link(
        sightings[slot]!.filter(({ next }) => !next),
        sightings[slot + gap]!.filter(({ isFollowed }) => !isFollowed),
        { gap, aspect },
      );
  return sightings.flat().flatMap((sighting) => (sighting.isFollowed ? [] : [chain(sighting)]));
}

function chain(first: Sighting): Sighting[] {
  const all = [first];
  for (let at = first.next; at; at = at.next) all.push(at);
  return all;
}

/** Joins the sightings of two frames that are of the same light, the likest pair first. */
function link(
  before: readonly Sighting[],
  after: readonly Sighting[],
  { gap, aspect }: { gap: number; aspect: number },
): void {
  const pairs = before.flatMap((from) =>
    after.flatMap((to) => {
      const cost = unlikeness(from.light, to.light, gap, aspect);
      return cost === undefined ? [] : [{ from, to, cost }];
    }),
  );
  for (const { from, to } of pairs.sort((a, b) => a.cost - b.cost))
    if (!from.next && !to.isFollowed) {
      from.next = to;
      to.isFollowed = true;
    }
}

/** How unlike two sightings are; undefined if they cannot be of one light. */
function unlikeness(a: ResolvedLight, b: ResolvedLight, gap: number, aspect: number): number | undefined {
  const place = Math.hypot((a.x - b.x) * aspect, a.y - b.y) / (gap * FARTHEST_STEP);
  const stops = Math.abs(Math.log2(lightOf(a) / lightOf(b))) / MOST_STOPS;
  const [of, other] = [sharesOf(a.flux), sharesOf(b.flux)];
  const colour = Math.hypot(...of.map((share, c) => share - other[c]!)) / FARTHEST_COLOUR;
  return Math.max(place, stops, colour) <= 1 ? place ** 2 + stops ** 2 + colour ** 2 : undefined;
}

const lightOf = ({ flux }: ResolvedLight): number => Math.max(1e-12, luminance(...flux));

function sharesOf([r, g, b]: Triple): Triple {
  const sum = Math.max(1e-12, r + g + b);
  return [r / sum, g / sum, b / sum];
}

/** A followed light in the frame in the middle; undefined if it does not shine in any. */
function meanLight(sightings: readonly Sighting[], reach: number): ResolvedLight | undefined {
  const frames = 2 * reach + 1;
  const flux: Triple = [0, 0, 0];
  for (const { light } of sightings)
    light.flux.forEach((value, c) => (flux[c]! += (value * light.visibility) / frames));
  if (luminance(...flux) <= 0) return undefined;
  const nearest = sightings.reduce((near, one) =>
    Math.abs(one.slot - reach) < Math.abs(near.slot - reach) ? one : near,
  );
  return { ...nearest.light, ...placeAt(sightings, reach), flux, visibility: 1 };
}

/** Where a light is in a frame: on the line through the sightings before and after it, or the two nearest. */
function placeAt(sightings: readonly Sighting[], slot: number): { x: number; y: number } {
  const last = sightings.length - 1;
  const after = sightings.findIndex((one) => one.slot >= slot);
  const second = Math.max(1, after < 0 ? last : after);
  const [a, b] = [sightings[Math.min(second, last) - 1] ?? sightings[0]!, sightings[Math.min(second, last)]!];
  if (a.slot === b.slot) return { x: a.light.x, y: a.light.y };
  const share = (slot - a.slot) / (b.slot - a.slot);
  return {
    x: a.light.x + share * (b.light.x - a.light.x),
    y: a.light.y + share * (b.light.y - a.light.y),
  };
}
