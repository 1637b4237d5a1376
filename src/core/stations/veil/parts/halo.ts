import { radialQuadrant } from '../../../optics/radial';
import { ringProfiles } from '../../../optics/ring';
import { feedOf, type PartDefinition, type PartFactory } from './part';
import { evenKernel } from './pixel-kernel';

const make: PartFactory = (look, { frame }) => {
  const { on, amount, tint, radius, width: breadth, feed } = look.veil.halo;
  const ring = { radius: radius * frame.height, width: breadth };
  return [
    {
      name: 'veil.halo',
      on,
      amount,
      tint,
      ...feedOf(look, feed),
      key: JSON.stringify(ring),
      kernels(width, height) {
        const { profiles, step } = ringProfiles(ring);
        return profiles.map((profile) => {
          const last = profile.length - 1;
          const at = (square: number): number => {
            const place = Math.sqrt(square) / step;
            const below = Math.floor(place);
            if (below >= last) return 0;
            return profile[below]! + (place - below) * (profile[below + 1]! - profile[below]!);
          };
          const options = { width, height, scaleLength: step, reach: last * step };
          return evenKernel(radialQuadrant(at, options), width);
        });
      },
    },
  ];
};

/** A ring in the colours of the rainbow. */
export const halo: PartDefinition = { id: 'halo', isGlare: true, make };
