import type { Plate } from '../../light/plate';
import { scaledFrame } from '../../light/plate';
import type { StationQuery } from '../../light/query';
import { thresholdFor, type WishedFeed } from './feed';
import { feedOfPart, feedSelector } from './fed-light';
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

/** A wished feed of the veil, or of a part of it by a feed of its own, named by its path. */
export interface FeedWish extends WishedFeed {
  part?: string | undefined;
}

/** The threshold at which a share of a plate's pixels, or of its light, feeds, to four figures. */
const feedThreshold: StationQuery<FeedWish, number> = async (look, { part, ...wished }, context) => {
  const light = await context.lightBefore('veil', 1);
  const settings = feedOfPart(look, part);
  const path = `${part ?? 'veil'}.feed`;
  const select = await feedSelector(light, look, settings, path, context.contextOf('veil'));
  return roundedUp(thresholdFor(wished, select));
};

/** To four figures, upwards: what a threshold is just too high for does not come in by rounding. */
function roundedUp(value: number): number {
  const unit = 10 ** (Math.floor(Math.log10(value)) - 3);
  return Number((Math.ceil(value / unit) * unit).toPrecision(6));
}

export const veilQueries = { kernelProfile, feedThreshold };
