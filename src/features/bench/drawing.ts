import type { StationId } from '../../core/look/look';

/** The bench as an optical drawing: geometry only, in pixels of the strip. */
export const BENCH_HEIGHT = 96;
export const AXIS = 32;

/** Half height of the ray bundle at each kind of element; where there is none it runs straight on. */
const BUNDLE: Readonly<Record<StationId, number>> = { plate: 2, focus: 22, pupil: 18, veil: 15, film: 2 };

/** Half height of the ray bundle at the pupil: it narrows by half for every two stops, down to a thread. */
export function pupilHeight(fStop: number): number {
  return Math.min(BUNDLE.pupil, Math.max(1.5, BUNDLE.pupil / Math.sqrt(Math.max(1, fStop / 1.4))));
}
const RAYS = [-1, -0.66, -0.33, 0, 0.33, 0.66, 1] as const;

/** Middle of each of `count` stations along a strip of some width. */
export function stationX(index: number, count: number, width: number): number {
  return ((index + 0.5) * width) / count;
}

/** The rays that pass the stations, as SVG paths from the first element to the last. */
export function rayPaths(stations: readonly StationId[], width: number, fStop: number): string[] {
  return RAYS.map((share) =>
    stations
      .map((id, index) => {
        const x = stationX(index, stations.length, width);
        return `${index === 0 ? 'M' : 'L'}${x.toFixed(1)} ${(AXIS + share * (id === 'pupil' ? pupilHeight(fStop) : BUNDLE[id])).toFixed(1)}`;
      })
      .join(' '),
  );
}

/**
 * Rays that the veil throws off its course, from the element to the strip's last one. The more light is moved the
 * more of them are drawn: one for every tenth of the way from a clean lens (0.1 %) to a quarter of all light.
 */
export function scatteredRays(from: number, to: number, moved: number): string[] {
  if (moved <= 0) return [];
  const count = Math.round(2 + 10 * Math.min(1, Math.max(0, Math.log10(moved / 0.001) / Math.log10(250))));
  return Array.from({ length: count }, (_, index) => {
    const side = index % 2 === 0 ? 1 : -1;
    const slope = (0.35 + 0.65 * ((index * 0.618034) % 1)) * side;
    const start = AXIS + side * BUNDLE.veil * ((index * 0.414214) % 1);
    const reach = Math.min(to - from, (side > 0 ? 60 - start : start - 4) / Math.abs(slope * 0.16));
    return `M${from.toFixed(1)} ${start.toFixed(1)} L${(from + reach).toFixed(1)} ${(start + slope * 0.16 * reach).toFixed(1)}`;
  });
}
