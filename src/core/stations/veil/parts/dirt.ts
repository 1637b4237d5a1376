import { imageAt } from '../../../light/image';
import { clamp } from '../../../image/clamp';
import { coverPlane } from '../../../image/cover';
import type { Size } from '../../../image/rectangle';
import type { GreyImage } from '../../../image/grey-image';
import { NO_IMAGE } from '../../../settings/setting';
import { powerLawQuadrant } from '../../../optics/power-law';
import { dirtMap } from './dirt-map';
import { diagonal, feedOf, type PartDefinition, type PartFactory } from './part';
import { evenKernel } from './pixel-kernel';

/** Fall-off of the light that lights the dirt: beyond its reach it is soon gone. */
const FALLOFF = 3;

const make: PartFactory = (look, context) => {
  const { on, amount, tint, reach, size, seed, image, feed } = look.veil.dirt;
  const lit = {
    core: reach * context.frame.height,
    falloff: FALLOFF,
    reach: diagonal(context.size),
  };
  const drawn = { size: size * context.frame.height, seed };
  // A missing image is told only where the dirt is seen.
  const own = on && amount > 0 && image !== NO_IMAGE ? imageAt(context, image, 'veil.dirt.image') : undefined;
  return [
    {
      name: 'veil.dirt',
      on,
      amount,
      tint,
      ...feedOf(look, feed),
      key: JSON.stringify(lit),
      kernels: (width, height) => [evenKernel(powerLawQuadrant(lit, width, height), width)],
      modulation: ({ width, height }) =>
        context.cache.getOrCompute(
          `dirt ${width}x${height} ${JSON.stringify([own?.key ?? drawn, context.frame])}`,
          () =>
            own
              ? evened(framedImage(own, { width, height }, context.frame), own.plane)
              : evened(
                  dirtMap(drawn, { width, height }, context.frame),
                  dirtMap({ size: size * MEAN.height, seed }, MEAN, MEAN),
                ),
          ({ byteLength }) => byteLength,
        ),
    },
  ];
};

/** A frame on which the mean of computed dirt is taken, so that a part of the picture has the same dirt as the whole. */
const MEAN = { x: 0, y: 0, width: 240, height: 135 };

/** Brings the mean to 1: as much light is seen as is caught. An image that is black throughout shows nothing. */
function evened(map: Float32Array, whole: Float32Array): Float32Array {
  let sum = 0;
  for (let i = 0; i < whole.length; i++) sum += whole[i]!;
  const gain = sum > 0 ? whole.length / sum : 0;
  return map.map((value) => value * gain);
}

/** An image laid over the frame, at the places of a picture that may be more or less of it; beyond the frame it ends as it does at its edge. */
function framedImage(
  { plane, width, height }: GreyImage,
  size: Size,
  frame: Size & { x: number; y: number },
): Float32Array {
  const whole = {
    width: Math.max(1, Math.round(frame.width)),
    height: Math.max(1, Math.round(frame.height)),
  };
  const laid = coverPlane(plane, width, height, whole.width, whole.height);
  const out = new Float32Array(size.width * size.height);
  for (let y = 0; y < size.height; y++) {
    const row = clamp(Math.round(y - frame.y), 0, whole.height - 1) * whole.width;
    for (let x = 0; x < size.width; x++)
      out[y * size.width + x] = laid[row + clamp(Math.round(x - frame.x), 0, whole.width - 1)]!;
  }
  return out;
}

/** Dirt on the front glass: the light that lights it, spread wide, is seen where it lies. */
export const dirt: PartDefinition = { id: 'dirt', isGlare: true, make };
