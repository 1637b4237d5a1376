import { contrastMap, logTable } from '../../color/tone';
import { luminance } from '../../color/primaries';
import { serialRunner } from '../../jobs';
import type { Rgb } from '../../image/rgb';
import { seeded } from '../../optics/seeded';
import { clumpWeights, grainStrength, strengthTable } from '../../stations/film/grain';
import { gaussianWeights } from '../../image/gaussian-blur';
import type { GradeStep, Sharpening } from '.';
import { wasmGrade } from './wasm';

const kernel = wasmGrade(serialRunner);
const [W, H] = [64, 48];

function noise(seed: number, low = -14, high = 12): Rgb {
  const next = seeded(seed);
  const plane = (): Float32Array =>
    Float32Array.from(
      { length: W * H },
      (_, i) => (i % 11 === 0 ? -1 : 1) * 2 ** (low + (high - low) * next()),
    );
  return [plane(), plane(), plane()];
}

const grade = (light: Rgb, steps: GradeStep[], sharpening?: Sharpening): Promise<Rgb> =>
  kernel.grade({ width: W, height: H, light, steps, sharpening });

const flat = (value: number, count = W * H): Rgb => [
  new Float32Array(count).fill(value),
  new Float32Array(count).fill(value),
  new Float32Array(count).fill(value),
];

describe('grading', () => {
  it('without any step gives the very light back', async () => {
    const light = noise(1);
    expect(await grade(light, [])).toEqual(light);
  });

  it('maps tone as the function does, over the whole range and below zero', async () => {
    const map = contrastMap(1.4, 0.18);
    const table = logTable(map);
    const light = noise(2, -23, 19);
    const [out] = await grade(light, [{ kind: 'tone', tables: [table, table, table] }]);
    out.forEach((value, i) => {
      const from = light[0][i]!;
      const wanted = Math.sign(from) * map(Math.abs(from));
      expect(Math.abs(value - wanted)).toBeLessThan(4e-6 * Math.abs(wanted));
    });
  });

  it('multiplies by a matrix with an offset, and within a mask by its share', async () => {
    const light = noise(3);
    const matrix = Float32Array.of(0.5, 0.25, 0, 1, 0, 2, 0, 0, 0.1, 0, 1, -0.5);
    const mask = Float32Array.from({ length: W * H }, (_, i) => (i % 5) / 4);
    const out = await grade(light, [{ kind: 'matrix', matrix, mask }]);
    for (let i = 0; i < W * H; i += 37) {
      const [r, g, b] = [light[0][i]!, light[1][i]!, light[2][i]!];
      const wanted = [0.5 * r + 0.25 * g + 1, 2 * g, 0.1 * r + b - 0.5];
      [r, g, b].forEach((from, c) => {
        const value = from + mask[i]! * (wanted[c]! - from);
        expect(Math.abs(out[c]![i]! - value)).toBeLessThan(1e-6 * (1 + Math.abs(value) + Math.abs(from)));
      });
    }
  });

  it('saturates about luminance, and stops at the most saturated colour', async () => {
    const light: Rgb = [
      new Float32Array(W * H).fill(0.5),
      new Float32Array(W * H).fill(0.3),
      new Float32Array(W * H).fill(0.1),
    ];
    const y = luminance(0.5, 0.3, 0.1);
    for (const saturation of [0, 0.5, 1.2, 9]) {
      const out = await grade(light, [{ kind: 'colour', saturation }]);
      const [r, g, b] = [out[0][5]!, out[1][5]!, out[2][5]!];
      expect(luminance(r, g, b)).toBeCloseTo(y, 5);
      const held = Math.min(saturation, y / (y - 0.1));
      expect(r).toBeCloseTo(y + held * (0.5 - y), 5);
      expect(b).toBeGreaterThanOrEqual(-1e-7);
    }
  });

  it('turns one hue and leaves its opposite and greys', async () => {
    const hues = new Float32Array(4 * 361);
    for (let k = 0; k <= 360; k++) {
      const turn = k < 60 || k > 300 ? Math.PI / 6 : 0;
      hues.set([Math.cos(turn), Math.sin(turn), 1, 0], 4 * k);
    }
    const at = async (r: number, g: number, b: number): Promise<number[]> => {
      const light: Rgb = [
        new Float32Array(W * H).fill(r),
        new Float32Array(W * H).fill(g),
        new Float32Array(W * H).fill(b),
      ];
      const out = await grade(light, [{ kind: 'colour', saturation: 1, hues }]);
      return out.map((plane) => plane[0]!);
    };
    expect(await at(0.4, 0.4, 0.4)).toEqual([0.4, 0.4, 0.4].map(Math.fround));
    for (const [value, wanted] of (await at(0.1, 0.5, 0.5)).map((v, c) => [v, [0.1, 0.5, 0.5][c]!] as const))
      expect(value).toBeCloseTo(wanted, 5);
    const [r, g, b] = (await at(0.5, 0.1, 0.1)) as [number, number, number];
    expect(g).toBeGreaterThan(b + 0.05);
    expect(luminance(r, g, b)).toBeCloseTo(luminance(0.5, 0.1, 0.1), 5);
  });
});

