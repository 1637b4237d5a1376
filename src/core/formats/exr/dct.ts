/** Place of the i-th coefficient of a zigzag in an 8 x 8 block, row-major (ITU-T T.81, figure 5). */
export const ZIGZAG: readonly number[] = Array.from({ length: 64 }, (_, at) => at).sort((a, b) => {
  const [da, db] = [(a >> 3) + (a & 7), (b >> 3) + (b & 7)];
  if (da !== db) return da - db;
  return da % 2 === 0 ? (b >> 3) - (a >> 3) : (a >> 3) - (b >> 3);
});

/** The reference implementation writes pi with six digits; so do its files. */
const PI = 3.14159;

const half = (angle: number): number => Math.fround(0.5 * Math.cos((angle * PI) / 16));
const [A, B, C, D, E, F, G] = [4, 1, 2, 3, 5, 6, 7].map(half) as [
  number,
  number,
  number,
  number,
  number,
  number,
  number,
];

/** The orthonormal inverse cosine transform of an 8 x 8 block in place: rows, then columns (Ahmed, Natarajan & Rao 1974). */
export function inverseDct8x8(block: Float32Array): void {
  for (let row = 0; row < 64; row += 8) inverse8(block, row, 1);
  for (let column = 0; column < 8; column++) inverse8(block, column, 8);
}

function inverse8(v: Float32Array, at: number, step: number): void {
  const x = (i: number): number => v[at + i * step]!;
  const [x0, x1, x2, x3, x4, x5, x6, x7] = [x(0), x(1), x(2), x(3), x(4), x(5), x(6), x(7)];
  const even0 = A * (x0 + x4);
  const even1 = A * (x0 - x4);
  const cross0 = C * x2 + F * x6;
  const cross1 = F * x2 - C * x6;
  const [s0, s1, s2, s3] = [even0 + cross0, even1 + cross1, even1 - cross1, even0 - cross0];
  const d0 = B * x1 + D * x3 + E * x5 + G * x7;
  const d1 = D * x1 - G * x3 - B * x5 - E * x7;
  const d2 = E * x1 - B * x3 + G * x5 + D * x7;
  const d3 = G * x1 - E * x3 + D * x5 - B * x7;
  v[at] = s0 + d0;
  v[at + step] = s1 + d1;
  v[at + 2 * step] = s2 + d2;
  v[at + 3 * step] = s3 + d3;
  v[at + 4 * step] = s3 - d3;
  v[at + 5 * step] = s2 - d2;
  v[at + 6 * step] = s1 - d1;
  v[at + 7 * step] = s0 - d0;
}
