import type { Triple } from '../../color/primaries';
import type { Rectangle } from '../../image/rectangle';
import { blackRgb, type Rgb } from '../../image/rgb';
import type { Look } from '../../look/look';
import { lightPixel, tintOf } from './light-place';
import type { ResolvedLight } from '../../light/resolved-light';
import { distanceOf, type Scene } from './occlusion';
import { addAround, discIntegral } from './shafts';

const LEAST_RADIUS = 0.003;
/** A light without a distance counts as this far: its glow lies before all that is farther. */
const FAR = 1e4;

/**
 * What air sends to the eye along a line that passes a light, up to a depth: single scattering, alike in all directions, so
 * that the integral of one over the squared distance is `(atan((d - 1) / t) + atan(1 / t)) / t`. (Sun et al. 2005, A
 * practical analytic single scattering model) `t` is how far the line passes the light, and `d` the depth, both in distances of
 * the light.
 */
export function airlight(t: number, d: number): number {
  return (Math.atan((d - 1) / t) + Math.atan(1 / t)) / t;
}

/** Glow of the air about lights: in front of what lies behind it, and behind what lies before it. */
export function airLight(
  look: Look,
  lights: readonly ResolvedLight[],
  scene: Scene,
  frame: Rectangle,
  scale: number,
): Rgb {
  const { width, height, occluders } = scene;
  const out = blackRgb(width * height);
  const { amount, length, tint } = look.ghosts.air;
  const { focalLength, sensorWidth } = look.camera;
  const focal = (focalLength / sensorWidth) * frame.width;
  const reach = length * frame.height;
  for (const light of lights) {
    const strength = amount * light.flare * scale ** 2;
    if (strength <= 0) continue;
    const at = lightPixel(light, frame);
    const distance = Math.min(FAR, distanceOf(light, at, scene));
    const radius = Math.max(light.size / 2, LEAST_RADIUS) * frame.height;
    const glow = (r: number, d: number): number => {
      const t = Math.sqrt(r * r + radius * radius) / focal;
      return airlight(t, d) * Math.exp(-r / reach);
    };
    const all = discIntegral((r) => glow(r, Infinity), reach, radius);
    const colour = tintOf(tint).map((value, c) => (value * light.flux[c]! * strength) / all) as Triple;
    addAround(
      out,
      width,
      height,
      at,
      (_x, _y, r, i) => glow(r, occluders ? occluders.seen[i]! / distance : Infinity),
      colour,
    );
  }
  return out;
}
