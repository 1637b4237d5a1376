import { gaussianQuadrant } from '../../../optics/gaussian';
import { feedOf, type PartKind } from './part';
import { evenKernel } from './pixel-kernel';

/** A soft copy of the picture, mixed in. */
export const diffusion: PartKind = (look, { frame }) => {
  const { on, amount, tint, radius, feed } = look.veil.diffusion;
  const deviation = radius * frame.height;
  return [
    {
      ...{ name: 'veil.diffusion', on, amount, tint, ...feedOf(look, feed) },
      key: `gaussian ${deviation}`,
      kernels: (width, height) => [evenKernel(gaussianQuadrant(deviation, width, height), width)],
    },
  ];
};
