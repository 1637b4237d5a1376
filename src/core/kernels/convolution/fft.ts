/**
 * The complex discrete Fourier transform in plain TypeScript: Stockham's self-sorting algorithm in mixed radix
 * (4, 2, 3, 5), double precision. It is the reference that faster kernels are measured against, so it stays short.
 * [Stockham 1966; Van Loan 1992, Computational Frameworks for the FFT, ch. 1.7]
 */

/** Smallest 2^a 3^b 5^c that is at least `size`: lengths the transform is quick at. */
export function nextFastLength(size: number): number {
  for (let candidate = Math.max(1, Math.ceil(size)); ; candidate++) {
    let rest = candidate;
    for (const prime of [2, 3, 5]) while (rest % prime === 0) rest /= prime;
    if (rest === 1) return candidate;
  }
}

export interface Complex {
  re: Float64Array;
  im: Float64Array;
}

/** Odd radices last: their loops are longest there. */
const RADICES = [4, 2, 3, 5] as const;

interface Stage {
  radix: (typeof RADICES)[number];
  /** Length of the sub-transform that this stage splits. */
  length: number;
  cos: Float64Array;
  sin: Float64Array;
}

const plans = new Map<number, Stage[]>();

function planFor(length: number): Stage[] {
  let stages = plans.get(length);
  if (stages) return stages;
  stages = [];
  for (let rest = length; rest > 1;) {
    const radix = RADICES.find((candidate) => rest % candidate === 0);
    if (!radix) throw new RangeError(`a transform of length ${length} is not planned for; use goodSize`);
    const count = rest / radix;
    const cos = new Float64Array(count * (radix - 1));
    const sin = new Float64Array(count * (radix - 1));
    for (let p = 0; p < count; p++) {
      for (let k = 1; k < radix; k++) {
        const angle = (-2 * Math.PI * ((p * k) % rest)) / rest;
        cos[p * (radix - 1) + k - 1] = Math.cos(angle);
        sin[p * (radix - 1) + k - 1] = Math.sin(angle);
      }
    }
    stages.push({ radix, length: rest, cos, sin });
    rest = count;
  }
  plans.set(length, stages);
  return stages;
}

/**
 * Transforms `batch` interleaved sequences of `length` numbers each (element j of sequence b at `j * batch + b`),
 * forward, without scaling. `data` and `work` hold `length * batch` numbers and trade places while it runs; the one
 * that holds the result is returned. For the inverse, hand in `re` and `im` exchanged and divide by `length`.
 */
export function transform(length: number, batch: number, data: Complex, work: Complex): Complex {
  let from = data;
  let to = work;
  let stride = batch;
  for (const stage of planFor(length)) {
    STAGES[stage.radix](stage, stride, from, to);
    stride *= stage.radix;
    [from, to] = [to, from];
  }
  return from;
}

const STAGES = { 2: stage2, 3: stage3, 4: stage4, 5: stage5 } as const;

function stage2({ length, cos, sin }: Stage, s: number, x: Complex, y: Complex): void {
  const { re: xr, im: xi } = x;
  const { re: yr, im: yi } = y;
  const m = length / 2;
  for (let p = 0; p < m; p++) {
    const c = cos[p]!;
    const d = sin[p]!;
    for (let q = 0; q < s; q++) {
      const a = q + s * p;
      const b = a + s * m;
      const o = q + 2 * s * p;
      const difR = xr[a]! - xr[b]!;
      const difI = xi[a]! - xi[b]!;
      yr[o] = xr[a]! + xr[b]!;
      yi[o] = xi[a]! + xi[b]!;
      yr[o + s] = difR * c - difI * d;
      yi[o + s] = difR * d + difI * c;
    }
  }
}

const SIN3 = Math.sin(Math.PI / 3);

function stage3({ length, cos, sin }: Stage, s: number, x: Complex, y: Complex): void {
  const { re: xr, im: xi } = x;
  const { re: yr, im: yi } = y;
  const m = length / 3;
  for (let p = 0; p < m; p++) {
    const c1 = cos[2 * p]!;
    const d1 = sin[2 * p]!;
    const c2 = cos[2 * p + 1]!;
    const d2 = sin[2 * p + 1]!;
    for (let q = 0; q < s; q++) {
      const i0 = q + s * p;
      const i1 = i0 + s * m;
      const i2 = i1 + s * m;
      const sumR = xr[i1]! + xr[i2]!;
      const sumI = xi[i1]! + xi[i2]!;
      // The difference times -i sin(60 degrees).
      const turnR = SIN3 * (xi[i1]! - xi[i2]!);
      const turnI = SIN3 * (xr[i2]! - xr[i1]!);
      const midR = xr[i0]! - 0.5 * sumR;
      const midI = xi[i0]! - 0.5 * sumI;
      const o = q + 3 * s * p;
      yr[o] = xr[i0]! + sumR;
      yi[o] = xi[i0]! + sumI;
      const r1 = midR + turnR;
      const j1 = midI + turnI;
      yr[o + s] = r1 * c1 - j1 * d1;
      yi[o + s] = r1 * d1 + j1 * c1;
      const r2 = midR - turnR;
      const j2 = midI - turnI;
      yr[o + 2 * s] = r2 * c2 - j2 * d2;
      yi[o + 2 * s] = r2 * d2 + j2 * c2;
    }
  }
}

