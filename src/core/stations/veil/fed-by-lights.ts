import { luminance, type Triple } from '../../color/primaries';
import { blackRgb, type Rgb } from '../../image/rgb';
import type { Light } from '../../light/light';
import { scaledFrame } from '../../light/plate';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { lightPixel } from '../ghosts/light-place';
import type { ResolvedLight } from '../../light/resolved-light';
import { lightsKey, nearbyKey, resolveLights } from '../ghosts/lights';
import type { VeilPart } from './parts';
import { withSaturation } from './saturation';
import type { PixelKernel } from './parts/pixel-kernel';

/** A light farther out than so many pictures brings nothing that could be told. */
const FARTHEST = 3;

/** Whether lights feed the veil by themselves. */
export function hasFeedingLights({ ghosts }: Look): boolean {
  return ghosts.on && ghosts.lights.some(({ on, veil }) => on && veil > 0);
}

/** What of a look the glow of its lights depends on. */
export function glowReads(look: Look, nearby: Pick<StationContext, 'nearbyLights'>): unknown {
  return hasFeedingLights(look) && [lightsKey(look), nearbyKey(look, nearby)];
}

/**
 * What parts of the veil make of lights that feed it by themselves, in or outside the frame: their kernels about each light.
 * Undefined if there are none.
 */
export async function glowOfLights(
  parts: readonly VeilPart[],
  light: Light,
  look: Look,
  context: StationContext,
): Promise<Rgb | undefined> {
  if (!hasFeedingLights(look)) return undefined;
  const lights = (await resolveLights(look, context)).filter(
    ({ flux, visibility, veil }) => luminance(...flux) * visibility * veil > 0,
  );
  if (lights.length === 0) return undefined;
  const frame = scaledFrame(context.plate, light.scale);
  const out = blackRgb(light.width * light.height);
  for (const part of parts) {
    const { gains } = part;
    const modulation = await part.modulation?.(light);
    const made = blackRgb(light.width * light.height);
    for (const one of lights) {
      const strength = part.amount * one.veil * one.visibility * light.scale ** 2;
      const colour = one.flux.map((value, c) => value * gains[c]! * strength) as Triple;
      await addKernel(made, light, part, lightPixel(one, frame), colour, context);
    }
    const coloured = await withSaturation(made, light, part.saturation, context);
    coloured.forEach((plane, c) => {
      const target = out[c]!;
      for (let i = 0; i < target.length; i++)
        target[i]! += modulation ? plane[i]! * modulation[i]! : plane[i]!;
    });
  }
  return out;
}

/** Adds a part's kernel about a place between pixels: its four neighbours share it by how near they are. */
async function addKernel(
  out: Rgb,
  { width, height }: Light,
  part: VeilPart,
  { x, y }: Pick<ResolvedLight, 'x' | 'y'>,
  colour: Triple,
  { cache }: StationContext,
): Promise<void> {
  const [left, top] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
  const [right, down] = [x - 0.5 - left, y - 0.5 - top];
  const reachX = Math.max(left + 1, width - 1 - left, 1) + 1;
  const reachY = Math.max(top + 1, height - 1 - top, 1) + 1;
  if (reachX > FARTHEST * width || reachY > FARTHEST * height) return;
  // Sizes are rounded up, so that a light that moves uses a kernel again.
  const [across, high] = [roundUp(reachX, width), roundUp(reachY, height)];
  const kernels = await cache.getOrCompute(
    `kernel ${across}x${high} ${part.name} ${part.key}`,
    () => part.kernels(across, high),
    (kernel) => kernel.reduce((sum, { bytes }) => sum + bytes, 0),
  );
  const corners = [
    [left, top, (1 - right) * (1 - down)],
    [left + 1, top, right * (1 - down)],
    [left, top + 1, (1 - right) * down],
    [left + 1, top + 1, right * down],
  ] as const;
  const line = new Float32Array(2 * across - 1);
  kernels.forEach((kernel: PixelKernel, k) => {
    for (let row = 0; row < height; row++)
      for (const [column, from, share] of corners) {
        if (share === 0) continue;
        kernel.rows(row - from, line);
        for (let c = k; c < 3; c += kernels.length) {
          const plane = out[c]!;
          const gain = share * colour[c]!;
          const offset = across - 1 - column;
          for (let i = 0; i < width; i++) plane[row * width + i]! += gain * line[offset + i]!;
        }
      }
  });
}

/** A reach in halves of a side. */
const roundUp = (reach: number, side: number): number =>
  Math.ceil((2 * reach) / side) * Math.ceil(side / 2) + 1;
