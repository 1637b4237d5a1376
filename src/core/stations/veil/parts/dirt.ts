import { coverPlane } from '../../../image/cover';
import { NO_IMAGE } from '../../../look/setting';
import { powerLawQuadrant } from '../../../optics/power-law';
import { dirtMap } from './dirt-map';
import { diagonal, feedOf, type PartKind } from './part';
import { evenKernel } from './pixel-kernel';

/** Fall-off of the light that lights the dirt: beyond its reach it is soon gone. */
const FALLOFF = 3;

/** Dirt on the front glass: the light that lights it, spread wide, is seen where it lies. */
export const dirt: PartKind = (look, context) => {
  const { on, amount, tint, reach, size, seed, image, feed } = look.veil.dirt;
  const lit = {
    core: reach * context.frame.height,
    falloff: FALLOFF,
    reach: diagonal(context.size),
  };
  const drawn = { size: size * context.frame.height, seed };
  // A missing image is told only where the dirt is seen.
  const own = on && amount > 0 && image !== NO_IMAGE ? context.image(image, 'veil.dirt.image') : undefined;
  return [
    {
      ...{ name: 'veil.dirt', on, amount, tint, ...feedOf(look, feed) },
      key: JSON.stringify(lit),
      kernels: (width, height) => [evenKernel(powerLawQuadrant(lit, width, height), width)],
      seen: ({ width, height }) =>
        context.cache.take(
          `dirt ${width}x${height} ${own ? own.key : JSON.stringify([drawn, context.frame])}`,
          () =>
            even(
              own
                ? coverPlane(own.plane, own.width, own.height, width, height)
                : dirtMap(drawn, { width, height }, context.frame),
            ),
          ({ byteLength }) => byteLength,
        ),
    },
  ];
};

/** Brings the mean to 1: as much light is seen as is caught. An image that is black throughout shows nothing. */
function even(map: Float32Array): Float32Array {
  let sum = 0;
  for (let i = 0; i < map.length; i++) sum += map[i]!;
  const gain = sum > 0 ? map.length / sum : 0;
  return map.map((value) => value * gain);
}
