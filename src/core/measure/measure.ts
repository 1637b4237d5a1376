import { amountsOf, NOTHING, sizeOf, spikeEstimates, tintOf, type LightEstimates } from './estimates';
import {
  BLOOM,
  estimatorOf,
  fitBloom,
  fitSpikes,
  gapLight,
  type BloomSight,
  type Estimate,
  type Estimator,
  type LightFit,
  type PupilModels,
} from './light-fit';
import type { Samples } from './fit';
import { findSource, polarLight, type LightSource, type MeasuredPicture, type PolarLight } from './polar';
import { channelMedians, medianSamples, ringsOf, type Ring } from './samples';
import { countSpikes, directions } from './spikes';

/** The light about a lamp by distance and by direction. */
export interface LightProfile {
  source: LightSource;
  profile: {
    /** Pixels. */
    radius: number[];
    /** Medians over all directions: luminance and channels. */
    light: number[];
    red: number[];
    green: number[];
    blue: number[];
    /** Share of the ring that is cut off at white. */
    clipped: number[];
  };
  angular: {
    /** Degrees clockwise from the right. */
    angle: number[];
    /** Deviations of the light about the median of its distance. */
    contrast: number[];
  };
}

/** What is measured of the light about a lamp. */
export interface LightMeasurement extends LightProfile, LightEstimates {
  /** Light by distance as it was fitted, in the middle between spikes; null if nothing was. */
  fitted: number[] | null;
  /** What is to be said of the fit, in words. */
  notes: string[];
}

const SECTORS = 360;
/** The light's own image, and what a lens of finite sharpness makes of its edge, is left out. */
const OWN_IMAGE = 1.35;
/** Pixels over which its edge is drawn out between pixels. */
const EDGE = 1.5;
/** A glow is there if so many rings stand over the even light by three deviations. */
const LEAST_RINGS = 8;
/** A falloff less certain than this is no evidence. */
const VAGUE = 1.35;

interface Place {
  x: number;
  y: number;
}

/** The light about the lamp nearest to a place, as a profile. Undefined if there is no light there. */
export function profileLight(picture: MeasuredPicture, at: Place, radius: number): LightProfile | undefined {
  return sightOf(picture, at, radius)?.shown;
}

/** Measures the light about the lamp nearest to a place. Undefined if there is no light there. */
export async function measureLight(
  picture: MeasuredPicture,
  at: Place,
  radius: number,
  options: PupilModels,
): Promise<LightMeasurement | undefined> {
  const sight = sightOf(picture, at, radius);
  if (!sight) return undefined;
  const { estimates, fitted, notes } = await fitLight(sight, picture, options);
  if (sight.source.isClipped)
    notes.push(
      'the lamp is cut off at white: what it gives is not known, and so no amount; its core may be hidden',
    );
  return { ...sight.shown, fitted, ...estimates, notes };
}

/** How far from a source what is measured begins, in pixels. */
export const beginOf = ({ radius }: LightSource): number => OWN_IMAGE * radius + EDGE;

/** What is seen of a lamp's light before anything is fitted. */
interface Sight {
  source: LightSource;
  polar: PolarLight;
  rings: Ring[];
  shown: LightProfile;
}

function sightOf(picture: MeasuredPicture, at: Place, radius: number): Sight | undefined {
  const source = findSource(picture, at, radius);
  if (!source) return undefined;
  const inner = beginOf(source);
  const polar = polarLight(picture, source, [inner, Math.max(radius, 2 * inner)], SECTORS);
  const contrast = directions(polar, source);
  const rings = ringsOf(polar, picture);
  const shown: LightProfile = {
    source,
    profile: {
      radius: [...polar.radii],
      light: rings.map(({ median }) => median),
      ...channelMedians(polar),
      clipped: [...polar.clipped],
    },
    angular: { angle: contrast.map((_, k) => ((k + 0.5) * 360) / contrast.length), contrast },
  };
  return { source, polar, rings, shown };
}

