import { luminance, type Triple } from '../../color/primaries';
import { brightRegions } from '../../image/bright-regions';
import { smoothStep } from '../../image/smooth-step';
import type { Light } from '../../light/light';
import type { Plate } from '../../light/plate';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { depthReading } from '../focus/radius';
import { plateLight, plateReads } from '../plate/run';
import { listedLight, type LightSettings } from './light-place';
import type { ResolvedLight } from '../../light/resolved-light';
import { occludersAt, passedAt, type Occluders } from './occluders';
import { passedByPicture } from './passing';
import { nameOfFound, steadyLights } from './steady';

/** What lights need of the bench. */
export type LightContext = Pick<
  StationContext,
  'plate' | 'wholePlate' | 'cache' | 'backdrop' | 'kernels' | 'nearbyLights'
>;

/** What of a look its lights depend on, the plate's light apart. */
export function lightsKey(look: Look): unknown {
  const { lights, groups, find } = look.ghosts;
  const { camera } = look;
  const looksAtPicture = find.on || lights.some(({ coveredBy }) => coveredBy === 'picture');
  return [
    lights,
    groups,
    find,
    camera.focalLength,
    camera.sensorWidth,
    depthReading(look),
    looksAtPicture && plateReads(look),
  ];
}

/** Whether what shines in a frame depends on the frames near it, if there are any. */
export function readsNearbyLights({ ghosts: { on, steady, find, lights } }: Look): boolean {
  return on && steady > 0 && (find.on || lights.some((light) => light.on && canBeCovered(light)));
}

const canBeCovered = ({ coveredBy, space, distance }: LightSettings): boolean =>
  coveredBy === 'picture' || (coveredBy === 'depth' && (space || distance > 0));

type NearbyContext = Pick<StationContext, 'nearbyLights'>;

/** The lights of the frames near one, if they bear on it. */
const nearbyFor = (look: Look, { nearbyLights }: NearbyContext): NearbyContext['nearbyLights'] =>
  nearbyLights && nearbyLights.length > 0 && readsNearbyLights(look) ? nearbyLights : undefined;

/** What of the frames near one its lights depend on. */
export function nearbyKey(look: Look, context: NearbyContext): unknown {
  const nearby = nearbyFor(look, context);
  return nearby && [look.ghosts.steady, nearby];
}

/**
 * All lights of a look that shine, as the picture and its depth let them: those of the list, then those found. Where the lights of
 * frames near it are known, they are steadied.
 */
export async function resolveLights(look: Look, context: LightContext): Promise<ResolvedLight[]> {
  const sighted = await sightLights(look, context);
  const { frame } = context.wholePlate ?? context.plate;
  const nearby = nearbyFor(look, context);
  return nearby
    ? steadyLights(sighted, nearby, look.ghosts.steady, frame.width / frame.height)
    : sighted.filter(({ isFound, visibility }) => !isFound || visibility > 0);
}

/** The lights of one frame by itself; besides those that shine, others that were found, at a visibility of 0, so that both can be followed. */
export async function sightLights(look: Look, context: LightContext): Promise<ResolvedLight[]> {
  const plate = context.wholePlate ?? context.plate;
  const { frame } = plate;
  const whole = { ...context, plate };
  const { lights, find } = look.ghosts;
  const aspect = frame.width / frame.height;
  const resolved = lights.flatMap((_, index) => listedLight(look, index, aspect) ?? []);
  const looksAtPicture = find.on || resolved.some(({ index }) => lights[index]!.coveredBy === 'picture');
  const picture = looksAtPicture ? (await plateLight(whole, look, 1)).light : undefined;
  const occluders = await occludersAt(look, 1, whole);
  const seen = resolved.map((light) => ({
    ...light,
    visibility: visibilityOf(light, lights[light.index]!.coveredBy, look, plate, picture, occluders),
  }));
  return [...seen, ...(picture && find.on ? findLights(look, plate, picture, occluders) : [])];
}

/** So many times the lights that are taken are followed: one that is taken in one frame may be the next brightest in another. */
const SIGHTED = 4;

/** The brightest spots of the picture as lights. One that is hardly over the threshold shines less, so that none pops up. */
function findLights(
  look: Look,
  plate: Plate,
  picture: Light,
  occluders: Occluders | undefined,
): ResolvedLight[] {
  const { threshold, count } = look.ghosts.find;
  const { frame } = plate;
  return brightRegions(picture.total, picture, threshold)
    .slice(0, SIGHTED * count)
    .map((region, index) => {
      const presence = smoothStep(region.peak / threshold - 1);
      const light: ResolvedLight = {
        name: nameOfFound(index),
        index,
        isFound: true,
        x: (region.x - frame.x) / frame.width,
        y: (region.y - frame.y) / frame.height,
        flux: region.flux.map((value) => Math.max(0, value) * presence) as Triple,
        size: (2 * Math.sqrt(region.pixels / Math.PI)) / frame.height,
        distance: occluders?.seen[region.brightest],
        visibility: index < count ? 1 : 0,
        flare: 1,
        veil: 0,
      };
      return { ...light, uncovered: visibilityOf(light, 'depth', look, plate, picture, occluders) };
    });
}

/** The least radius of the disc that is looked at, share of the picture height: less would let a light pop. */
const LEAST_DISC = 0.004;

function visibilityOf(
  light: ResolvedLight,
  coveredBy: LightSettings['coveredBy'],
  look: Look,
  { frame, picture: { width, height } }: Plate,
  picture: Light | undefined,
  occluders: Occluders | undefined,
): number {
  const radius = Math.max(light.size / 2, LEAST_DISC) * frame.height;
  const disc = { x: frame.x + light.x * frame.width, y: frame.y + light.y * frame.height, radius };
  const { distance } = light;
  if (coveredBy === 'depth' && occluders && distance !== undefined) {
    return meanOverDisc(disc, { width, height }, (i) => passedAt(occluders, i, distance));
  }
  if (coveredBy === 'picture' && picture) {
    const { threshold } = look.ghosts.find;
    const [r, g, b] = picture.total;
    return meanOverDisc(disc, { width, height }, (i) =>
      passedByPicture(luminance(r[i]!, g[i]!, b[i]!), threshold),
    );
  }
  return 1;
}

/** The mean of a quantity over the pixels of a disc; beyond the picture it counts as 1. */
function meanOverDisc(
  { x, y, radius }: { x: number; y: number; radius: number },
  { width, height }: { width: number; height: number },
  at: (index: number) => number,
): number {
  const reach = radius + 0.5;
  // A disc far outside has no pixels to look at.
  if (x + reach < 0 || y + reach < 0 || x - reach > width || y - reach > height) return 1;
  let [sum, all] = [0, 0];
  for (let row = Math.floor(y - reach); row <= Math.ceil(y + reach); row++)
    for (let column = Math.floor(x - reach); column <= Math.ceil(x + reach); column++) {
      const weight = Math.min(1, reach - Math.hypot(column + 0.5 - x, row + 0.5 - y));
      if (weight <= 0) continue;
      all += weight;
      const isInside = column >= 0 && row >= 0 && column < width && row < height;
      sum += weight * (isInside ? at(row * width + column) : 1);
    }
  return all > 0 ? sum / all : 1;
}
