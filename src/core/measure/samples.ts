import { luminance } from '../color/primaries';
import { decodeSrgb, encodeSrgb } from '../color/srgb';
import { samplesOf, type Samples } from './fit';
import { cellsOf, medianAndSpread, NO_GAINS, type MeasuredPicture, type PolarLight } from './polar';

/** However alike they are, the cells of a ring count for so many. */
const LEAST_CELLS = 3;
/** Relative deviation of a model that is never quite the lens. */
const MODEL_ERROR = 0.01;
/** And of one by directions. */
const SPIKE_ERROR = 0.01;
/** Of eight bits, in deviations of an even spread over one step. */
const QUANTUM = 1 / Math.sqrt(12);
/** Parts of the turn of which each is left out in turn, for the intervals (jackknife; Efron 1982). */
export const PARTS = 8;
/** Directions from a spike to the middle between two that are told apart. */
const FOLDS = 12;

/** The light of one distance. */
export interface Ring {
  median: number;
  /** Of single cells, and of the median. */
  spread: number;
  deviation: number;
  /** Whether it is light alone, without what is cut off. */
  isClear: boolean;
}

/** The least light that eight bits tell apart at a level: a step of sRGB, in linear light. */
function stepAt(light: number, { clip, gains = NO_GAINS }: MeasuredPicture): number {
  if (!Number.isFinite(clip)) return 1e-7;
  const gain = luminance(...gains);
  const [encoded, half] = [encodeSrgb(light / gain), 0.5 / 255];
  return gain * (decodeSrgb(encoded + half) - decodeSrgb(Math.max(0, encoded - half)));
}

/** What each distance has of light, and how well that is known. */
export function ringsOf(polar: PolarLight, picture: MeasuredPicture): Ring[] {
  const { radii, sectors, clipped } = polar;
  return Array.from(radii, (_, ring) => {
    const cells = cellsOf(polar, polar.luminance, ring);
    const { median, spread, count } = medianAndSpread(cells);
    const noise =
      spread / Math.sqrt(Math.max(1, independentCells(cells, median, count))) +
      0.3 * QUANTUM * stepAt(Math.max(0, median), picture);
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

export function channelMedians(polar: PolarLight): Record<'red' | 'green' | 'blue', number[]> {
  const [red, green, blue] = polar.rgb.map((plane) =>
    Array.from(polar.radii, (_, ring) => medianAndSpread(cellsOf(polar, plane, ring)).median),
  ) as [number[], number[], number[]];
  return { red, green, blue };
}

/** Whether a sector counts: all do but those of one part of the turn. */
const counts = (sector: number, sectors: number, part: number | undefined): boolean =>
  part === undefined || Math.floor((sector * PARTS) / sectors) !== part;

/** Medians of the rings as samples, of all directions or without one part of them. */
export function medianSamples(polar: PolarLight, rings: readonly Ring[], part?: number): Samples {
  return samplesOf(
    rings.flatMap(({ isClear, deviation }, ring) => {
      if (!isClear) return [];
      const cells = cellsOf(polar, polar.luminance, ring);
      const { median } = medianAndSpread(cells.filter((_, k) => counts(k, polar.sectors, part)));
      return Number.isFinite(median)
        ? [{ radius: polar.radii[ring]!, angle: 0, light: median, deviation }]
        : [];
    }),
  );
}

/**
 * The light by distance and by how far a direction is from the nearest of so many like spikes, as medians over all of them: what lies
 * behind one of them, or makes it another than the rest, counts little. Of all directions, or without one part of them.
 */
export function foldedSamples(
  polar: PolarLight,
  rings: readonly Ring[],
  spikes: { count: number; angle: number },
  part?: number,
): Samples {
  const { radii, sectors } = polar;
  const half = Math.PI / spikes.count;
  const folds = Math.min(FOLDS, Math.floor(sectors / spikes.count / 2));
  const foldOf = Array.from({ length: sectors }, (_, sector) => {
    const turn = (2 * Math.PI * (sector + 0.5)) / sectors - spikes.angle;
    const phase = ((turn % (2 * half)) + 2 * half) % (2 * half);
    return Math.min(folds - 1, Math.floor((Math.min(phase, 2 * half - phase) / half) * folds));
  });
  return samplesOf(
    rings.flatMap(({ isClear, deviation }, ring) => {
      if (!isClear) return [];
      const cells: number[][] = Array.from({ length: folds }, () => []);
      for (const [sector, light] of cellsOf(polar, polar.luminance, ring).entries())
        if (counts(sector, sectors, part)) cells[foldOf[sector]!]!.push(light);
      return cells.flatMap((fold, k) => {
        const { median, spread, count } = medianAndSpread(fold);
        if (count === 0) return [];
        return [
          {
            radius: radii[ring]!,
            angle: spikes.angle + ((k + 0.5) / folds) * half,
            light: median,
            deviation: Math.hypot(deviation, spread / Math.sqrt(count), SPIKE_ERROR * median),
          },
        ];
      });
    }),
  );
}