async function fitLight(
  { source, polar, rings, shown }: Sight,
  picture: MeasuredPicture,
  options: PupilModels,
): Promise<{ estimates: LightEstimates; fitted: number[] | null; notes: string[] }> {
  const medians = medianSamples(polar, rings);
  const { radius: distances } = medians;
  if (distances.length < LEAST_RINGS) {
    const note =
      'there is too little room about the lamp: draw a larger circle, or one farther from the edge';
    return { estimates: NOTHING, fitted: null, notes: [note] };
  }
  const sight: BloomSight = {
    disc: source.radius,
    inner: distances[0]!,
    outer: distances.at(-1)!,
    reach: Math.hypot(picture.width, picture.height),
  };
  const spikes = countSpikes(shown.angular.contrast);
  const fit = spikes
    ? await fitSpikes(polar, rings, sight, { ...options, found: spikes })
    : fitBloom(polar, rings, sight);
  const estimate = await estimatorOf(fit, options.pause);
  const amount = amountsOf(picture, source, { glows: fit.model.glows, inner: beginOf(source) });
  const amountOf = (glow: number): Estimate | null =>
    source.isClipped ? null : certain(estimate((of) => amount(of, glow)));
  const spreadOf = (glow: number): Estimate | null => certain(estimate(({ amounts }) => amounts[glow]!));
  const { bloom, notes } = bloomOf(fit, medians, { estimate, height: picture.height });
  const isBloom = bloom.falloff !== null;
  const { halo, blades, best, model } = fit;
  const glows = model.glows(best.parameters);
  const isFitted = isBloom || halo !== undefined || blades !== undefined;
  return {
    notes,
    fitted: isFitted ? Array.from(polar.radii, (radius) => gapLight(glows, best.amounts, radius)) : null,
    estimates: {
      bloom: { ...bloom, amount: isBloom ? amountOf(0) : null },
      spikes:
        spikes && blades
          ? { ...spikeEstimates(blades, spikes, sizeOf(estimate, source, options)), amount: amountOf(1) }
          : NOTHING.spikes,
      halo:
        halo === undefined
          ? NOTHING.halo
          : {
              radius: estimate(({ parameters }) => Math.exp(parameters[halo]!) / picture.height),
              width: estimate(({ parameters }) => Math.exp(parameters[halo + 1]!)),
              amount: amountOf(1),
            },
      tint: isBloom ? tintOf(polar, rings) : null,
      spread: {
        bloom: isBloom ? spreadOf(0) : null,
        spikes: blades ? spreadOf(1) : null,
        halo: halo === undefined ? null : spreadOf(1),
      },
    },
  };
}

/** A value whose interval says something; it is never below zero. */
const certain = (estimate: Estimate): Estimate | null =>
  estimate.high - estimate.low < 2 * estimate.value ? { ...estimate, low: Math.max(0, estimate.low) } : null;

/** The bloom's shape as far as there is evidence of it, and what there is not. */
function bloomOf(
  { best, model }: LightFit,
  medians: Samples,
  { estimate, height }: { estimate: Estimator; height: number },
): { bloom: Pick<LightEstimates['bloom'], 'falloff' | 'radius'>; notes: string[] } {
  const behind = best.amounts.at(-1)!;
  const standing = medians.light.filter((light, i) => light - behind > 3 * medians.deviation[i]!).length;
  const falloff = estimate(({ parameters }) => parameters[BLOOM.falloff]!, 0.02);
  // A search that stood still has found nothing.
  const hasMoved = best.parameters.some((value, k) => value !== model.initial[k]);
  const isSeen =
    hasMoved && best.amounts[0]! > 0 && standing >= LEAST_RINGS && falloff.high - falloff.low < VAGUE;
  if (!isSeen)
    return {
      bloom: { falloff: null, radius: null },
      notes: ['the glow stands too little over what lies behind it to tell its shape'],
    };
  const radius = certain(estimate(({ parameters }) => Math.exp(parameters[BLOOM.core]!) / height));
  return {
    bloom: { falloff, radius },
    notes: radius ? [] : ['the core of the glow is hidden behind the lamp'],
  };
}
