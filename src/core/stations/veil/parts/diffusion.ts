import { gaussianQuadrant } from '../../../optics/gaussian';
import { mistQuadrant } from '../../../optics/mist';
import { feedOf, type PartDefinition, type PartFactory } from './part';
import { partColour } from './part-colour';
import { evenKernel } from './pixel-kernel';

const make: PartFactory = (look, { frame }) => {
  const { on, amount, shape, radius, feed } = look.veil.diffusion;
  const deviation = radius * frame.height;
  return [
    {
      name: 'veil.diffusion',
      on,
      amount,
      ...partColour(look.veil.diffusion),
      ...feedOf(look, feed),
      key: `${shape} ${deviation}`,
      kernels: (width, height) => [
        evenKernel((shape === 'mist' ? mistQuadrant : gaussianQuadrant)(deviation, width, height), width),
      ],
    },
  ];
};

/** A soft copy of the picture, mixed in, as a filter before the lens makes it. */
export const diffusion: PartDefinition = { id: 'diffusion', isGlare: false, make };