describe('grain', () => {
  const side = 256;
  const noiseOf = (weights: Float32Array, seeds = [5], left = 0, top = 0, size = side) =>
    kernel.noise({ width: size, height: size, left, top, seeds, weights });
  const moments = (plane: Float32Array): { mean: number; variance: number } => {
    const mean = plane.reduce((sum, value) => sum + value, 0) / plane.length;
    return { mean, variance: plane.reduce((sum, value) => sum + (value - mean) ** 2, 0) / plane.length };
  };
  /** Correlation of pixels so many columns apart. */
  const correlation = (plane: Float32Array, lag: number): number => {
    let sum = 0;
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side - lag; x++) sum += plane[y * side + x]! * plane[y * side + x + lag]!;
    return sum / (side * (side - lag)) / moments(plane).variance;
  };

  it.each([0.3, 1.5, 4])('has mean 0, variance 1 and the size of clumps of %d px', async (diameter) => {
    const [plane] = await noiseOf(clumpWeights(diameter));
    const { mean, variance } = moments(plane!);
    // A mean of so many independent clumps strays by about their size over the side.
    expect(Math.abs(mean)).toBeLessThan((4 * Math.max(1, diameter)) / side);
    expect(variance).toBeGreaterThan(0.85);
    expect(variance).toBeLessThan(1.15);
    // Source: white noise filtered by a Gaussian has a Gaussian autocorrelation, sqrt(2) times as wide; a pixel's own square adds
    // a sixth of a pixel squared to twice its variance.
    const lag = Math.max(1, Math.round(diameter / 2));
    const square = 2 * (diameter / 2.3548) ** 2 + 2 / 12;
    if (diameter >= 1.5)
      expect(correlation(plane!, lag)).toBeCloseTo(Math.exp(-(lag ** 2) / (2 * square)), 1);
    else expect(Math.abs(correlation(plane!, 1))).toBeLessThan(0.05);
  });

  it('is the same at the same place, another with another seed, and does not repeat', async () => {
    const weights = clumpWeights(1.5);
    const [[a], [part], [b]] = await Promise.all([
      noiseOf(weights),
      noiseOf(weights, [5], 40, 24, 64),
      noiseOf(weights, [6]),
    ]);
    for (let y = 0; y < 64; y += 7)
      for (let x = 0; x < 64; x += 5)
        expect(part![y * 64 + x]!).toBeCloseTo(a![(y + 24) * side + x + 40]!, 6);
    const product = a!.reduce((sum, value, i) => sum + value * b![i]!, 0) / a!.length;
    expect(Math.abs(product)).toBeLessThan(0.03);
    for (const lag of [32, 64, 128]) expect(Math.abs(correlation(a!, lag))).toBeLessThan(0.05);
  });

  // Source: mean-preserving noise: the mean stays and the standard deviation is amount times strength at every tone.
  it.each([0.01, 0.18, 2])('keeps the mean of %d and has the strength of its tone', async (tone) => {
    const noise = await noiseOf(clumpWeights(0.5), [1, 2, 3]);
    const light = flat(tone, side * side);
    const [out] = await kernel.grade({
      width: side,
      height: side,
      light,
      steps: [{ kind: 'grain', amount: 0.03, strength: strengthTable(), noise }],
    });
    const { mean, variance } = moments(out);
    expect(mean / tone).toBeCloseTo(1, 3);
    expect(Math.sqrt(variance) / tone / 0.03).toBeCloseTo(grainStrength(tone), 1);
    expect(grainStrength(0.18)).toBe(1);
    expect(grainStrength(0.18 * 16)).toBeLessThan(0.5);
  });
});

describe('sharpening', () => {
  const weights = Float32Array.from(gaussianWeights(1.5));
  const edge = (): Rgb => {
    const plane = Float32Array.from({ length: W * H }, (_, i) => (i % W < W / 2 ? 0.2 : 0.6));
    return [plane, plane.slice(), plane.slice()];
  };

  it('draws an edge apart and goes nowhere beyond its limit', async () => {
    const light = edge();
    const [out] = await grade(light, [], { amount: 3, threshold: 0, limit: 0.2, weights });
    const row = out.subarray(10 * W, 11 * W);
    expect(row[W / 2 - 1]!).toBeLessThan(0.2 * 0.95);
    expect(row[W / 2]!).toBeGreaterThan(0.6 * 1.05);
    out.forEach((value, i) => expect(Math.abs(Math.log2(value / light[0][i]!))).toBeLessThanOrEqual(0.2));
    expect(row[3]!).toBeCloseTo(0.2, 5);
  });

  it('leaves what stands out by less than the threshold', async () => {
    const light = edge();
    expect(await grade(light, [], { amount: 2, threshold: 2, limit: 0.5, weights })).toEqual(light);
    const mask = new Float32Array(W * H);
    expect(await grade(light, [], { amount: 2, threshold: 0, limit: 0.5, weights, mask })).toEqual(light);
  });
});
