import { gaussianQuadrant } from '../../../optics/gaussian';
import { feedOf, type PartDefinition, type PartFactory } from './part';
import { partColour } from './part-colour';
import { evenKernel } from './pixel-kernel';

const make: PartFactory = (look, { frame }) => {
  const { on, amount, radius, feed } = look.veil.diffusion;
  const deviation = radius * frame.height;
  return [
    {
      name: 'veil.diffusion',
      on,
      amount,
      ...partColour(look.veil.diffusion),
      ...feedOf(look, feed),
      key: `gaussian ${deviation}`,
      kernels: (width, height) => [evenKernel(gaussianQuadrant(deviation, width, height), width)],
    },
  ];
};

/** A soft copy of the picture, mixed in. */
export const diffusion: PartDefinition = { id: 'diffusion', isGlare: false, make };
