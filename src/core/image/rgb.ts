import type { Matrix } from '../color/chromaticities';

/** Red, green and blue planes: scene-linear, Rec.709 primaries, `width * height` floats each, top row first. */
export type Rgb = readonly [Float32Array, Float32Array, Float32Array];

/** Applies a function to each plane. */
export function mapRgb(rgb: Rgb, change: (plane: Float32Array, channel: 0 | 1 | 2) => Float32Array): Rgb {
  return [change(rgb[0], 0), change(rgb[1], 1), change(rgb[2], 2)];
}

/** The sum of two planes. */
export function addPlanes(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(a.length);
  for (let i = 0; i < out.length; i++) out[i] = a[i]! + b[i]!;
  return out;
}

/** A plane times a gain. */
export function scalePlane(plane: Float32Array, gain: number): Float32Array {
  const out = new Float32Array(plane.length);
  for (let i = 0; i < out.length; i++) out[i] = plane[i]! * gain;
  return out;
}

/** Three planes of zeros. */
export function blackRgb(count: number): Rgb {
  return [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
}

/** Three planes as red, green and blue. Throws a RangeError if there are not three. */
export function toRgb(planes: readonly Float32Array[]): Rgb {
  const [r, g, b] = planes;
  if (!r || !g || !b) throw new RangeError(`three planes are wanted, not ${planes.length}`);
  return [r, g, b];
}

/** Colours of other primaries, or otherwise mixed. */
export function throughMatrix([r, g, b]: Rgb, matrix: Matrix): Rgb {
  const row = ([x, y, z]: Matrix[number]): Float32Array => {
    const out = new Float32Array(r.length);
    for (let i = 0; i < out.length; i++) out[i] = x * r[i]! + y * g[i]! + z * b[i]!;
    return out;
  };
  return [row(matrix[0]), row(matrix[1]), row(matrix[2])];
}
