import type { Plate } from '../../light/plate';
import { scaledFrame } from '../../light/plate';
import type { StationQuery } from '../../light/query';
import { thresholdFor } from './feed';
import { kernelProfile as profileOf, type KernelProfile } from './kernel-profile';

/** Pixels across at which what needs no detail is computed. */
const PROFILE_WIDTH = 480;

const profileScale = ({ frame }: Plate): number => Math.min(1, PROFILE_WIDTH / frame.width);

/** How the veil of a look falls off with the distance, on a plate's frame. */
const kernelProfile: StationQuery<object, KernelProfile> = (look, _input, context) => {
  const plate = context.plate();
  const scale = profileScale(plate);
  const { width, height } = scaledFrame(plate, scale);
  return profileOf(look, { width: Math.round(width), height: Math.round(height) }, scale, {
    ...context,
    diffraction: context.kernels.diffraction,
  });
};

/** The threshold over which a share of a plate's pixels feeds the veil. */
const feedThreshold: StationQuery<{ share: number }, number> = async (look, { share }, context) => {
  const light = await context.lightBefore('veil', profileScale(context.plate()));
  return thresholdFor(light, look.veil.feed, share);
};

export const veilQueries = { kernelProfile, feedThreshold };
