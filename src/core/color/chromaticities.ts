import type { Triple } from './primaries';

/** CIE 1931 xy of the three primaries and the white. */
export interface Chromaticities {
  red: readonly [number, number];
  green: readonly [number, number];
  blue: readonly [number, number];
  white: readonly [number, number];
}

/** ITU-R BT.709-6, table 1; D65. What a file without the attribute is in, and what the bench works in. */
export const REC709_CHROMATICITIES: Chromaticities = {
  red: [0.64, 0.33],
  green: [0.3, 0.6],
  blue: [0.15, 0.06],
  white: [0.3127, 0.329],
};

/** ACES AP0 and AP1, the white of both near D60 (SMPTE ST 2065-1:2012; AMPAS S-2014-004). */
export const ACES_AP0: Chromaticities = {
  red: [0.7347, 0.2653],
  green: [0, 1],
  blue: [0.0001, -0.077],
  white: [0.32168, 0.33767],
};
export const ACES_AP1: Chromaticities = {
  red: [0.713, 0.293],
  green: [0.165, 0.83],
  blue: [0.128, 0.044],
  white: [0.32168, 0.33767],
};

/** Display P3: the primaries of SMPTE RP 431-2 with a white of D65 (SMPTE EG 432-1). */
export const DISPLAY_P3: Chromaticities = {
  red: [0.68, 0.32],
  green: [0.265, 0.69],
  blue: [0.15, 0.06],
  white: [0.3127, 0.329],
};

/** ITU-R BT.2020-2, table 3; D65. */
export const REC2020: Chromaticities = {
  red: [0.708, 0.292],
  green: [0.17, 0.797],
  blue: [0.131, 0.046],
  white: [0.3127, 0.329],
};

/** Three rows of three. */
export type Matrix = readonly [Triple, Triple, Triple];

/** Whether primaries span colours: they need not be colours themselves (the blue of ACES AP0 has a negative y). */
export function areUsable(primaries: Chromaticities): boolean {
  const { red, green, blue, white } = primaries;
  const finite = [red, green, blue, white].every(([x, y]) => Number.isFinite(x) && Number.isFinite(y));
  if (!finite || white[1] <= 0) return false;
  const matrix = primaryColumns(primaries);
  if (!(Math.abs(determinant(matrix)) > 1e-6)) return false;
  // A white that a primary has no part in leaves that primary no light.
  return apply(inverse(matrix), toXyz(white)).every((share) => Math.abs(share) > 1e-6);
}

/** XYZ of a chromaticity at a luminance of 1. */
const toXyz = ([x, y]: readonly [number, number]): Triple => [x / y, 1, (1 - x - y) / y];

function primaryColumns({ red, green, blue }: Chromaticities): Matrix {
  const [r, g, b] = [red, green, blue].map(([x, y]): Triple => [x, y, 1 - x - y]) as [Triple, Triple, Triple];
  return [0, 1, 2].map((i): Triple => [r[i]!, g[i]!, b[i]!]) as unknown as Matrix;
}

function determinant([[a, b, c], [d, e, f], [g, h, i]]: Matrix): number {
  return a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
}

export function inverse(m: Matrix): Matrix {
  const [[a, b, c], [d, e, f], [g, h, i]] = m;
  const k = 1 / determinant(m);
  return [
    [k * (e * i - f * h), k * (c * h - b * i), k * (b * f - c * e)],
    [k * (f * g - d * i), k * (a * i - c * g), k * (c * d - a * f)],
    [k * (d * h - e * g), k * (b * g - a * h), k * (a * e - b * d)],
  ];
}

export function multiply(a: Matrix, b: Matrix): Matrix {
  return a.map((row) =>
    [0, 1, 2].map((column) => row[0] * b[0][column]! + row[1] * b[1][column]! + row[2] * b[2][column]!),
  ) as unknown as Matrix;
}

export function apply(m: Matrix, v: Triple): Triple {
  return m.map((row) => row[0] * v[0] + row[1] * v[1] + row[2] * v[2]) as Triple;
}

/** RGB of these primaries, with R = G = B = 1 the white, to XYZ (SMPTE RP 177-1993). */
export function rgbToXyz(primaries: Chromaticities): Matrix {
  const columns = primaryColumns(primaries);
  const scale = apply(inverse(columns), toXyz(primaries.white));
  return columns.map((row) => row.map((value, i) => value * scale[i]!)) as unknown as Matrix;
}

/** Share of each primary in luminance. */
export function luminanceOf(primaries: Chromaticities): Triple {
  return rgbToXyz(primaries)[1];
}

/** Cone responses of the Bradford transform (Lam 1985; ICC.1:2022, annex E). */
const BRADFORD: Matrix = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];

/** XYZ under one white, by its x and y, to XYZ of the same look under another. */
export function adaptWhite(from: readonly [number, number], to: readonly [number, number]): Matrix {
  const [source, target] = [apply(BRADFORD, toXyz(from)), apply(BRADFORD, toXyz(to))];
  const scaled = BRADFORD.map((row, i) =>
    row.map((value) => (value * target[i]!) / source[i]!),
  ) as unknown as Matrix;
  return multiply(inverse(BRADFORD), scaled);
}

/** Primaries nearer than this to Rec.709 are Rec.709, written with fewer digits. */
const SAME = 0.0015;

/** The matrix from a file's RGB to linear Rec.709 with D65 white; undefined if they are the same. */
export function toRec709(primaries: Chromaticities): Matrix | undefined {
  const names = ['red', 'green', 'blue', 'white'] as const;
  const same = names.every((name) =>
    [0, 1].every((i) => Math.abs(primaries[name][i]! - REC709_CHROMATICITIES[name][i]!) < SAME),
  );
  if (same) return undefined;
  const adapted = multiply(adaptWhite(primaries.white, REC709_CHROMATICITIES.white), rgbToXyz(primaries));
  return multiply(inverse(rgbToXyz(REC709_CHROMATICITIES)), adapted);
}

/** The matrix from linear Rec.709 with D65 white to other primaries; undefined if they are the same. */
export function fromRec709(primaries: Chromaticities): Matrix | undefined {
  const matrix = toRec709(primaries);
  return matrix && inverse(matrix);
}