function stage4({ length, cos, sin }: Stage, s: number, x: Complex, y: Complex): void {
  const { re: xr, im: xi } = x;
  const { re: yr, im: yi } = y;
  const m = length / 4;
  for (let p = 0; p < m; p++) {
    const c1 = cos[3 * p]!;
    const d1 = sin[3 * p]!;
    const c2 = cos[3 * p + 1]!;
    const d2 = sin[3 * p + 1]!;
    const c3 = cos[3 * p + 2]!;
    const d3 = sin[3 * p + 2]!;
    for (let q = 0; q < s; q++) {
      const i0 = q + s * p;
      const i1 = i0 + s * m;
      const i2 = i1 + s * m;
      const i3 = i2 + s * m;
      const sumR = xr[i0]! + xr[i2]!;
      const sumI = xi[i0]! + xi[i2]!;
      const difR = xr[i0]! - xr[i2]!;
      const difI = xi[i0]! - xi[i2]!;
      const oddR = xr[i1]! + xr[i3]!;
      const oddI = xi[i1]! + xi[i3]!;
      // The odd difference times -i.
      const turnR = xi[i1]! - xi[i3]!;
      const turnI = xr[i3]! - xr[i1]!;
      const o = q + 4 * s * p;
      yr[o] = sumR + oddR;
      yi[o] = sumI + oddI;
      const r1 = difR + turnR;
      const j1 = difI + turnI;
      yr[o + s] = r1 * c1 - j1 * d1;
      yi[o + s] = r1 * d1 + j1 * c1;
      const r2 = sumR - oddR;
      const j2 = sumI - oddI;
      yr[o + 2 * s] = r2 * c2 - j2 * d2;
      yi[o + 2 * s] = r2 * d2 + j2 * c2;
      const r3 = difR - turnR;
      const j3 = difI - turnI;
      yr[o + 3 * s] = r3 * c3 - j3 * d3;
      yi[o + 3 * s] = r3 * d3 + j3 * c3;
    }
  }
}

const [COS5, SIN5] = [Math.cos((2 * Math.PI) / 5), Math.sin((2 * Math.PI) / 5)];
const [COS10, SIN10] = [Math.cos((4 * Math.PI) / 5), Math.sin((4 * Math.PI) / 5)];

function stage5({ length, cos, sin }: Stage, s: number, x: Complex, y: Complex): void {
  const { re: xr, im: xi } = x;
  const { re: yr, im: yi } = y;
  const m = length / 5;
  for (let p = 0; p < m; p++) {
    const w = 4 * p;
    for (let q = 0; q < s; q++) {
      const i0 = q + s * p;
      const i1 = i0 + s * m;
      const i2 = i1 + s * m;
      const i3 = i2 + s * m;
      const i4 = i3 + s * m;
      const zeroR = xr[i0]!;
      const zeroI = xi[i0]!;
      // Sums and differences of the pairs that mirror each other.
      const s1R = xr[i1]! + xr[i4]!;
      const s1I = xi[i1]! + xi[i4]!;
      const s2R = xr[i2]! + xr[i3]!;
      const s2I = xi[i2]! + xi[i3]!;
      const d1R = xr[i1]! - xr[i4]!;
      const d1I = xi[i1]! - xi[i4]!;
      const d2R = xr[i2]! - xr[i3]!;
      const d2I = xi[i2]! - xi[i3]!;
      const aR = zeroR + COS5 * s1R + COS10 * s2R;
      const aI = zeroI + COS5 * s1I + COS10 * s2I;
      const bR = zeroR + COS10 * s1R + COS5 * s2R;
      const bI = zeroI + COS10 * s1I + COS5 * s2I;
      const aTurnR = SIN5 * d1I + SIN10 * d2I;
      const aTurnI = -SIN5 * d1R - SIN10 * d2R;
      const bTurnR = SIN10 * d1I - SIN5 * d2I;
      const bTurnI = SIN5 * d2R - SIN10 * d1R;
      const o = q + 5 * s * p;
      yr[o] = zeroR + s1R + s2R;
      yi[o] = zeroI + s1I + s2I;
      const r1 = aR + aTurnR;
      const j1 = aI + aTurnI;
      yr[o + s] = r1 * cos[w]! - j1 * sin[w]!;
      yi[o + s] = r1 * sin[w]! + j1 * cos[w]!;
      const r2 = bR + bTurnR;
      const j2 = bI + bTurnI;
      yr[o + 2 * s] = r2 * cos[w + 1]! - j2 * sin[w + 1]!;
      yi[o + 2 * s] = r2 * sin[w + 1]! + j2 * cos[w + 1]!;
      const r3 = bR - bTurnR;
      const j3 = bI - bTurnI;
      yr[o + 3 * s] = r3 * cos[w + 2]! - j3 * sin[w + 2]!;
      yi[o + 3 * s] = r3 * sin[w + 2]! + j3 * cos[w + 2]!;
      const r4 = aR - aTurnR;
      const j4 = aI - aTurnI;
      yr[o + 4 * s] = r4 * cos[w + 3]! - j4 * sin[w + 3]!;
      yi[o + 4 * s] = r4 * sin[w + 3]! + j4 * cos[w + 3]!;
    }
  }
}
