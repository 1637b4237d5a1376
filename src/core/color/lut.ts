import type { Triple } from './primaries';

/** A look-up table: one of one dimension for each channel, one of three, or the one before the other. */
export interface CubeLut {
  /** What the first entry and the last stand for, of each channel. */
  domainMin: Triple;
  domainMax: Triple;
  /** Values by channel, `size` times red, green, blue. */
  shaper: { size: number; values: Float32Array } | undefined;
  /** Values at the corners of a grid, red running fastest: `size ** 3` times red, green, blue. */
  cube: { size: number; values: Float32Array } | undefined;
  /** What the grid stands for in the shaper's values, if there are both. */
  cubeRange: [number, number] | undefined;
}

/** Places of red, green and blue in the grid, from 0 to its last point. */
type Place = Triple;

const within = (value: number, last: number): number => (value > 0 ? (value < last ? value : last) : 0);

/** A table as a function that writes what three values become into `out`. Beyond the domain the ends go on. */
export function lutReader({
  domainMin,
  domainMax,
  shaper,
  cube,
  cubeRange,
}: CubeLut): (r: number, g: number, b: number, out: Triple) => void {
  const place: Place = [0, 0, 0];
  const shaped: Triple = [0, 0, 0];
  return (r, g, b, out) => {
    shaped[0] = (r - domainMin[0]) / (domainMax[0] - domainMin[0]);
    shaped[1] = (g - domainMin[1]) / (domainMax[1] - domainMin[1]);
    shaped[2] = (b - domainMin[2]) / (domainMax[2] - domainMin[2]);
    if (shaper)
      for (let c = 0; c < 3; c++) {
        const at = within(shaped[c]! * (shaper.size - 1), shaper.size - 1);
        const below = Math.min(shaper.size - 2, Math.floor(at));
        const low = shaper.values[3 * below + c]!;
        shaped[c] = low + (at - below) * (shaper.values[3 * below + 3 + c]! - low);
      }
    if (!cube) {
      out[0] = shaped[0];
      out[1] = shaped[1];
      out[2] = shaped[2];
      return;
    }
    const [low, high] = cubeRange ?? [0, 1];
    const last = cube.size - 1;
    for (let c = 0; c < 3; c++) place[c] = within(((shaped[c]! - low) / (high - low)) * last, last);
    readTetrahedron(cube, place, out);
  };
}

/**
 * Reads a grid between its points: of the six tetrahedra that a cell falls into by the order of the three fractions, the one
 * that the place lies in (Kasson, Plouffe & Nin 1993).
 */
function readTetrahedron(
  { size, values }: { size: number; values: Float32Array },
  place: Place,
  out: Triple,
): void {
  const steps: Triple = [3, 3 * size, 3 * size * size];
  const cell = place.map((at) => Math.min(size - 2, Math.floor(at))) as Triple;
  const share = place.map((at, c) => at - cell[c]!) as Triple;
  let at = cell[0] * steps[0] + cell[1] * steps[1] + cell[2] * steps[2];
  const order =
    share[0] >= share[1]
      ? share[1] >= share[2]
        ? ORDERS[0]
        : share[0] >= share[2]
          ? ORDERS[1]
          : ORDERS[2]
      : share[2] >= share[1]
        ? ORDERS[3]
        : share[2] >= share[0]
          ? ORDERS[4]
          : ORDERS[5];
  let weight = 1 - share[order[0]]!;
  out[0] = weight * values[at]!;
  out[1] = weight * values[at + 1]!;
  out[2] = weight * values[at + 2]!;
  for (let k = 0; k < 3; k++) {
    at += steps[order[k as 0]]!;
    weight = share[order[k as 0]]! - (k < 2 ? share[order[(k + 1) as 0]]! : 0);
    out[0] += weight * values[at]!;
    out[1] += weight * values[at + 1]!;
    out[2] += weight * values[at + 2]!;
  }
}

/** Channels by falling fraction. */
const ORDERS = [
  [0, 1, 2],
  [0, 2, 1],
  [2, 0, 1],
  [2, 1, 0],
  [1, 2, 0],
  [1, 0, 2],
] as const;
