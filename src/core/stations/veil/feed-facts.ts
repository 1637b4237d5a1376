import { luminance } from '../../color/primaries';
import { brightRegions } from '../../image/bright-regions';
import type { Size } from '../../image/rectangle';
import type { FedLight } from './feed';

/** What feeds: lamps, many glints, a large bright subject, several bright areas, or a scene that is merely lit. */
export type FeedKind = 'lamps' | 'glints' | 'subject' | 'areas' | 'scene';

/** The same in words. */
export const FEED_KINDS: Readonly<Record<FeedKind, string>> = {
  lamps: 'lamps',
  glints: 'many small glints',
  subject: 'a large bright subject',
  areas: 'several bright areas',
  scene: 'a lit scene: everything glows',
};

/** What is known of a feed besides how much of the picture it is. */
export interface FeedFacts {
  kind: FeedKind;
  /** The brightest channel of what feeds, wherever it is. */
  peak: number;
  /** Parts that touch by sides or corners count as one source. */
  sources: number;
  /** The one with the most light: the middle of it in pixels, and its shares of the picture's pixels and of the fed light. */
  largest: { x: number; y: number; pixels: number; light: number } | undefined;
  /** Sources of a pixel or two, which may be noise of the render: how many, and their share of the fed light. */
  lone: { count: number; light: number };
}

/** Share of the pixels from which on it is more than lamps (common practice). */
export const MANY_PIXELS = 0.01;
const LONE_PIXELS = 2;
/** What is this many times as bright as the rest stands out of it; walls in the light do not. */
const STANDS_OUT = 6;
/** Pixels are sources among what feeds when they are so many times as bright as most of it ... */
const FAR_BRIGHTER = 8;
/** ... and bring most of its light; then what else feeds, if it is under a diffuse white of 1, is what they light. */
const MOST_OF_LIGHT = 0.5;
/** A sky is less of the picture than this, and few pixels, as a share of its own, lie just under it. */
const [MOST_SKY, VALLEY] = [0.5, 0.2];
/** A subject is a few sources, such as the panes of a window, each with this share of the picture, that make up most of what feeds. */
const [FEW_SOURCES, LARGE_SOURCE, MOST_OF_IT] = [6, 0.01, 0.8];
/** Sources are glints from so many on, of which the mean takes up no more of the picture than this. */
const [MANY_SOURCES, GLINT_SIZE] = [30, 0.001];

/** Counts what feeds at the size at which it was computed, and tells what it is. */
export function feedFacts(feed: FedLight, size: Size): FeedFacts {
  const { rgb, pixels } = feed;
  const regions = brightRegions(rgb, size, 0);
  const fluxOf = ({ flux: [r, g, b] }: (typeof regions)[number]): number => r + g + b;
  const all = regions.reduce((sum, region) => sum + fluxOf(region), 0);
  const isOne = regions.length > 0 && fluxOf(regions[0]!) >= MOST_OF_IT * all;
  const lone = regions.filter((region) => region.pixels <= LONE_PIXELS);
  const count = size.width * size.height;
  const [first] = regions;
  return {
    kind: pixels <= MANY_PIXELS ? 'lamps' : isLitScene(feed, isOne) ? 'scene' : kindOf(regions, count),
    peak: peakOf(feed),
    sources: regions.length,
    largest: first && {
      x: first.x,
      y: first.y,
      pixels: first.pixels / count,
      light: fluxOf(first) / all,
    },
    lone: {
      count: lone.length,
      light: all > 0 ? lone.reduce((sum, region) => sum + fluxOf(region), 0) / all : 0,
    },
  };
}

function peakOf({ rgb: [r, g, b], weight }: FedLight): number {
  let peak = 0;
  weight.forEach((share, i) => {
    if (share > 0) peak = Math.max(peak, Math.max(r[i]!, g[i]!, b[i]!) / share);
  });
  return peak;
}

/** Pixels that are looked at for a median. */
const SAMPLES = 20_000;

/**
 * Whether what feeds is lit rather than bright by itself: hardly brighter than the rest, or surfaces beside far brighter lamps. Whatever
 * part of a pixel feeds, all of it is looked at. By day a sky is not many times as bright as the land, but it is one, and little
 * lies between the two.
 */
function isLitScene({ rgb: [r, g, b], weight, pixels, light, below }: FedLight, isOne: boolean): boolean {
  const step = Math.max(1, Math.floor((pixels * weight.length) / SAMPLES));
  const sampled: number[] = [];
  let [fed, whole, seen] = [0, 0, 0];
  weight.forEach((share, i) => {
    if (share === 0) return;
    const own = luminance(r[i]!, g[i]!, b[i]!);
    fed += own;
    whole += own / share;
    if (seen++ % step === 0) sampled.push(own / share);
  });
  const sorted = sampled.sort((one, other) => one - other);
  const median = sorted[sorted.length >> 1] ?? 0;
  const rest = (fed / light - whole) / (weight.length * (1 - pixels));
  const isApart = isOne && pixels < MOST_SKY && below < VALLEY * pixels;
  if (rest > 0 && median < STANDS_OUT * rest && !isApart) return true;
  const all = sorted.reduce((sum, value) => sum + value, 0);
  const brighter = sorted.reduce((sum, value) => (value > FAR_BRIGHTER * median ? sum + value : sum), 0);
  return median < 1 && brighter > MOST_OF_LIGHT * all;
}

/** What stands out of the rest and takes up more of the picture than lamps do. */
function kindOf(regions: readonly { pixels: number }[], count: number): FeedKind {
  const fed = regions.reduce((sum, region) => sum + region.pixels, 0);
  const large = regions.filter((region) => region.pixels >= LARGE_SOURCE * count);
  const inLarge = large.reduce((sum, region) => sum + region.pixels, 0);
  if (large.length <= FEW_SOURCES && inLarge >= MOST_OF_IT * fed) return 'subject';
  return regions.length >= MANY_SOURCES && fed / regions.length <= GLINT_SIZE * count ? 'glints' : 'areas';
}
