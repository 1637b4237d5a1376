import { brightRegions } from '../../image/bright-regions';
import type { Size } from '../../image/rectangle';
import type { FedLight } from './feed';

/** What feeds: lamps, many glints, one large bright thing, several bright areas, or a scene that is merely lit. */
export type FeedKind = 'lamps' | 'glints' | 'subject' | 'areas' | 'scene';

/** What is known of a feed besides how much of the picture it is. */
export interface FeedFacts {
  kind: FeedKind;
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
/** A source with this share of what feeds is the subject. */
const MAIN_SHARE = 0.5;
/** Sources are glints from so many on, of which the mean takes up no more of the picture than this. */
const [MANY_SOURCES, GLINT_SIZE] = [30, 0.001];

/** Counts what feeds at the size at which it was computed, and tells what it is. */
export function feedFacts({ rgb, pixels, light }: FedLight, size: Size): FeedFacts {
  const regions = brightRegions(rgb, size, 0);
  const fluxOf = ({ flux: [r, g, b] }: (typeof regions)[number]): number => r + g + b;
  const all = regions.reduce((sum, region) => sum + fluxOf(region), 0);
  const lone = regions.filter((region) => region.pixels <= LONE_PIXELS);
  const count = size.width * size.height;
  const [first] = regions;
  return {
    kind: kindOf(pixels, light, regions, count),
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

function kindOf(
  pixels: number,
  light: number,
  regions: readonly { pixels: number }[],
  count: number,
): FeedKind {
  if (pixels <= MANY_PIXELS) return 'lamps';
  const contrast = light / pixels / Math.max(1e-9, (1 - light) / Math.max(1e-9, 1 - pixels));
  if (contrast < STANDS_OUT) return 'scene';
  const fed = regions.reduce((sum, region) => sum + region.pixels, 0);
  const largest = Math.max(...regions.map((region) => region.pixels));
  if (largest >= MAIN_SHARE * fed) return 'subject';
  return regions.length >= MANY_SOURCES && fed / regions.length <= GLINT_SIZE * count ? 'glints' : 'areas';
}
