import { gaussianQuadrant } from '../../../optics/gaussian';
import { feedOf, type PartDefinition, type PartFactory } from './part';
import { evenKernel } from './pixel-kernel';

const make: PartFactory = (look, { frame }) => {
  const { on, amount, tint, radius, feed } = look.veil.diffusion;
  const deviation = radius * frame.height;
  return [
    {
      name: 'veil.diffusion',
      on,
      amount,
      tint,
      ...feedOf(look, feed),
      key: `gaussian ${deviation}`,
      kernels: (width, height) => [evenKernel(gaussianQuadrant(deviation, width, height), width)],
    },
  ];
};

/** A soft copy of the picture, mixed in. */
export const diffusion: PartDefinition = { id: 'diffusion', isGlare: false, make };
