import type { LogPolarPsf } from '../optics/log-polar-psf';
import { fitGlows, fitShapes, type FitModel, type Fitted, type Samples } from './fit';
import { aroundDisc, evenly, haloRing, powerLaw, pupilGlow, type Glow } from './models';
import { medianAndSpread, type PolarLight } from './polar';
import { foldedSamples, medianSamples, PARTS, type Ring } from './samples';
import { bladesOf, rotationOf, type SpikeCount } from './spikes';

/** Deviations to either side of a value. Nine of ten of a t-distribution of seven degrees of freedom lie within 1.9; what lies behind a light is seldom so well behaved. */
export const INTERVAL = 3.2;
/** Sizes of spikes from which the search may begin. */
const SIZES = Array.from({ length: 9 }, (_, k) => 2 ** (k - 1));
/** How far the search goes from each of them, before it goes to its end from the best. */
const FIRST_STEPS = 6;
/** A ring is there if it leaves no more than this share of the misfit. */
const RING_MISFIT = 0.6;
/** A number of blades is told from another by a misfit so many times as small. */
const TOLD_APART = 1.5;

/** A value with the interval that it is likely to lie in. */
export interface Estimate {
  value: number;
  low: number;
  high: number;
}

/** What a picture's spikes are fitted by. */
export interface PupilModels {
  /** Pixels of a wavelength times the f-number at the size 1 of spikes. */
  spikeUnit: number;
  /** The white image of a pupil of so many straight blades. */
  pupilImages: (blades: number) => Promise<readonly LogPolarPsf[]>;
  /** Lets others work between two fits; throws if the measuring is given up. */
  pause?: (() => Promise<void>) | undefined;
}

/** The source's disc, the distances at which a bloom is seen, and that at which it ends, in pixels. */
export interface BloomSight {
  disc: number;
  inner: number;
  outer: number;
  reach: number;
}

/** The parameters of a fit by their places. */
export const BLOOM = { falloff: 0, core: 1, share: 2 } as const;
export const SPIKE_SIZE = 3;
/** A source is as large as what is cut off, or smaller, as its glow may be cut off, too: shares of the disc that are tried. */
const [FIRST_SHARE, LEAST_SHARE] = [0.8, 0.15];

/** A bloom about a source's disc, cut off at `reach`, that is seen from one distance to another. */
export function bloomModel({ disc, inner, outer, reach }: BloomSight): FitModel {
  return {
    initial: [2.4, Math.log(Math.max(1, inner)), FIRST_SHARE],
    least: [1.2, Math.log(0.2), LEAST_SHARE],
    most: [4.5, Math.log(outer), 1],
    glows: ([falloff, core, share]) => [
      evenly(aroundDisc(powerLaw(Math.exp(core!), falloff!, reach), share! * disc)),
    ],
  };
}

/** The same with the ring of a halo. */
function withHalo(model: FitModel, radius: number, outer: number): FitModel {
  const first = model.initial.length;
  return {
    initial: [...model.initial, Math.log(radius), Math.log(0.15)],
    least: [...model.least, Math.log(radius / 1.6), Math.log(0.02)],
    most: [...model.most, Math.log(Math.min(1.6 * radius, outer)), Math.log(0.6)],
    glows: (parameters) => [
      ...model.glows(parameters),
      evenly(haloRing(Math.exp(parameters[first]!), Math.exp(parameters[first + 1]!))),
    ],
  };
}

/** The same with the spikes of a pupil. */
function withSpikes(
  model: FitModel,
  disc: number,
  { images, unit, turn }: { images: readonly LogPolarPsf[]; unit: number; turn: number },
): FitModel {
  return {
    initial: [...model.initial, Math.log(unit)],
    least: [...model.least, Math.log(unit / 30)],
    most: [...model.most, Math.log(unit * 30)],
    glows: (parameters) => [
      ...model.glows(parameters),
      aroundDisc(pupilGlow(images, Math.exp(parameters[SPIKE_SIZE]!), turn), parameters[BLOOM.share]! * disc),
    ],
  };
}

/** What is fitted, and to what. */
export interface LightFit {
  model: FitModel;
  best: Fitted;
  /** The samples, of all directions or without one part of them. */
  samples: (part?: number) => Samples;
  /** Place of the halo's radius among the parameters; undefined without one. */
  halo?: number;
  /** The numbers of blades that its spikes may be of, the likeliest first; undefined without spikes. */
  blades?: readonly number[];
}

/** A bloom, and the ring of a halo where it leaves one over. */
export function fitBloom(polar: PolarLight, rings: readonly Ring[], sight: BloomSight): LightFit {
  const bloom = bloomModel(sight);
  const samples = (part?: number): Samples => medianSamples(polar, rings, part);
  const medians = samples();
  const alone = { model: bloom, best: fitGlows(medians, bloom), samples };
  const ring = leftOver(medians, bloom, alone.best);
  if (ring === undefined) return alone;
  const model = withHalo(bloom, ring, sight.outer);
  const best = fitGlows(medians, model);
  const isRing = best.misfit < RING_MISFIT * alone.best.misfit && best.amounts[1]! > 0;
  return isRing ? { model, best, samples, halo: bloom.initial.length } : alone;
}

/**
 * A bloom and spikes at once: what diffraction puts between the spikes would steepen a bloom that is fitted alone, and is no
 * ring.
 */
