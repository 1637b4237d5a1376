import type { Rectangle } from '../../image/rectangle';
import type { ContentCache } from '../../light/cache';
import type { Look } from '../../look/look';
import { RATIO_STEPS, type AffineMove, type WarpInput, type WarpSample } from '../../kernels/warp';
import { distort, undistort } from '../../optics/distortion';
import { spectralNodes } from '../../optics/spectral-weights';
import { colourReads, glassColour, hasLateral, type GlassColour } from './colour';

/** Longest step between neighbouring wavelengths, pixels; most wavelengths. */
const STEP = 0.7;
const MOST_NODES = 256;
/** Lateral colour that spreads over less than this is left out, pixels. */
const UNSEEN = 0.02;
/** Places along the half diagonal at which the spread is looked for. */
const PROBES = [0.25, 0.5, 0.75, 1];

/** How light is moved: what a warp kernel needs besides the light. */
export type GlassWarp = Omit<WarpInput, 'light' | 'guide' | 'width' | 'height'>;

const isDistorted = ({ glass }: Look): boolean => glass.k1 !== 0 || glass.k2 !== 0;

/** Whether the camera shakes: its shift, roll or what it is enlarged for. */
const isShaken = ({ glass: { shake } }: Look): boolean =>
  shake.x !== 0 || shake.y !== 0 || shake.roll !== 0 || shake.enlarge !== 0;

/** Whether things are seen elsewhere than they lie on the plate, colours apart. */
export const isMoved = (look: Look): boolean => look.glass.on && (isDistorted(look) || isShaken(look));

/** What of a look tells where they are seen. */
export const placeReads = ({ glass: { k1, k2, fill, shake } }: Look): unknown => [k1, k2, fill, shake];

/** Whether a look's glass moves light. */
export const isWarped = (look: Look): boolean => look.glass.on && (isMoved(look) || hasLateral(look));

/** Where a place lies on the plate that a shaken camera sees at another: offsets from the axis, `height` that of the frame. */
export function shakeMove({ glass: { shake } }: Look, height: number): AffineMove {
  const turn = (shake.roll * Math.PI) / 180;
  const scale = 1 + shake.enlarge;
  const [cos, sin] = [Math.cos(turn) / scale, Math.sin(turn) / scale];
  const [across, down] = [shake.x * height, shake.y * height];
  return {
    xx: cos,
    xy: sin,
    yx: -sin,
    yy: cos,
    x0: -(cos * across + sin * down),
    y0: sin * across - cos * down,
  };
}

/**
 * The largest scale at which the frame's edge shows nothing from beyond it, if that is asked for: of a barrel the ratio in
 * the corner, where it draws in the most.
 */
export function frameScale({ glass }: Look): number {
  return glass.fill ? Math.min(1, distort(glass, 1)) : 1;
}

/** Where what is seen at a distance from the axis comes from, for the d line; both in half diagonals. */
export function sourceRadius(look: Look, radius: number): number {
  return undistort(look.glass, frameScale(look) * radius);
}

/** The distortion of a look as a picture of `width * height` sees it, by wavelength. `frame` is in its pixels. */
export async function glassWarp(
  look: Look,
  frame: Rectangle,
  { width, height }: { width: number; height: number },
  cache: ContentCache,
): Promise<GlassWarp> {
  const key = JSON.stringify([frame, width, height, placeReads(look), hasLateral(look) && colourReads(look)]);
  return cache.getOrCompute(
    `warp ${key}`,
    async () => makeWarp(look, frame, { width, height }, await glassColour(look, frame, cache)),
    ({ samples }) => samples.length * 4 * (RATIO_STEPS + 1),
  );
}

function makeWarp(
  look: Look,
  frame: Rectangle,
  { width, height }: { width: number; height: number },
  colour: GlassColour,
): GlassWarp {
  const half = Math.hypot(frame.width, frame.height) / 2;
  const [axisX, axisY] = [frame.x + frame.width / 2, frame.y + frame.height / 2];
  const reach = Math.hypot(Math.max(axisX, width - axisX), Math.max(axisY, height - axisY));
  const limit = Math.max(1, reach * reach);
  const lateral = hasLateral(look) ? colour.lateral : () => 0;
  const spread = (from: number, to: number): number =>
    Math.max(...PROBES.map((r) => Math.abs(lateral(to, r) - lateral(from, r)) * r)) * half;
  const whole = spread(415, 587.56) + spread(587.56, 685);
  const nodes = spectralNodes(whole < UNSEEN ? () => 0 : spread, Math.max(STEP, whole / MOST_NODES));
  const shrink = frameScale(look);
  const distances = Float64Array.from({ length: RATIO_STEPS + 1 }, (_, k) => {
    // The ratio is even in the distance: at the axis its limit will do.
    return Math.max(1e-4, Math.sqrt((limit * k) / RATIO_STEPS) / half);
  });
  const straight = distances.map((r) => undistort(look.glass, shrink * r));
  const samples = nodes.map(({ wavelength, weight }): WarpSample => ({
    weight,
    ratios: Float32Array.from(
      straight,
      (r, k) => beforeLateral(r, (at) => lateral(wavelength, at)) / distances[k]!,
    ),
  }));
  return { axisX, axisY, move: shakeMove(look, frame.height), limit, samples };
}

/** The distance that a lateral law brings to `r`: its inverse, by repeated insertion. */
function beforeLateral(r: number, lateral: (r: number) => number): number {
  let source = r;
  for (let k = 0; k < 4; k++) source = r / (1 + lateral(source));
  return source;
}

/** How far a shaken camera moves what it sees, pixels of the frame: the corners the farthest. */
function shakeReach(look: Look, { width, height }: Rectangle): number {
  const { xx, xy, yx, yy, x0, y0 } = shakeMove(look, height);
  const moved = (x: number, y: number): number =>
    Math.hypot((xx - 1) * x + xy * y + x0, yx * x + (yy - 1) * y + y0);
  const signs = [-0.6, 0.6];
  return Math.max(...signs.flatMap((u) => signs.map((v) => moved(u * width, v * height))));
}

/** How far light is moved at most, pixels of the frame. */
export async function warpReach(look: Look, frame: Rectangle, cache: ContentCache): Promise<number> {
  const half = Math.hypot(frame.width, frame.height) / 2;
  const colour = await glassColour(look, frame, cache);
  const moved = Array.from({ length: 17 }, (_, k) => {
    const r = (1.2 * k) / 16;
    const source = sourceRadius(look, r);
    const apart = hasLateral(look)
      ? Math.max(Math.abs(colour.lateral(415, source)), Math.abs(colour.lateral(685, source))) * source
      : 0;
    return Math.abs(source - r) + apart;
  });
  return Math.max(...moved) * half + shakeReach(look, frame) + 4;
}
