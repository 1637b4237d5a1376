import { luminance, type Triple } from '../color/primaries';
import { decodeSrgb, encodeSrgb } from '../color/srgb';
import { tintGains } from '../color/temperature';
import type { LogPolarPsf } from '../optics/log-polar-psf';
import { radialIntegral } from '../optics/power-law';
import { fitGlows, fitShapes, samplesOf, type FitModel, type Fitted, type Samples } from './fit';
import { aroundDisc, haloRing, powerLaw, pupilGlow, type Glow } from './models';
import {
  cellsOf,
  findSource,
  medianAndSpread,
  polarLight,
  type LightSource,
  type MeasuredPicture,
  type PolarLight,
} from './polar';
import { bladesOf, countSpikes, directions, rotationOf, type SpikeCount } from './spikes';

/** A value with the interval that it is likely to lie in. */
export interface Estimate {
  value: number;
  low: number;
  high: number;
}

/** What is measured of the light about a lamp. Null is what there is too little evidence of. Settings are in their own units. */
export interface LightMeasurement {
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
    /** What was fitted, in the middle between spikes; null if nothing was. */
    fitted: number[] | null;
  };
  angular: {
    /** Degrees clockwise from the right. */
    angle: number[];
    /** Deviations of the light about the median of its distance. */
    contrast: number[];
  };
  bloom: { falloff: Estimate | null; radius: Estimate | null; amount: Estimate | null };
  spikes: {
    count: Estimate | null;
    blades: Estimate | null;
    rotation: Estimate | null;
    size: Estimate | null;
    amount: Estimate | null;
  };
  halo: { radius: Estimate | null; width: Estimate | null; amount: Estimate | null };
  /** Kelvin, as the tint of a glow of a white lamp. */
  tint: Estimate | null;
  /** What is to be said of the fit, in words. */
  notes: string[];
}

export interface MeasureOptions {
  /** Pixels of a wavelength times the f-number at the size 1 of spikes. */
  spikeUnit: number;
  /** The white image of a pupil of so many straight blades. */
  pupilImages: (blades: number) => Promise<readonly LogPolarPsf[]>;
}

const SECTORS = 120;
/** However alike they are, the cells of a ring count for so many. */
const LEAST_CELLS = 3;
const DIRECTIONS = 360;
/** The light's own image, and what a lens of finite sharpness makes of its edge, is left out. */
const OWN_IMAGE = 1.35;
/** Pixels over which its edge is drawn out between pixels. */
const EDGE = 1.5;
/** Relative deviation of a model that is never quite the lens. */
const MODEL_ERROR = 0.01;
/** Of eight bits, in deviations of an even spread over one step. */
const QUANTUM = 1 / Math.sqrt(12);
/** Parts of the turn of which each is left out in turn, for the intervals (jackknife; Efron 1982). */
const PARTS = 8;
/** Deviations to either side of a value. Nine of ten of a t-distribution of seven degrees of freedom lie within 1.9; what lies behind a light is seldom so well behaved. */
const INTERVAL = 3.2;
/** A glow is there if so many rings stand over the even light by three deviations. */
const LEAST_RINGS = 8;
/** Sizes of spikes from which the search may begin. */
const SIZES = Array.from({ length: 9 }, (_, k) => 2 ** (k - 1));
/** A ring is there if it leaves no more than this share of the misfit. */
const RING_MISFIT = 0.6;
/** A number of blades is told from another by a misfit so many times as small. */
const TOLD_APART = 1.5;
/** A falloff less certain than this is no evidence. */
const VAGUE = 1.5;

/** Measures the light about the lamp nearest to a place. Undefined if there is no light there. */
export async function measureLight(
  picture: MeasuredPicture,
  at: { x: number; y: number },
  radius: number,
  options: MeasureOptions,
): Promise<LightMeasurement | undefined> {
  const source = findSource(picture, at, radius);
  if (!source) return undefined;
  const inner = beginOf(source);
  const range = [inner, Math.max(radius, 2 * inner)] as const;
  const polar = polarLight(picture, source, range, SECTORS);
  const fine = polarLight(picture, source, range, DIRECTIONS);
  const contrast = directions(fine, source);
  const found = countSpikes(contrast);
  const rings = ringsOf(polar, picture);
  const { estimates, curve, notes } = await fitLight(polar, rings, { source, found, picture, options });
  if (source.isClipped)
    notes.push(
      'the lamp is cut off at white: what it gives is not known, and so no amount; its core may be hidden',
    );
  return {
    source,
    profile: {
      radius: [...polar.radii],
      light: rings.map(({ median }) => median),
      ...channelMedians(polar),
      clipped: [...polar.clipped],
      fitted: curve,
    },
    angular: {
      angle: contrast.map((_, k) => ((k + 0.5) * 360) / contrast.length),
      contrast,
    },
    ...estimates,
    notes,
  };
}

