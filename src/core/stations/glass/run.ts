import { luminanceSum } from '../../image/luminance-sum';
import { mapRgb } from '../../image/rgb';
import { mapParts, merged, type Light } from '../../light/light';
import { scaledFrame } from '../../light/plate';
import type { StationContext, StationEffect } from '../../light/station';
import { subProgress } from '../../kernels/runtime/parallel';
import type { Look } from '../../look/look';
import { colourReads, glassColour } from './colour';
import { isVignetted, vignetteGains, vignetteReads } from './vignette';
import { glassWarp, isMoved, isWarped, placeReads, warpReach } from './warp';

/**
 * Glass: what the glasses of the lens do to the picture as a whole: each wavelength lies where lateral colour and distortion
 * bring it, and the corners are darker. All of it is linear, and done to the base and every separation alike. Axial colour
 * is done at Focus, where light is spread.
 */
export const glassEffect: StationEffect = {
  isActive: (look) => isWarped(look) || isVignetted(look),
  reads: (look) => [
    isWarped(look) && placeReads(look),
    colourReads(look),
    isVignetted(look) && vignetteReads(look),
  ],
  reach: (look, scale, { plate, cache }) =>
    isWarped(look) ? warpReach(look, scaledFrame(plate, scale), cache) : 0,
  async run(incoming, look, context) {
    let light = context.totalOnly ? merged(incoming) : incoming;
    const before = luminanceSum(light.total);
    if (isWarped(look)) light = await warpLight(light, look, context);
    if (isVignetted(look)) light = await darken(light, look, context);
    const gain = before > 0 ? luminanceSum(light.total) / before : 1;
    return { light, account: { moved: 0, lostOutsideFrame: Math.max(0, 1 - gain), gain } };
  },
};

/** Moves every part of the light as the glass does, in one resampling. */
async function warpLight(light: Light, look: Look, context: StationContext): Promise<Light> {
  const { width, height } = light;
  const { warp } = context.kernels;
  const move = await glassWarp(look, scaledFrame(context.plate, light.scale), light, context.cache);
  const parts = 1 + light.separations.length;
  const guide = light.total;
  let done = 0;
  const warped = await mapParts(light, (rgb) => {
    const share = subProgress(context, done++ / parts, done / parts);
    return warp.warp({ ...move, width, height, light: rgb, guide }, share);
  });
  if (!light.alpha || !isMoved(look)) return warped;
  return { ...warped, alpha: await moveByDistortion(light.alpha, light, look, context) };
}

/** Coverage, 0 to 1, moved as a look's distortion and shake move the d line; `light` has its size and scale. */
export async function moveByDistortion(
  plane: Float32Array,
  light: Pick<Light, 'width' | 'height' | 'scale'>,
  look: Look,
  { plate, cache, kernels, signal }: StationContext,
): Promise<Float32Array> {
  const { width, height } = light;
  const colourless = {
    ...look,
    glass: { ...look.glass, fromLens: false, drive: 'typed' as const, lateral: 0 },
  };
  const move = await glassWarp(colourless, scaledFrame(plate, light.scale), light, cache);
  const [moved] = await kernels.warp.warp(
    { ...move, width, height, light: [plane, plane, plane] },
    { signal },
  );
  return moved.map((value) => Math.min(1, Math.max(0, value)));
}

async function darken(light: Light, look: Look, { plate, cache }: StationContext): Promise<Light> {
  const frame = scaledFrame(plate, light.scale);
  const { width, height } = light;
  const key = JSON.stringify([frame, width, height, vignetteReads(look), colourReads(look)]);
  const gains = await cache.getOrCompute(
    `vignette ${key}`,
    async () => vignetteGains(look, frame, light, await glassColour(look, frame, cache)),
    (plane) => plane.byteLength,
  );
  return mapParts(light, (rgb) => mapRgb(rgb, (plane) => multiply(plane, gains)));
}

function multiply(plane: Float32Array, gains: Float32Array): Float32Array {
  const out = new Float32Array(plane.length);
  for (let i = 0; i < out.length; i++) out[i] = plane[i]! * gains[i]!;
  return out;
}
