import { hexToLinear } from '../../color/hex';
import { luminance, type Triple } from '../../color/primaries';
import type { Rectangle } from '../../image/rectangle';
import { smoothStep } from '../../image/smooth-step';
import type { ResolvedLight } from '../../light/resolved-light';
import type { Look } from '../../look/look';

export type LightSettings = Look['ghosts']['lights'][number];

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

/** Where a light lies in pixels at a scale. */
export function lightPixel(
  { x, y }: Pick<ResolvedLight, 'x' | 'y'>,
  frame: Rectangle,
): { x: number; y: number } {
  return { x: frame.x + x * frame.width, y: frame.y + y * frame.height };
}