interface Ring {
  median: number;
  /** Of single cells, and of the median. */
  spread: number;
  deviation: number;
  /** Whether it is light alone, without what is cut off. */
  isClear: boolean;
}

/** The least light that eight bits tell apart at a level: a step of sRGB, in linear light. */
function stepAt(light: number, clip: number): number {
  if (!Number.isFinite(clip)) return 1e-7;
  const [encoded, half] = [encodeSrgb(light), 0.5 / 255];
  return decodeSrgb(encoded + half) - decodeSrgb(Math.max(0, encoded - half));
}

function ringsOf(polar: PolarLight, { clip }: MeasuredPicture): Ring[] {
  const { radii, sectors, clipped } = polar;
  return Array.from(radii, (_, ring) => {
    const cells = cellsOf(polar, polar.luminance, ring);
    const { median, spread, count } = medianAndSpread(cells);
    const noise =
      spread / Math.sqrt(Math.max(1, independentCells(cells, median, count))) +
      0.3 * QUANTUM * stepAt(Math.max(0, median), clip);
    return {
      median,
      spread,
      deviation: Math.hypot(noise, MODEL_ERROR * median),
      isClear: count > sectors / 2 && clipped[ring]! < 0.02,
    };
  });
}

/** How many cells of a ring are as good as independent, by how alike neighbours are: texture spans several. (Bartlett 1946) */
function independentCells(cells: readonly number[], median: number, count: number): number {
  let [products, squares] = [0, 0];
  for (const [k, value] of cells.entries()) {
    const [a, b] = [value - median, cells[(k + 1) % cells.length]! - median];
    if (!Number.isFinite(a) || !Number.isFinite(b)) continue;
    products += a * b;
    squares += (a * a + b * b) / 2;
  }
  const alike = squares > 0 ? Math.min(0.98, Math.max(0, products / squares)) : 0;
  return Math.max(LEAST_CELLS, (count * (1 - alike)) / (1 + alike));
}

function channelMedians(polar: PolarLight): Record<'red' | 'green' | 'blue', number[]> {
  const [red, green, blue] = polar.rgb.map((plane) =>
    Array.from(polar.radii, (_, ring) => medianAndSpread(cellsOf(polar, plane, ring)).median),
  ) as [number[], number[], number[]];
  return { red, green, blue };
}

/** Which sectors count: all but those of one part of the turn. */
const without =
  (part: number | undefined) =>
  (sector: number): boolean =>
    part === undefined || Math.floor((sector * PARTS) / SECTORS) !== part;

/** Medians of the rings as samples, of all directions or without one part of them. */
function medianSamples(polar: PolarLight, rings: readonly Ring[], part?: number): Samples {
  const counts = without(part);
  return samplesOf(
    rings.flatMap(({ isClear, deviation }, ring) => {
      if (!isClear) return [];
      const { median } = medianAndSpread(cellsOf(polar, polar.luminance, ring).filter((_, k) => counts(k)));
      return Number.isFinite(median)
        ? [{ radius: polar.radii[ring]!, angle: 0, light: median, deviation }]
        : [];
    }),
  );
}

/** The cells of every other ring as samples, of all directions or without one part of them. */
function cellSamples(polar: PolarLight, rings: readonly Ring[], part?: number): Samples {
  const { radii, sectors } = polar;
  const counts = without(part);
  return samplesOf(
    rings.flatMap(({ isClear, spread, deviation, median }, ring) =>
      isClear && ring % 2 === 0
        ? cellsOf(polar, polar.luminance, ring).flatMap((light, sector) =>
            counts(sector) && Number.isFinite(light)
              ? [
                  {
                    radius: radii[ring]!,
                    angle: (2 * Math.PI * (sector + 0.5)) / sectors,
                    light,
                    // Spikes belong to the spread of their ring: a third of it is noise at most.
                    deviation: Math.hypot(deviation, 0.3 * spread, 0.03 * median),
                  },
                ]
              : [],
          )
        : [],
    ),
  );
}

/** The parameters of a fit by their places. */
const BLOOM = { falloff: 0, core: 1 } as const;
const SPIKE_SIZE = 2;

