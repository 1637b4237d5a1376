import type { Triple } from '../../color/primaries';
import { bilinearSampler } from '../../image/bilinear';
import type { Rectangle } from '../../image/rectangle';
import { blackRgb, type Rgb } from '../../image/rgb';
import type { Look } from '../../look/look';
import { lightPixel, tintOf } from './light-place';
import type { ResolvedLight } from '../../light/resolved-light';
import { distanceOf, openPlane, type Scene } from './occlusion';

/** Pixels of the frame's width that shadows are followed on, at most. */
const SHADOW_WIDTH = 960;
/** Distance of rays and of steps along them, in those pixels. */
const STEP = 1.25;
const MOST_ANGLES = 6000;
/** Least radius of a light that shafts start from, share of the picture height. */
const LEAST_RADIUS = 0.003;
/** How fast a shadow closes at a decay of 1: so many times in a length. */
const CLOSING = 8;

/** Brightness of an unhindered shaft by the distance from its light: `exp(-r / length) / r`, all of it together 1. */
export function shaftProfile(length: number, radius: number): (distance: number) => number {
  const density = (r: number): number => Math.exp(-r / length) / Math.sqrt(r * r + radius * radius);
  const all = discIntegral(density, length, radius);
  return (r) => density(r) / all;
}

/** A function of the distance, read between its values at steps of half a pixel. */
function tabulated(values: (distance: number) => number, most: number): (distance: number) => number {
  const table = Float64Array.from({ length: Math.ceil(2 * most) + 2 }, (_, k) => values(k / 2));
  return (r) => {
    const at = 2 * r;
    const below = Math.floor(at);
    return table[below]! + (at - below) * (table[below + 1]! - table[below]!);
  };
}

/** Integral over the plane of a density that falls off about over `length` and is smooth over `radius`, by logarithmic steps. */
export function discIntegral(density: (r: number) => number, length: number, radius: number): number {
  const [first, last] = [Math.log(radius * 1e-3), Math.log(length * 30)];
  const steps = 600;
  const step = (last - first) / steps;
  let sum = 0;
  for (let k = 0; k < steps; k++) {
    const r = Math.exp(first + (k + 0.5) * step);
    sum += density(r) * 2 * Math.PI * r * r * step;
  }
  return sum;
}

/** Shadows about a light by direction and distance: shares of its light that are cut off. */
interface Shadows {
  values: Float32Array;
  /** Directions, their first in radians and their step; distances, their first in pixels and their step. */
  angles: number;
  firstAngle: number;
  angleStep: number;
  distances: number;
  firstDistance: number;
  distanceStep: number;
}

/** Directions and distances at which a picture of a size is seen from a place in or outside it. */
function spanOf({ x, y }: { x: number; y: number }, width: number, height: number) {
  const corners = [
    [0, 0],
    [width, 0],
    [0, height],
    [width, height],
  ].map(([u, v]) => [u! - x, v! - y] as const);
  const farthest = Math.max(...corners.map(([u, v]) => Math.hypot(u, v)));
  const isInside = x >= 0 && y >= 0 && x <= width && y <= height;
  if (isInside) return { from: -Math.PI, to: Math.PI, nearest: 0, farthest };
  const nearest = Math.hypot(Math.max(0, -x, x - width), Math.max(0, -y, y - height));
  const middle = Math.atan2(height / 2 - y, width / 2 - x);
  const turns = corners.map(([u, v]) => {
    const turn = Math.atan2(v, u) - middle;
    return Math.atan2(Math.sin(turn), Math.cos(turn));
  });
  return { from: middle + Math.min(...turns), to: middle + Math.max(...turns), nearest, farthest };
}

/**
 * Follows rays from a light outward: what stands in the way cuts the light off, and its shadow closes again with the
 * distance. `closing` is one over the pixels in which it does. (Mitchell 2007, followed from the light)
 */
function castShadows(
  open: Float32Array,
  width: number,
  height: number,
  at: { x: number; y: number },
  pixel: number,
  closing: number,
): Shadows {
  const { from, to, nearest, farthest } = spanOf(at, width, height);
  const step = STEP * pixel;
  const angles = Math.min(MOST_ANGLES, Math.max(16, Math.ceil(((to - from) * farthest) / step)));
  const angleStep = (to - from) / angles;
  const distances = Math.max(2, Math.ceil((farthest - nearest) / step) + 1);
  const values = new Float32Array(angles * distances);
  const keep = Math.exp(-closing * step);
  const sample = bilinearSampler(open, width, height);
  for (let k = 0; k < angles; k++) {
    const angle = from + (k + 0.5) * angleStep;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    let shadow = 0;
    let wasInside = false;
    for (let d = 0; d < distances; d++) {
      const r = nearest + d * step;
      const [x, y] = [at.x + r * cos, at.y + r * sin];
      const isInside = x >= 0 && y >= 0 && x < width && y < height;
      // Beyond the picture nothing is looked at any more.
      if (wasInside && !isInside) break;
      wasInside = isInside;
      const cut = isInside ? 1 - sample(x - 0.5, y - 0.5) : 0;
      shadow = Math.max(cut, shadow * keep);
      values[k * distances + d] = shadow;
    }
  }
  return {
    values,
    angles,
    firstAngle: from + angleStep / 2,
    angleStep,
    distances,
    firstDistance: nearest,
    distanceStep: step,
  };
}

