import { hexToLinear } from '../../color/hex';
import { luminance, type Triple } from '../../color/primaries';
import { brightRegions } from '../../image/bright-regions';
import type { Rectangle } from '../../image/rectangle';
import { smoothStep } from '../../image/smooth-step';
import type { Light } from '../../light/light';
import type { Plate } from '../../light/plate';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { hasDepth } from '../focus/depth';
import { depthReading, distancePlane } from '../focus/run';
import { maskKey, plateLight } from '../plate/run';
import { passedByDepth, passedByPicture } from './passing';

type LightSettings = Look['ghosts']['lights'][number];

/** A light as ghosts, shafts and veil take it. */
export interface ResolvedLight {
  name: string;
  /** Its place in the look's list, or among those found. */
  index: number;
  isFound: boolean;
  /** On the frame, as shares of width and height from the top left. */
  x: number;
  y: number;
  /** Light in full-size pixels of value 1, per channel: colour, gain, group and cone in it, visibility not. */
  flux: Triple;
  /** Diameter, share of the picture height. */
  size: number;
  /** Along the axis in metres; undefined if it is not known. */
  distance: number | undefined;
  /** Share of its disc that nothing covers, 0 to 1. */
  visibility: number;
  /** Multiply what ghosts, shafts and air, and the veil, take of it. */
  flare: number;
  veil: number;
}

/** A colour whose luminance is 1: tints change colour, not brightness. */
export function tintOf(hex: string): Triple {
  const linear = hexToLinear(hex);
  const bright = luminance(...linear);
  return bright > 0 ? (linear.map((value) => value / bright) as Triple) : [1, 1, 1];
}

const times = (a: Triple, b: Triple, gain = 1): Triple => [
  a[0] * b[0] * gain,
  a[1] * b[1] * gain,
  a[2] * b[2] * gain,
];

/** Part of a cone's half angle over which its edge fades. */
const CONE_EDGE = 0.2;

/** Share of a directed light that goes toward the camera. */
export function coneShare({ cone, turn, tilt }: Pick<LightSettings, 'cone' | 'turn' | 'tilt'>): number {
  if (cone >= 360) return 1;
  const radians = (angle: number): number => (angle * Math.PI) / 180;
  const away = (Math.acos(Math.cos(radians(turn)) * Math.cos(radians(tilt))) * 180) / Math.PI;
  const half = cone / 2;
  return 1 - smoothStep((away - (1 - CONE_EDGE) * half) / (CONE_EDGE * half));
}

/**
 * Where the camera sees a point in space, as shares of the frame; undefined behind the camera. Pinhole: `f x / -z`.
 * `aspect` is the frame's width over its height.
 */
export function projectPoint(
  { px, py, pz }: Pick<LightSettings, 'px' | 'py' | 'pz'>,
  { focalLength, sensorWidth }: Look['camera'],
  aspect: number,
): { x: number; y: number } | undefined {
  if (pz >= 0) return undefined;
  const across = (focalLength * px) / -pz / sensorWidth;
  const up = ((focalLength * py) / -pz / sensorWidth) * aspect;
  return { x: 0.5 + across, y: 0.5 - up };
}

/** Tangents of the field angle of a place on the frame: to the right, and down. */
export function fieldTangents(
  { x, y }: { x: number; y: number },
  { focalLength, sensorWidth }: Look['camera'],
  aspect: number,
): { x: number; y: number } {
  return {
    x: ((x - 0.5) * sensorWidth) / focalLength,
    y: ((y - 0.5) * sensorWidth) / aspect / focalLength,
  };
}

/** A light of the list without what the picture says of it; undefined if it does not shine. */
export function listedLight(look: Look, index: number, aspect: number): ResolvedLight | undefined {
  const light = look.ghosts.lights[index]!;
  const group = light.group ? look.ghosts.groups[light.group] : undefined;
  if (!light.on || group?.on === false) return undefined;
  const place = light.space ? projectPoint(light, look.camera, aspect) : { x: light.x, y: light.y };
  const gain = light.gain * coneShare(light) * (group?.gain ?? 1);
  if (!place || gain <= 0) return undefined;
  const colour = times(tintOf(light.tint), group ? tintOf(group.tint) : [1, 1, 1], gain);
  return {
    name: light.name || `Light ${index + 1}`,
    index,
    isFound: false,
    ...place,
    flux: colour,
    size: light.size,
    distance: light.space ? -light.pz : light.distance > 0 ? light.distance : undefined,
    visibility: 1,
    flare: light.flare,
    veil: light.veil,
  };
}

/** What lights need of the bench. */
export type LightContext = Pick<StationContext, 'plate' | 'wholePlate' | 'cache' | 'backdrop'>;

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
    looksAtPicture && [look.plate, maskKey(look, look.plate.mask)],
  ];
}

/** All lights of a look that shine, as the picture and its depth let them: those of the list, then those found. */
export async function resolveLights(look: Look, context: LightContext): Promise<ResolvedLight[]> {
  const plate = context.wholePlate ?? context.plate;
  const { frame } = plate;
  const whole = { ...context, plate };
  const { lights, find } = look.ghosts;
  const aspect = frame.width / frame.height;
  const resolved = lights.flatMap((_, index) => listedLight(look, index, aspect) ?? []);
  const looksAtPicture = find.on || resolved.some(({ index }) => lights[index]!.coveredBy === 'picture');
  const picture = looksAtPicture ? (await plateLight(whole, look, 1)).light : undefined;
  const depth = hasDepth(plate, look) ? await distancePlane(look, 1, whole) : undefined;
  const seen = resolved.map((light) => ({
    ...light,
    visibility: visibilityOf(light, lights[light.index]!.coveredBy, look, plate, picture, depth),
  }));
  return [...seen, ...(picture && find.on ? findLights(look, plate, picture, depth) : [])];
}

/** The brightest spots of the picture as lights. One that is hardly over the threshold shines less, so that none pops up. */
function findLights(
  look: Look,
  { frame }: Plate,
  picture: Light,
  depth: Float32Array | undefined,
): ResolvedLight[] {
  const { threshold, count } = look.ghosts.find;
  return brightRegions(picture.total, picture, threshold)
    .slice(0, count)
    .map((region, index) => {
      const presence = smoothStep(region.peak / threshold - 1);
      return {
        name: `Found ${index + 1}`,
        index,
        isFound: true,
        x: (region.x - frame.x) / frame.width,
        y: (region.y - frame.y) / frame.height,
        flux: region.flux.map((value) => Math.max(0, value) * presence) as Triple,
        size: (2 * Math.sqrt(region.pixels / Math.PI)) / frame.height,
        distance: depth?.[region.brightest],
        visibility: 1,
        flare: 1,
        veil: 0,
      };
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
  depth: Float32Array | undefined,
): number {
  const radius = Math.max(light.size / 2, LEAST_DISC) * frame.height;
  const disc = { x: frame.x + light.x * frame.width, y: frame.y + light.y * frame.height, radius };
  const { distance } = light;
  if (coveredBy === 'depth' && depth && distance !== undefined) {
    return meanOverDisc(disc, { width, height }, (i) => passedByDepth(depth[i]!, distance));
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

/** Where a light lies in pixels at a scale. */
export function lightPixel(
  { x, y }: Pick<ResolvedLight, 'x' | 'y'>,
  frame: Rectangle,
): { x: number; y: number } {
  return { x: frame.x + x * frame.width, y: frame.y + y * frame.height };
}
