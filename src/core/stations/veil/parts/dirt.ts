import { imageAt } from '../../../light/image';
import { clamp } from '../../../image/clamp';
import { coverPlane } from '../../../image/cover';
import type { Rectangle, Size } from '../../../image/rectangle';
import type { GreyImage } from '../../../image/grey-image';
import { NO_IMAGE } from '../../../settings/setting';
import { powerLawQuadrant } from '../../../optics/power-law';
import { dirtMap } from './dirt-map';
import { diagonal, feedOf, type PartDefinition, type PartFactory } from './part';
import { partColour } from './part-colour';
import { evenKernel } from './pixel-kernel';

/** Fall-off of the light that lights the dirt: beyond its reach it is soon gone. */
const FALLOFF = 3;

const make: PartFactory = (look, context) => {
  const { on, amount, reach, size, seed, image, feed } = look.veil.dirt;
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
      ...partColour(look.veil.dirt),
      ...feedOf(look, feed),
      key: JSON.stringify(lit),
      kernels: (width, height) => [evenKernel(powerLawQuadrant(lit, width, height), width)],
      modulation: ({ width, height }) =>
        context.cache.getOrCompute(
          `dirt ${width}x${height} ${JSON.stringify([own?.key ?? drawn, context.frame])}`,
          () =>
            own
              ? evened((area, frame) => framedImage(own, area, frame), { width, height }, context.frame)
              : evened((area, frame) => dirtMap(drawn, area, frame), { width, height }, context.frame),
          ({ byteLength }) => byteLength,
        ),
    },
  ];
};

/**
 * Dirt on a picture of a size, its mean over the whole frame brought to 1: as much light is seen as is caught, and a part
 * of the picture has the same dirt as the whole. Dirt that is black throughout shows nothing.
 */
function evened(
  draw: (size: Size, frame: Rectangle) => Float32Array,
  size: Size,
  frame: Rectangle,
): Float32Array {
  const map = draw(size, frame);
  const alone = {
    width: Math.max(1, Math.round(frame.width)),
    height: Math.max(1, Math.round(frame.height)),
  };
  const isWhole =
    frame.x === 0 && frame.y === 0 && alone.width === size.width && alone.height === size.height;
  const whole = isWhole ? map : draw(alone, { ...frame, x: 0, y: 0 });
  let sum = 0;
  for (let i = 0; i < whole.length; i++) sum += whole[i]!;
  const gain = sum > 0 ? whole.length / sum : 0;
  return map.map((value) => value * gain);
}

/** An image laid over the frame, at the places of a picture that may be more or less of it; beyond the frame it ends as it does at its edge. */
function framedImage({ plane, width, height }: GreyImage, size: Size, frame: Rectangle): Float32Array {
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