function bloomModel(disc: number, inner: number, outer: number): FitModel {
  return {
    initial: [2.4, Math.log(Math.max(1, inner))],
    least: [1.2, Math.log(0.2)],
    most: [4.5, Math.log(outer)],
    glows: ([falloff, core]) => [aroundDisc(powerLaw(Math.exp(core!), falloff!), disc)],
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
      haloRing(Math.exp(parameters[first]!), Math.exp(parameters[first + 1]!)),
    ],
  };
}

/** A bloom and the spikes of a pupil about a source that is as large as what is cut off, or smaller. */
function spikedModel(
  bloom: FitModel,
  { images, unit, turn, disc }: { images: readonly LogPolarPsf[]; unit: number; turn: number; disc: number },
): FitModel {
  return {
    initial: [...bloom.initial, Math.log(unit), 0.7],
    least: [...bloom.least, Math.log(unit / 30), 0.15],
    most: [...bloom.most, Math.log(unit * 30), 1],
    glows: ([falloff, core, size, share]) => [
      aroundDisc(powerLaw(Math.exp(core!), falloff!), share! * disc),
      aroundDisc(pupilGlow(images, Math.exp(size!), turn), share! * disc),
    ],
  };
}

type Estimates = Pick<LightMeasurement, 'bloom' | 'spikes' | 'halo' | 'tint'>;

const NOTHING: Estimates = {
  bloom: { falloff: null, radius: null, amount: null },
  spikes: { count: null, blades: null, rotation: null, size: null, amount: null },
  halo: { radius: null, width: null, amount: null },
  tint: null,
};

