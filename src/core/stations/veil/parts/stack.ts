import { gaussianQuadrant } from '../../../optics/gaussian';
import { powerLawQuadrant } from '../../../optics/power-law';
import { diagonal, feedOf, type PartDefinition, type PartFactory } from './part';
import { partColour } from './part-colour';
import { evenKernel } from './pixel-kernel';

const make: PartFactory = (look, { size, frame }) =>
  look.veil.stack.map(({ on, amount, shape, radius, falloff, threshold, feed, ...colour }, place) => {
    const core = radius * frame.height;
    const power = { core, falloff, reach: diagonal(size) };
    return {
      name: `veil.stack[${place}]`,
      on,
      amount,
      ...partColour(colour),
      feed: { ...(feed.own ? feedOf(look, { ...feed, threshold }).feed : look.veil.feed), threshold },
      ownFeed: feed.own || threshold !== look.veil.feed.threshold,
      key: shape === 'gaussian' ? `gaussian ${core}` : JSON.stringify(power),
      kernels: (width, height) => [
        evenKernel(
          shape === 'gaussian'
            ? gaussianQuadrant(core, width, height)
            : powerLawQuadrant(power, width, height),
          width,
        ),
      ],
    };
  });

/** Further layers of bloom, each with a radius and a threshold of its own over the common feed. */
export const stack: PartDefinition = { id: 'stack', isGlare: true, make };
