/**
 * The complex discrete Fourier transform in plain TypeScript: Stockham's self-sorting algorithm in mixed radix
 * (4, 2, 3, 5), double precision. It is the reference that faster kernels are measured against, so it stays short.
 * [Stockham 1966; Van Loan 1992, Computational Frameworks for the FFT, ch. 1.7]
 */

/** Smallest 2^a 3^b 5^c that is at least `size`: lengths the transform is quick at. */
export function goodSize(size: number): number {
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

interface Stage {
  radix: number;
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
    const radix = [4, 2, 3, 5].find((candidate) => rest % candidate === 0);
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
    if (stage.radix === 4) stage4(stage, stride, from, to);
    else if (stage.radix === 2) stage2(stage, stride, from, to);
    else stageOdd(stage, stride, from, to);
    stride *= stage.radix;
    [from, to] = [to, from];
  }
  return from;
}

function stage2({ length, cos, sin }: Stage, s: number, x: Complex, y: Complex): void {
  const m = length / 2;
  for (let p = 0; p < m; p++) {
    const c = cos[p]!;
    const d = sin[p]!;
    for (let q = 0; q < s; q++) {
      const a = q + s * p;
      const b = a + s * m;
      const o = q + 2 * s * p;
      const ar = x.re[a]!;
      const ai = x.im[a]!;
      const br = x.re[b]!;
      const bi = x.im[b]!;
      y.re[o] = ar + br;
      y.im[o] = ai + bi;
      const dr = ar - br;
      const di = ai - bi;
      y.re[o + s] = dr * c - di * d;
      y.im[o + s] = dr * d + di * c;
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

/** Radix 3 and 5 by the definition of the small transform. */
function stageOdd({ radix, length, cos, sin }: Stage, s: number, x: Complex, y: Complex): void {
  const m = length / radix;
  const rootCos = Array.from({ length: radix }, (_, k) => Math.cos((-2 * Math.PI * k) / radix));
  const rootSin = Array.from({ length: radix }, (_, k) => Math.sin((-2 * Math.PI * k) / radix));
  for (let p = 0; p < m; p++) {
    for (let k = 0; k < radix; k++) {
      const c = k === 0 ? 1 : cos[p * (radix - 1) + k - 1]!;
      const d = k === 0 ? 0 : sin[p * (radix - 1) + k - 1]!;
      for (let q = 0; q < s; q++) {
        let re = 0;
        let im = 0;
        for (let j = 0; j < radix; j++) {
          const at = q + s * (p + j * m);
          const w = (j * k) % radix;
          re += x.re[at]! * rootCos[w]! - x.im[at]! * rootSin[w]!;
          im += x.re[at]! * rootSin[w]! + x.im[at]! * rootCos[w]!;
        }
        const o = q + s * (radix * p + k);
        y.re[o] = re * c - im * d;
        y.im[o] = re * d + im * c;
      }
    }
  }
}
