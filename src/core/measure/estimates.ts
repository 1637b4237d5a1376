import { luminance, type Triple } from '../color/primaries';
import { tintGains } from '../color/temperature';
import type { Fitted } from './fit';
import {
  INTERVAL,
  SPIKE_SIZE,
  type Estimate,
  type Estimator,
  type LightFit,
  type PupilModels,
} from './light-fit';
import { medianAndSpread, NO_GAINS, type LightSource, type MeasuredPicture, type PolarLight } from './polar';
import { channelMedians, type Ring } from './samples';
import { rotationOf, type SpikeCount } from './spikes';

/** Settings as they are measured, in their own units; null is what there is too little evidence of. */
export interface LightEstimates {
  bloom: Record<'falloff' | 'radius' | 'amount', Estimate | null>;
  spikes: Record<'count' | 'blades' | 'rotation' | 'size' | 'amount', Estimate | null>;
  halo: Record<'radius' | 'width' | 'amount', Estimate | null>;
  /** Kelvin, as the tint of a glow of a white lamp. */
  tint: Estimate | null;
  /** What light each spreads in all, in luminance times square pixels. */
  spread: Record<'bloom' | 'spikes' | 'halo', Estimate | null>;
}

export const NOTHING: LightEstimates = {
  bloom: { falloff: null, radius: null, amount: null },
  spikes: { count: null, blades: null, rotation: null, size: null, amount: null },
  halo: { radius: null, width: null, amount: null },
  tint: null,
  spread: { bloom: null, spikes: null, halo: null },
};

/** Tells how much of a lamp's light each glow of a fit spreads, from the first on. */
export function amountsOf(
  picture: MeasuredPicture,
  source: LightSource,
  { glows, inner }: { glows: LightFit['model']['glows']; inner: number },
): (fit: Fitted, glow: number) => number {
  const own = lightWithin(picture, source, inner);
  return ({ parameters, amounts }, glow) => {
    const beyond = glows(parameters).reduce(
      (sum, { within }, k) => sum + amounts[k]! * (1 - within(inner)),
      0,
    );
    const all = own - amounts.at(-1)! * Math.PI * inner ** 2 + beyond;
    return amounts[glow]! / Math.max(1e-12, all);
  };
}

/** The same with the amounts by which a lamp of so much light, in luminance times square pixels, would spread as much. */
export function ofLamp<Measured extends LightEstimates & { notes: string[] }>(
  measured: Measured,
  lamp: number,
): Measured {
  const { bloom, spikes, halo, spread, notes } = measured;
  const isEnough = Object.values(spread).every((light) => light === null || light.value < lamp);
  const amount = (light: Estimate | null): Estimate | null =>
    light && isEnough ? { value: light.value / lamp, low: light.low / lamp, high: light.high / lamp } : null;
  return {
    ...measured,
    bloom: { ...bloom, amount: amount(spread.bloom) },
    spikes: { ...spikes, amount: amount(spread.spikes) },
    halo: { ...halo, amount: amount(spread.halo) },
    notes: isEnough
      ? notes
      : [...notes, 'the lamp of the picture gives less light than this one scatters: choose a stronger one'],
  };
}

/** The size of spikes. Of a lamp that is cut off their own core is hidden, on which it depends. */
export function sizeOf(estimate: Estimator, source: LightSource, { spikeUnit }: PupilModels): Estimate {
  const size = estimate(({ parameters }) => Math.exp(parameters[SPIKE_SIZE]!) / spikeUnit);
  return source.isClipped && size.value * spikeUnit < source.radius ? { ...size, low: 0 } : size;
}

/** The luminance of all pixels whose middle lies within a distance of a source. */
export function lightWithin(
  { rgb, width, height, gains = NO_GAINS }: MeasuredPicture,
  { x, y }: LightSource,
  radius: number,
): number {
  const sums: Triple = [0, 0, 0];
  for (let row = Math.max(0, Math.floor(y - radius)); row < Math.min(height, y + radius); row++)
    for (let column = Math.max(0, Math.floor(x - radius)); column < Math.min(width, x + radius); column++) {
      if (Math.hypot(column + 0.5 - x, row + 0.5 - y) > radius) continue;
      for (const c of [0, 1, 2] as const) sums[c] += gains[c] * rgb[c][row * width + column]!;
    }
  return luminance(...sums);
}

export function spikeEstimates(
  blades: readonly number[],
  { count, angle, deviation }: SpikeCount,
  size: Estimate,
): Omit<LightEstimates['spikes'], 'amount'> {
  const half = Math.max(0.5, (INTERVAL * deviation * 180) / Math.PI);
  const rotation = rotationOf(blades[0]!, angle);
  return {
    count: { value: count, low: count, high: count },
    blades: { value: blades[0]!, low: Math.min(...blades), high: Math.max(...blades) },
    rotation: { value: rotation, low: rotation - half, high: rotation + half },
    size: size.high < 3 * size.low ? size : null,
  };
}

/** The temperature whose tint has the glow's ratio of red to blue, over what lies behind it. */
export function tintOf(polar: PolarLight, rings: readonly Ring[]): Estimate | null {
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