/** Boxes that are blurred by in turn: their sum is smooth, and hardly different from a Gaussian. */
const BOXES = 3;

/** Blurs shadows about their light, by a standard deviation in radians. A full turn goes round. */
function softenShadows(shadows: Shadows, deviation: number): Shadows {
  const { angles, angleStep, distances } = shadows;
  // The variance of a box of an odd width is (w^2 - 1) / 12.
  const width = Math.sqrt((12 * (deviation / angleStep) ** 2) / BOXES + 1);
  const reach = Math.min(Math.floor(angles / 2), Math.round((width - 1) / 2));
  if (reach < 1) return shadows;
  const isRound = angles * angleStep > 2 * Math.PI - 1e-6;
  let { values } = shadows;
  for (let box = 0; box < BOXES; box++) values = boxBlur(values, angles, distances, reach, isRound);
  return { ...shadows, values };
}

/** The mean of each line and `reach` to either side of it, by a running sum. */
function boxBlur(
  values: Float32Array,
  angles: number,
  distances: number,
  reach: number,
  isRound: boolean,
): Float32Array {
  const line = (k: number): number =>
    (isRound ? (k + angles) % angles : Math.min(angles - 1, Math.max(0, k))) * distances;
  const sums = new Float64Array(distances);
  const out = new Float32Array(values.length);
  const share = 1 / (2 * reach + 1);
  for (let k = -reach; k <= reach; k++) {
    const at = line(k);
    for (let d = 0; d < distances; d++) sums[d]! += values[at + d]!;
  }
  for (let k = 0; k < angles; k++) {
    const [here, coming, going] = [k * distances, line(k + reach + 1), line(k - reach)];
    for (let d = 0; d < distances; d++) {
      out[here + d] = sums[d]! * share;
      sums[d]! += values[coming + d]! - values[going + d]!;
    }
  }
  return out;
}

/** What reads shadows at a place relative to the light, between directions and distances. */
function shadowReader(shadows: Shadows): (x: number, y: number, r: number) => number {
  const { values, angles, firstAngle, angleStep, distances, firstDistance, distanceStep } = shadows;
  const isRound = angles * angleStep > 2 * Math.PI - 1e-6;
  const turn = (2 * Math.PI) / angleStep;
  return (x, y, r) => {
    let u = (Math.atan2(y, x) - firstAngle) / angleStep;
    if (!isRound && u < -turn / 4) u += turn;
    if (!isRound && u > angles + turn / 4) u -= turn;
    const left = Math.floor(u);
    const v = Math.min(distances - 1.001, Math.max(0, (r - firstDistance) / distanceStep));
    const below = Math.floor(v);
    const place = (k: number): number =>
      (isRound ? (k + angles) % angles : Math.min(angles - 1, Math.max(0, k))) * distances + below;
    const [a, b] = [place(left), place(left + 1)];
    const near = values[a]! + (u - left) * (values[b]! - values[a]!);
    const far = values[a + 1]! + (u - left) * (values[b + 1]! - values[a + 1]!);
    return near + (v - below) * (far - near);
  };
}

/** Shafts of all lights: they fan out from each, fade with the distance, and are cut by what is in front of it. */
export function shaftLight(
  look: Look,
  lights: readonly ResolvedLight[],
  scene: Scene,
  frame: Rectangle,
  scale: number,
): Rgb {
  const { width, height } = scene;
  const out = blackRgb(width * height);
  const { amount, length, decay, softness, tint, cutBy } = look.ghosts.shafts;
  const reach = length * frame.height;
  const pixel = Math.max(1, frame.width / SHADOW_WIDTH);
  for (const light of lights) {
    const strength = amount * light.flare * scale ** 2;
    if (strength <= 0) continue;
    const at = lightPixel(light, frame);
    const open = openPlane(scene, distanceOf(light, at, scene), cutBy);
    const cast = castShadows(open, width, height, at, pixel, (decay * CLOSING) / reach);
    const shadowAt = shadowReader(softenShadows(cast, (softness * Math.PI) / 180));
    const radius = Math.max(light.size / 2, LEAST_RADIUS) * frame.height;
    const profile = tabulated(shaftProfile(reach, radius), spanOf(at, width, height).farthest + 2);
    const colour = tintOf(tint).map((value, c) => value * light.flux[c]! * strength) as Triple;
    addAround(out, width, height, at, (x, y, r) => profile(r) * (1 - shadowAt(x, y, r)), colour);
  }
  return out;
}

/** Adds light about a place, by its offset and distance. */
export function addAround(
  out: Rgb,
  width: number,
  height: number,
  at: { x: number; y: number },
  light: (x: number, y: number, r: number, index: number) => number,
  [red, green, blue]: Triple,
): void {
  const [r, g, b] = out;
  for (let row = 0, i = 0; row < height; row++) {
    const y = row + 0.5 - at.y;
    for (let column = 0; column < width; column++, i++) {
      const x = column + 0.5 - at.x;
      const value = light(x, y, Math.sqrt(x * x + y * y), i);
      r[i]! += red * value;
      g[i]! += green * value;
      b[i]! += blue * value;
    }
  }
}
