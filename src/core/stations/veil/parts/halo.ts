import { radialQuadrant } from '../../../optics/radial';
import { ringProfiles } from '../../../optics/ring';
import { feedOf, type PartDefinition, type PartFactory } from './part';
import { partColour } from './part-colour';
import { evenKernel } from './pixel-kernel';

/** Rings that end within so many pixels are measured. */
const SMALL = 64;

/** Sum over the plane of what is even in x and y, by one quadrant of `side * side` values. */
function quadrantSum(quadrant: Float32Array, side: number): number {
  let sum = 0;
  for (let i = 0; i < quadrant.length; i++)
    sum += quadrant[i]! * (i % side === 0 ? 1 : 2) * (i < side ? 1 : 2);
  return sum;
}

const make: PartFactory = (look, { frame }) => {
  const { on, amount, radius, width: breadth, feed } = look.veil.halo;
  const ring = { radius: radius * frame.height, width: breadth };
  return [
    {
      name: 'veil.halo',
      on,
      amount,
      ...partColour(look.veil.halo),
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
          const quadrant = radialQuadrant(at, options);
          const side = Math.ceil(options.reach) + 2;
          if (side > SMALL) return evenKernel(quadrant, width);
          // A ring of few pixels is integrated coarsely: what it sums to is measured.
          const whole = quadrantSum(radialQuadrant(at, { ...options, width: side, height: side }), side);
          return evenKernel(
            quadrant.map((value) => value / whole),
            width,
          );
        });
      },
    },
  ];
};

/** A ring in the colours of the rainbow. */
export const halo: PartDefinition = { id: 'halo', isGlare: true, make };
