/** Numbers in [0, 1) that follow from a seed alone: a counter that is mixed (mulberry32, Ettinger 2017; from memory). */
export function seeded(seed: number): () => number {
  let state = Math.imul(seed | 0, 0x9e3779b1) ^ 0x51ed270b;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** One number of the standard normal distribution from two even ones (Box & Muller 1958). */
export function normal(next: () => number): number {
  return Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());
}
