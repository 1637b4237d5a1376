/**
 * Low-discrepancy samples: the first two Sobol dimensions with Owen scrambling by hashing, padded to any number of
 * dimensions by shuffling the order anew for each pair (Burley 2020, "Practical Hash-based Owen Scrambling", JCGT 9(4)).
 */
export function hash32(value: number): number {
  let x = value | 0;
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d);
  x = Math.imul(x ^ (x >>> 15), 0x846ca68b);
  return (x ^ (x >>> 16)) >>> 0;
}

function reverseBits(value: number): number {
  let x = value | 0;
  x = ((x >>> 1) & 0x55555555) | ((x & 0x55555555) << 1);
  x = ((x >>> 2) & 0x33333333) | ((x & 0x33333333) << 2);
  x = ((x >>> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4);
  x = ((x >>> 8) & 0x00ff00ff) | ((x & 0x00ff00ff) << 8);
  return ((x >>> 16) | (x << 16)) >>> 0;
}

function scramble(value: number, seed: number): number {
  let x = reverseBits(value);
  x = (x + seed) | 0;
  x ^= Math.imul(x, 0x6c50b47c);
  x ^= Math.imul(x, 0xb82f1e52);
  x ^= Math.imul(x, 0xc7afe638);
  x ^= Math.imul(x, 0x8d22f6e6);
  return reverseBits(x);
}

const SECOND_DIMENSION = (() => {
  const directions = new Uint32Array(32);
  let v = 0x80000000;
  for (let bit = 0; bit < 32; bit++) {
    directions[bit] = v;
    v = (v ^ (v >>> 1)) >>> 0;
  }
  return directions;
})();

function sobolSecond(index: number): number {
  let x = 0;
  for (let bit = 0, i = index; i !== 0; bit++, i >>>= 1) if (i & 1) x ^= SECOND_DIMENSION[bit]!;
  return x >>> 0;
}

/** Gives numbers in [0, 1) for one sample of one pixel; `u` and `v` hold the pair drawn last. */
export class Sampler {
  u = 0;
  v = 0;
  private seed = 0;
  private index = 0;
  private pair = 0;

  /** `run` tells independent renderings apart. */
  begin(pixel: number, index: number, run = 0): void {
    this.seed = hash32(Math.imul(pixel, 0x9e3779b1) + 0x51ed27 + run * 0x2545f491);
    this.index = index;
    this.pair = 0;
  }

  draw(): void {
    const seed = hash32(this.seed + this.pair++ * 0x85ebca6b);
    const shuffled = scramble(this.index, seed);
    this.u = scramble(reverseBits(shuffled), hash32(seed ^ 0x68bc21eb)) / 4294967296;
    this.v = scramble(sobolSecond(shuffled), hash32(seed ^ 0x02e5be93)) / 4294967296;
  }
}
