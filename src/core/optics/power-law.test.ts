import { encircledShare, powerLawQuadrant, type PowerLaw } from './power-law';

/** The sum over all four quadrants of a kernel. */
function wholeSum(quadrant: Float32Array, width: number, height: number): number {
  let sum = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) sum += quadrant[y * width + x]! * (x ? 2 : 1) * (y ? 2 : 1);
  }
  return sum;
}

const SIDE = 420;
const law = (core: number, falloff: number, reach = SIDE - 1): PowerLaw => ({ core, falloff, reach });

describe('power-law scatter', () => {
  it.each([
    [0.1, 2],
    [0.5, 2],
    [1, 1.5],
    [3, 2],
    [8, 2.5],
    [2, 3],
    [0.3, 4],
    [20, 4],
  ])('with core %d and fall-off %d spreads all of its light and no more', (core, falloff) => {
    const sum = wholeSum(powerLawQuadrant(law(core, falloff), SIDE, SIDE), SIDE, SIDE);
    // The last ring's pixels are in or out as a whole, which leaves a part in ten thousand at most.
    expect(Math.abs(sum - 1)).toBeLessThan(1e-4 + 2e-4 * (falloff < 2 ? 1 : 0));
  });

  // Source: the definition of an exponent; asked to within 2 %.
  it.each([1.5, 2, 2.5, 3, 4])('falls off with the exponent %d in a log-log plot', (falloff) => {
    const quadrant = powerLawQuadrant(law(2, falloff), SIDE, SIDE);
    const points = Array.from({ length: 40 }, (_, k) => Math.round(30 * 12 ** (k / 39)));
    const [xs, ys] = [points.map((r) => Math.log(r)), points.map((r) => Math.log(quadrant[r]!))];
    const mean = (values: number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
    const [mx, my] = [mean(xs), mean(ys)];
    const slope =
      xs.reduce((sum, x, i) => sum + (x - mx) * (ys[i]! - my), 0) /
      xs.reduce((sum, x) => sum + (x - mx) ** 2, 0);
    expect(Math.abs(-slope / falloff - 1)).toBeLessThan(0.02);
  });

  // Source: Stiles-Holladay (Holladay 1927; Stiles 1929): veiling luminance 10 E / theta^2, so 0.1 at 10 degrees against 10 at 1.
  it('with fall-off 2 is the inverse square of veiling glare', () => {
    const quadrant = powerLawQuadrant(law(0.05, 2), SIDE, SIDE);
    expect(quadrant[300]! / quadrant[30]!).toBeCloseTo(0.1 / 10, 4);
  });

  it('is round', () => {
    const quadrant = powerLawQuadrant(law(4, 2), SIDE, SIDE);
    for (const [a, b, r] of [
      [3, 4, 5],
      [30, 40, 50],
      [60, 80, 100],
      [119, 120, 169],
    ] as const) {
      expect(quadrant[b * SIDE + a]! / quadrant[r]!).toBeCloseTo(1, 3);
      expect(quadrant[b * SIDE + a]).toBe(quadrant[a * SIDE + b]);
    }
  });

  it('ends at its reach', () => {
    const quadrant = powerLawQuadrant(law(2, 2, 100), SIDE, SIDE);
    expect(quadrant[100]).toBeGreaterThan(0);
    expect(quadrant[101]).toBe(0);
    expect(quadrant[71 * SIDE + 71]).toBe(0);
  });

  it('knows what share falls within a radius', () => {
    const one = law(5, 2.5);
    const quadrant = powerLawQuadrant(one, SIDE, SIDE);
    for (const radius of [3, 20, 100, 300]) {
      let sum = 0;
      for (let y = 0; y < SIDE; y++) {
        for (let x = 0; x < SIDE; x++)
          if (x * x + y * y <= radius * radius) sum += quadrant[y * SIDE + x]! * (x ? 2 : 1) * (y ? 2 : 1);
      }
      expect(Math.abs(sum - encircledShare(one, radius))).toBeLessThan(0.02 / Math.sqrt(radius));
    }
    expect(encircledShare(one, 1e9)).toBe(1);
  });

  // Source: for p = 2 half of the light of a law with core r0 and reach R lies within r0 sqrt(sqrt(1 + R^2/r0^2) - 1).
  it('has its half-light radius where the integral says', () => {
    const one = law(5, 2, 500);
    const half = 5 * Math.sqrt(Math.sqrt(1 + (500 / 5) ** 2) - 1);
    expect(encircledShare(one, half)).toBeCloseTo(0.5, 12);
  });

  it('gives a small picture the light of a large one', () => {
    const large = powerLawQuadrant(law(1.2, 2, 400), 401, 401);
    const small = powerLawQuadrant(law(0.6, 2, 200), 201, 201);
    // A small pixel at (x, y) covers the large ones from 2x - 1 to 2x + 1, the outer ones by half.
    for (const [x, y] of [
      [0, 0],
      [1, 0],
      [2, 1],
      [5, 3],
      [40, 20],
    ] as const) {
      let sum = 0;
      for (let v = -1; v <= 1; v++) {
        for (let u = -1; u <= 1; u++) {
          const weight = (u ? 0.5 : 1) * (v ? 0.5 : 1);
          sum += weight * large[Math.abs(2 * y + v) * 401 + Math.abs(2 * x + u)]!;
        }
      }
      // A source fills its own pixel, and a small one is four large ones: beside it the two differ.
      expect(Math.abs(small[y * 201 + x]! / sum - 1)).toBeLessThan(
        x + y < 2 ? 0.2 : x + y < 8 ? 0.03 : 0.005,
      );
    }
  });
});
