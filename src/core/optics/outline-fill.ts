import { OutlineWalk } from './outline-walk';

/** Where the unit disc lies on a square of `size * size` pixels: `margin` pixels within its edges. */
export interface DiscFrame {
  size: number;
  margin: number;
}

/** How an outline is drawn: at a share of the unit disc's size, adding light or taking it away. */
export interface FillOptions {
  scale: number;
  sign: 1 | -1;
}

type Outline = readonly [x: number, y: number][];

const SUB_ROWS = 4;

/** Adds the area that an outline covers of each pixel. */
export function fillByArea(
  mask: Float32Array,
  { size, margin }: DiscFrame,
  outline: Outline,
  { scale, sign }: FillOptions,
): void {
  const walk = new OutlineWalk(outline);
  const [unit, middle] = [size / 2 - margin, size / 2];
  for (let y = 0; y < size; y++)
    for (let k = 0; k < SUB_ROWS; k++) {
      if (!walk.advanceTo((y + (k + 0.5) / SUB_ROWS - middle) / unit / scale)) continue;
      const from = Math.max(0, middle + walk.left * scale * unit);
      const to = Math.min(size, middle + walk.right * scale * unit);
      for (let x = Math.floor(from); x < to; x++) {
        const covered = Math.min(x + 1, to) - Math.max(x, from);
        const at = y * size + x;
        mask[at] = Math.max(0, mask[at]! + (sign * covered) / SUB_ROWS);
      }
    }
}

/** Pixels about an edge that the band limit changes, to either side. */
export const BAND_REACH = 12;
const TAPS = 2 * BAND_REACH;
/** Places of an edge within a pixel that are told apart. */
const PHASES = 256;
/** Rows that a pixel is divided into, and heights in each of them at which the outline is read. */
const [FINE_ROWS, HEIGHTS] = [4, 8];
/** Shape of the Kaiser window: 42 dB (Kaiser & Schafer 1980). */
const KAISER = 3.7;

/**
 * Adds what an outline covers of each pixel, without the frequencies above half a cycle a pixel: those would come back as
 * lower ones, which a transform shows as faint spikes where the outline has no edge. Values ring about 0 and 1 near an edge.
 * The frame's margin must be {@link BAND_REACH} or more.
 */
export function fillBandLimited(
  mask: Float32Array,
  { size, margin }: DiscFrame,
  outline: Outline,
  { scale, sign }: FillOptions,
): void {
  const walk = new OutlineWalk(outline);
  const [unit, middle] = [size / 2 - margin, size / 2];
  // The change from each pixel to the next; all rows are summed up in the end.
  const changes = new Float64Array(size * size);
  const [left, right] = [new EdgeLine(size), new EdgeLine(size)];
  const share = sign / (FINE_ROWS * HEIGHTS);
  for (let fine = 0; fine < size * FINE_ROWS; fine++) {
    for (let k = 0; k < HEIGHTS; k++) {
      const y = (fine + (k + 0.5) / HEIGHTS) / FINE_ROWS;
      if (!walk.advanceTo((y - middle) / unit / scale)) continue;
      left.add(middle + walk.left * scale * unit, share);
      right.add(middle + walk.right * scale * unit, -share);
    }
    left.spread(changes, size, fine);
    right.spread(changes, size, fine);
  }
  for (let y = 0; y < size; y++)
    for (let x = 0, sum = 0; x < size; x++) {
      sum += changes[y * size + x]!;
      mask[y * size + x]! += sum;
    }
}

/** The changes along a fine row about one side of an outline. */
class EdgeLine {
  private readonly values: Float64Array;
  private first: number;
  private last = 0;

  constructor(size: number) {
    this.values = new Float64Array(size + 1);
    this.first = size;
  }

  add(x: number, value: number): void {
    const { values } = this;
    const { edge } = bandKernels();
    const place = Math.floor(x * PHASES + 0.5);
    const pixel = Math.floor(place / PHASES);
    const taps = (place - pixel * PHASES) * TAPS;
    const from = pixel - BAND_REACH + 1;
    for (let k = 0; k < TAPS; k++) values[from + k]! += value * edge[taps + k]!;
    this.first = Math.min(this.first, from);
    this.last = Math.max(this.last, from + TAPS);
  }

  /** Adds the line to the pixel rows about it, and empties it. */
  spread(changes: Float64Array, size: number, fine: number): void {
    const { values, first, last } = this;
    const { row } = bandKernels();
    const top = Math.floor(fine / FINE_ROWS) - BAND_REACH + 1;
    const taps = (fine % FINE_ROWS) * TAPS;
    for (let k = 0; k < TAPS; k++) {
      const start = (top + k) * size;
      if (start < 0 || start >= size * size) continue;
      const weight = row[taps + k]!;
      for (let x = first; x < last; x++) changes[start + x]! += weight * values[x]!;
    }
    values.fill(0, first, last);
    this.first = values.length;
    this.last = 0;
  }
}

/** Weights of the pixels about an edge, for each place of it within its pixel, and of those about each fine row. */
interface BandKernels {
  edge: Float64Array;
  row: Float64Array;
}

let kernels: BandKernels | undefined;

/**
 * A pixel is the mean of the band-limited outline over itself: a windowed sinc and a box. The change from one pixel to the
 * next is an edge under one more box. [Kaiser & Schafer 1980, On the use of the I0-sinh window for spectrum analysis]
 */
function bandKernels(): BandKernels {
  if (kernels) return kernels;
  const reach = BAND_REACH * PHASES;
  const limit = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => {
    const t = (i - reach) / PHASES;
    const within = (t / (BAND_REACH - 1)) ** 2;
    const window = within < 1 ? besselI0(KAISER * Math.sqrt(1 - within)) : 0;
    return t === 0 ? window : (window * Math.sin(Math.PI * t)) / (Math.PI * t);
  });
  const pixel = boxed(limit);
  const change = boxed(pixel);
  const taps = (
    of: Float64Array,
    phase: (k: number) => number,
    count: number,
    first: number,
  ): Float64Array => {
    const out = new Float64Array(count * TAPS);
    for (let p = 0; p < count; p++) {
      let sum = 0;
      for (let k = 0; k < TAPS; k++) {
        const at = reach + Math.round((k + first - phase(p)) * PHASES);
        sum += out[p * TAPS + k] = of[at] ?? 0;
      }
      for (let k = 0; k < TAPS; k++) out[p * TAPS + k]! /= sum;
    }
    return out;
  };
  // A pixel's change lies at its left edge, its value at its middle.
  const edge = taps(change, (p) => p / PHASES, PHASES, 1 - BAND_REACH);
  const row = taps(pixel, (p) => (p + 0.5) / FINE_ROWS, FINE_ROWS, 1.5 - BAND_REACH);
  return (kernels = { edge, row });
}

/** The mean over a pixel's width about each sample, by the trapezoidal rule. */
function boxed(values: Float64Array): Float64Array {
  const half = PHASES / 2;
  const sums = new Float64Array(values.length + 1);
  values.forEach((value, i) => (sums[i + 1] = sums[i]! + value));
  const upTo = (i: number): number => {
    const end = Math.min(values.length, Math.max(0, i));
    return sums[end]! + (values[end] ?? 0) / 2;
  };
  return values.map((_, i) => (upTo(i + half) - upTo(i - half)) / PHASES);
}

/** The modified Bessel function of order 0, by its series. */
function besselI0(x: number): number {
  let [sum, term] = [1, 1];
  for (let k = 1; term > 1e-12 * sum; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}