/** What is fitted, and to what. */
interface LightFit {
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
function fitBloom(polar: PolarLight, rings: readonly Ring[], bloom: FitModel): LightFit {
  const samples = (part?: number): Samples => medianSamples(polar, rings, part);
  const medians = samples();
  const alone = { model: bloom, best: fitGlows(medians, bloom), samples };
  const ring = leftOver(medians, bloom, alone.best);
  if (ring === undefined) return alone;
  const model = withHalo(bloom, ring, medians.radius.at(-1)!);
  const best = fitGlows(medians, model);
  const isRing = best.misfit < RING_MISFIT * alone.best.misfit && best.amounts[1]! > 0;
  return isRing ? { model, best, samples, halo: bloom.initial.length } : alone;
}

/**
 * A bloom and spikes at once: what diffraction puts between the spikes would steepen a bloom that is fitted alone, and is no
 * ring.
 */
async function fitSpikes(
  polar: PolarLight,
  rings: readonly Ring[],
  bloom: FitModel,
  { found, disc, spikeUnit, pupilImages }: MeasureOptions & { found: SpikeCount; disc: number },
): Promise<LightFit> {
  const samples = (part?: number): Samples => cellSamples(polar, rings, part);
  const cells = samples();
  const candidates = bladesOf(found.count);
  const tried: { blades: number; model: FitModel; best: Fitted }[] = [];
  for (const blades of candidates) {
    const images = await pupilImages(blades);
    const turn = (rotationOf(blades, found.angle) * Math.PI) / 180;
    const [nearest] = SIZES.map((size) => {
      const model = spikedModel(bloom, { images, unit: spikeUnit * size, turn, disc });
      return { model, misfit: fitShapes(cells, model, model.initial).misfit };
    }).sort((a, b) => a.misfit - b.misfit);
    tried.push({ blades, model: nearest!.model, best: fitGlows(cells, nearest!.model) });
  }
  // Where they cannot be told apart, the number that lenses have is taken.
  const [likeliest] = tried;
  const [first, second] = [...tried].sort((a, b) => a.best.misfit - b.best.misfit);
  const isTold = second === undefined || second.best.misfit > TOLD_APART * first!.best.misfit;
  const { blades, model, best } = isTold ? first! : likeliest!;
  return { model, best, samples, blades: isTold ? [blades] : candidates };
}

/** Gives values of a fit their intervals. */
type Estimator = (of: (fit: Fitted) => number, exact?: number) => Estimate;

function estimatorOf({ model, best, samples, halo, blades }: LightFit): Estimator {
  const final = { ...model, initial: best.parameters };
  const parts = Array.from({ length: PARTS }, (_, part) => fitGlows(samples(part), final));
  // The ring of a halo lies far out: without it the nearer distances tell less, not something else.
  const near = halo === undefined ? fitGlows(nearer(samples()), final) : best;
  const mixed = blades
    ? 1 + Math.min(5, gapShare(model.glows(best.parameters), best.amounts, samples().radius))
    : 1;
  return (of, exact = 0) => {
    const value = of(best);
    const values = parts.map(of);
    const mean = values.reduce((sum, one) => sum + one, 0) / PARTS;
    const jackknife = ((PARTS - 1) / PARTS) * values.reduce((sum, one) => sum + (one - mean) ** 2, 0);
    const half = INTERVAL * mixed * Math.sqrt(jackknife + (0.5 * (of(near) - value)) ** 2) + exact;
    return { value, low: value - half, high: value + half };
  };
}

async function fitLight(
  polar: PolarLight,
  rings: readonly Ring[],
  {
    source,
    found,
    picture,
    options,
  }: {
    source: LightSource;
    found: SpikeCount | undefined;
    picture: MeasuredPicture;
    options: MeasureOptions;
  },
): Promise<{ estimates: Estimates; curve: number[] | null; notes: string[] }> {
  const medians = medianSamples(polar, rings);
  if (medians.radius.length < LEAST_RINGS) {
    const note =
      'there is too little room about the lamp: draw a larger circle, or one farther from the edge';
    return { estimates: NOTHING, curve: null, notes: [note] };
  }
  const [inner, outer] = [medians.radius[0]!, medians.radius.at(-1)!];
  const disc = source.radius;
  const bloom = bloomModel(disc, inner, outer);
  const fit = found
    ? await fitSpikes(polar, rings, bloom, { ...options, found, disc })
    : fitBloom(polar, rings, bloom);
  const { best, model, halo, blades } = fit;
  const estimate = estimatorOf(fit);
  const inHeights = (place: number): Estimate =>
    estimate(({ parameters }) => Math.exp(parameters[place]!) / picture.height);
  const notes: string[] = [];

  const behind = best.amounts.at(-1)!;
  const standing = medians.light.filter((light, i) => light - behind > 3 * medians.deviation[i]!).length;
  const falloff = estimate(({ parameters }) => parameters[BLOOM.falloff]!, 0.02);
  // A search that stood still has found nothing.
  const hasMoved = best.parameters.some((value, k) => value !== model.initial[k]);
  const isBloom =
    hasMoved && best.amounts[0]! > 0 && standing >= LEAST_RINGS && falloff.high - falloff.low < VAGUE;
  if (!isBloom) notes.push('the glow stands too little over what lies behind it to tell its shape');
  const core = inHeights(BLOOM.core);
  const isCoreSeen = isBloom && core.high - core.low < 2 * core.value;
  if (isBloom && !isCoreSeen) notes.push('the core of the glow is hidden behind the lamp');

  const glows = model.glows(best.parameters);
  const isFitted = isBloom || halo !== undefined || blades !== undefined;
  return {
    notes,
    curve: isFitted ? Array.from(polar.radii, (radius) => gapLight(glows, best.amounts, radius)) : null,
    estimates: {
      bloom: {
        falloff: isBloom ? falloff : null,
        radius: isCoreSeen ? { ...core, low: Math.max(0, core.low) } : null,
        amount: isCoreSeen && !source.isClipped ? bloomAmount(picture, source, estimate) : null,
      },
      spikes:
        found && blades ? spikeEstimates(blades, found, sizeOf(estimate, source, options)) : NOTHING.spikes,
      halo:
        halo === undefined
          ? NOTHING.halo
          : {
              radius: inHeights(halo),
              width: estimate(({ parameters }) => Math.exp(parameters[halo + 1]!)),
              amount: null,
            },
      tint: isBloom ? tintOf(polar, rings) : null,
    },
  };
}

/** How far from a source what is measured begins, in pixels. */
const beginOf = ({ radius }: LightSource): number => OWN_IMAGE * radius + EDGE;

/** The share of a lamp's light that the bloom spreads, over the picture's diagonal. */
function bloomAmount(picture: MeasuredPicture, source: LightSource, estimate: Estimator): Estimate {
  const inner = beginOf(source);
  const own = lightWithin(picture, source, inner);
  return estimate(({ parameters, amounts }) => {
    const core = Math.exp(parameters[BLOOM.core]!);
    const spread = (radius: number): number =>
      amounts[0]! * powerLawLight(core, parameters[BLOOM.falloff]!, radius);
    const all = spread(Math.hypot(picture.width, picture.height));
    const behind = amounts.at(-1)! * Math.PI * inner ** 2;
    return all / Math.max(1e-12, own - behind - spread(inner) + all);
  });
}

/** The size of spikes. Of a lamp that is cut off their own core is hidden, on which it depends. */
function sizeOf(estimate: Estimator, source: LightSource, { spikeUnit }: MeasureOptions): Estimate {
  const size = estimate(({ parameters }) => Math.exp(parameters[SPIKE_SIZE]!) / spikeUnit);
  return source.isClipped && size.value * spikeUnit < source.radius ? { ...size, low: 0 } : size;
}

/** The light of a power law of unit height within a distance. */
const powerLawLight = (core: number, falloff: number, radius: number): number =>
  2 * Math.PI * core ** falloff * radialIntegral(core, falloff, radius);

/** The luminance of all pixels whose middle lies within a distance of a source. */
function lightWithin({ rgb, width, height }: MeasuredPicture, { x, y }: LightSource, radius: number): number {
  let sum = 0;
  for (let row = Math.max(0, Math.floor(y - radius)); row < Math.min(height, y + radius); row++)
    for (let column = Math.max(0, Math.floor(x - radius)); column < Math.min(width, x + radius); column++) {
      if (Math.hypot(column + 0.5 - x, row + 0.5 - y) > radius) continue;
      const i = row * width + column;
      sum += luminance(rgb[0][i]!, rgb[1][i]!, rgb[2][i]!);
    }
  return sum;
}

function spikeEstimates(
  blades: readonly number[],
  { count, angle, deviation }: SpikeCount,
  size: Estimate,
): Estimates['spikes'] {
  const half = Math.max(0.5, (INTERVAL * deviation * 180) / Math.PI);
  const rotation = rotationOf(blades[0]!, angle);
  return {
    count: { value: count, low: count, high: count },
    blades: { value: blades[0]!, low: Math.min(...blades), high: Math.max(...blades) },
    rotation: { value: rotation, low: rotation - half, high: rotation + half },
    size: size.high < 3 * size.low ? size : null,
    amount: null,
  };
}

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
function gapLight(glows: readonly Glow[], amounts: readonly number[], radius: number): number {
  const directions = Array.from({ length: 72 }, (_, k) => (Math.PI * k) / 72);
  const values = directions.map((angle) =>
    glows.reduce((sum, glow, k) => sum + amounts[k]! * glow(radius, angle), amounts.at(-1)!),
  );
  return medianAndSpread(values).median;
}

/** How much of the light between spikes is theirs, as a share of the bloom's: what the two are told apart by less. */
function gapShare(glows: readonly Glow[], amounts: readonly number[], radii: Float64Array): number {
  const distances = [...new Set(radii)];
  const shares = distances.map((radius) => {
    const angles = Array.from({ length: 36 }, (_, k) => (Math.PI * k) / 36);
    const { median } = medianAndSpread(angles.map((angle) => amounts[1]! * glows[1]!(radius, angle)));
    return median / Math.max(1e-12, amounts[0]! * glows[0]!(radius, 0));
  });
  return medianAndSpread(shares).median;
}

/** The temperature whose tint has the glow's ratio of red to blue, over what lies behind it. */
function tintOf(polar: PolarLight, rings: readonly Ring[]): Estimate | null {
  const { red, blue } = channelMedians(polar);
  const clear = rings.map(({ isClear }, k) => ({ isClear, k })).filter(({ isClear }) => isClear);
  const far = clear.slice(-Math.max(2, Math.floor(clear.length / 5))).map(({ k }) => k);
  const behind = (plane: readonly number[]): number => medianAndSpread(far.map((k) => plane[k]!)).median;
  const [redBehind, blueBehind] = [behind(red), behind(blue)];
  const ratios = clear
    .slice(0, Math.ceil(clear.length / 2))
    .map(({ k }) => (red[k]! - redBehind) / (blue[k]! - blueBehind))
    .filter((ratio) => ratio > 0 && Number.isFinite(ratio));
  const { median, spread, count } = medianAndSpread(ratios);
  if (count < 4) return null;
  const deviation = Math.max(INTERVAL * spread, 0.02 * median);
  const kelvin = (ratio: number): number => temperatureOf(Math.max(0.05, ratio));
  const ends = [kelvin(median - deviation), kelvin(median + deviation)];
  return { value: kelvin(median), low: Math.min(...ends), high: Math.max(...ends) };
}

/** The temperature of a tint by its ratio of red to blue, found by halving. */
function temperatureOf(ratio: number): number {
  const of = (kelvin: number): number => {
    const [red, , blue]: Triple = tintGains(kelvin);
    return blue > 0 ? red / blue : Infinity;
  };
  let [low, high] = [1500, 25000];
  for (let step = 0; step < 40; step++) {
    const middle = Math.sqrt(low * high);
    if (of(middle) > ratio) low = middle;
    else high = middle;
  }
  return Math.sqrt(low * high);
}