export async function fitSpikes(
  polar: PolarLight,
  rings: readonly Ring[],
  sight: BloomSight,
  { found, spikeUnit, pupilImages, pause }: PupilModels & { found: SpikeCount },
): Promise<LightFit> {
  const bloom = bloomModel(sight);
  const samples = (part?: number): Samples => foldedSamples(polar, rings, found, part);
  const cells = samples();
  const candidates = bladesOf(found.count);
  const tried: { blades: number; model: FitModel; best: Fitted }[] = [];
  for (const blades of candidates) {
    const images = await pupilImages(blades);
    const turn = (rotationOf(blades, found.angle) * Math.PI) / 180;
    const fits: { model: FitModel; best: Fitted }[] = [];
    for (const size of SIZES) {
      await pause?.();
      const model = withSpikes(bloom, sight.disc, { images, unit: spikeUnit * size, turn });
      fits.push({ model, best: fitGlows(cells, model, FIRST_STEPS) });
    }
    const { model, best } = fits.reduce((a, b) => (b.best.misfit < a.best.misfit ? b : a));
    tried.push({ blades, model, best: fitGlows(cells, { ...model, initial: best.parameters }) });
  }
  // Where they cannot be told apart, the number that lenses have is taken.
  const [likeliest] = tried;
  const [first, second] = [...tried].sort((a, b) => a.best.misfit - b.best.misfit);
  const isTold = second === undefined || second.best.misfit > TOLD_APART * first!.best.misfit;
  const { blades, model, best } = isTold ? first! : likeliest!;
  return { model, best, samples, blades: isTold ? [blades] : candidates };
}

/** Gives values of a fit their intervals. */
export type Estimator = (of: (fit: Fitted) => number, exact?: number) => Estimate;

export async function estimatorOf(
  { model, best, samples, halo, blades }: LightFit,
  pause: PupilModels['pause'],
): Promise<Estimator> {
  const final = { ...model, initial: best.parameters };
  const parts: Fitted[] = [];
  for (let part = 0; part < PARTS; part++) {
    await pause?.();
    parts.push(fitGlows(samples(part), final));
  }
  // The ring of a halo lies far out: without it the nearer distances tell less, not something else.
  const near = halo === undefined ? fitGlows(nearer(samples()), final) : best;
  const filled = fitGlows(samples(), filledDisc(final));
  const mixed = blades
    ? 1 + Math.min(5, gapShare(model.glows(best.parameters), best.amounts, samples().radius))
    : 1;
  return (of, exact = 0) => {
    const value = of(best);
    const values = parts.map(of);
    const mean = values.reduce((sum, one) => sum + one, 0) / PARTS;
    const apart = (other: Fitted): number => (0.5 * (of(other) - value)) ** 2;
    const jackknife = ((PARTS - 1) / PARTS) * values.reduce((sum, one) => sum + (one - mean) ** 2, 0);
    const half = INTERVAL * mixed * Math.sqrt(jackknife + apart(near) + apart(filled)) + exact;
    return { value, low: value - half, high: value + half };
  };
}

/** The same about a source that is as large as what is cut off. */
const filledDisc = (model: FitModel): FitModel => ({
  ...model,
  initial: model.initial.map((value, k) => (k === BLOOM.share ? 1 : value)),
  least: model.least.map((value, k) => (k === BLOOM.share ? 1 : value)),
});

/** The nearer three quarters of the distances, by their ratios. */
function nearer({ radius, angle, light, deviation }: Samples): Samples {
  const [inner, outer] = [Math.min(...radius), Math.max(...radius)];
  const limit = inner * (outer / inner) ** 0.75;
  const keep = (values: Float64Array): Float64Array => values.filter((_, i) => radius[i]! <= limit);
  return { radius: keep(radius), angle: keep(angle), light: keep(light), deviation: keep(deviation) };
}

/** The distance at which most is left over by a fit, if some rings beside each other are well over it. */
function leftOver(samples: Samples, model: FitModel, fit: Fitted): number | undefined {
  const { radius, light, deviation } = samples;
  const fitted = fitShapes(samples, model, fit.parameters).light;
  const residuals = Array.from(light, (value, i) => (value - fitted[i]!) / deviation[i]!);
  const smooth = residuals.map(
    (_, i) => ((residuals[i - 1] ?? 0) + residuals[i]! + (residuals[i + 1] ?? 0)) / 3,
  );
  // The ends are what a power law bends at.
  const inside = smooth.map((value, i) => (i < 3 || i > smooth.length - 3 ? -Infinity : value));
  const most = Math.max(...inside);
  return most > 3 ? radius[inside.indexOf(most)] : undefined;
}

/** Light by distance: the median over directions, which lies between the spikes. */
export function gapLight(glows: readonly Glow[], amounts: readonly number[], radius: number): number {
  const directions = Array.from({ length: 72 }, (_, k) => (Math.PI * k) / 72);
  const values = directions.map((angle) =>
    glows.reduce((sum, glow, k) => sum + amounts[k]! * glow.light(radius, angle), amounts.at(-1)!),
  );
  return medianAndSpread(values).median;
}

/** How much of the light between spikes is theirs, as a share of the bloom's: what the two are told apart by less. */
function gapShare(glows: readonly Glow[], amounts: readonly number[], radii: Float64Array): number {
  const distances = [...new Set(radii)];
  const shares = distances.map((radius) => {
    const angles = Array.from({ length: 36 }, (_, k) => (Math.PI * k) / 36);
    const { median } = medianAndSpread(angles.map((angle) => amounts[1]! * glows[1]!.light(radius, angle)));
    return median / Math.max(1e-12, amounts[0]! * glows[0]!.light(radius, 0));
  });
  return medianAndSpread(shares).median;
}
