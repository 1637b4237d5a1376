/** Phases of the table, and floats of each. */
export const PHASES = 512;
const [TAPS, PITCH] = [6, 8];

const sinc = (x: number): number => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));

/** Weights of the six taps about a place `phase` (0 to 1) behind the third one: a sinc windowed by a wider one, in sum 1. */
export function lanczosWeights(phase: number): number[] {
  const raw = Array.from({ length: TAPS }, (_, k) => {
    const x = k - 2 - phase;
    return Math.abs(x) < 3 ? sinc(x) * sinc(x / 3) : 0;
  });
  const sum = raw.reduce((all, weight) => all + weight, 0);
  return raw.map((weight) => weight / sum);
}

let table: Float32Array | undefined;

/** The weights of all phases from 0 to 1, each at the start of eight floats. */
export function lanczosTable(): Float32Array {
  if (table) return table;
  table = new Float32Array((PHASES + 1) * PITCH);
  for (let k = 0; k <= PHASES; k++) {
    // Of whole phases the taps are single pixels, to the bit.
    const weights =
      k === 0 ? [0, 0, 1, 0, 0, 0] : k === PHASES ? [0, 0, 0, 1, 0, 0] : lanczosWeights(k / PHASES);
    table.set(weights, k * PITCH);
  }
  return table;
}
