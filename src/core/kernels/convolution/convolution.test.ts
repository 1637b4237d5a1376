import fc from 'fast-check';
import FFT from 'fft.js';
import { CancelledError } from '../../errors';
import { runsOfRows } from './kernel-planes';
import { wasmConvolution } from './wasm';
import { referenceConvolution } from './reference';
import { nextFastLength, transform, type Complex } from './fft';
import { serialRunner } from '../../jobs';
import type { TaskRunner } from '../runtime/parallel';

const newComplex = (size: number): Complex => ({ re: new Float64Array(size), im: new Float64Array(size) });

function noise(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32 - 0.5;
  };
}

function randomComplex(size: number, seed: number): Complex {
  const next = noise(seed);
  const out = newComplex(size);
  for (let i = 0; i < size; i++) {
    out.re[i] = next();
    out.im[i] = next();
  }
  return out;
}

const copy = ({ re, im }: Complex): Complex => ({ re: re.slice(), im: im.slice() });

/** The transform by its definition. */
function byDefinition({ re, im }: Complex): Complex {
  const size = re.length;
  const out = newComplex(size);
  for (let k = 0; k < size; k++) {
    for (let j = 0; j < size; j++) {
      const angle = (-2 * Math.PI * j * k) / size;
      out.re[k]! += re[j]! * Math.cos(angle) - im[j]! * Math.sin(angle);
      out.im[k]! += re[j]! * Math.sin(angle) + im[j]! * Math.cos(angle);
    }
  }
  return out;
}

function largestDifference(a: Complex, b: Complex, size: number): number {
  let largest = 0;
  for (let i = 0; i < size; i++)
    largest = Math.max(largest, Math.abs(a.re[i]! - b.re[i]!), Math.abs(a.im[i]! - b.im[i]!));
  return largest;
}

describe('the transform', () => {
  it.each([1, 2, 3, 4, 5, 6, 8, 9, 10, 12, 15, 16, 20, 25, 27, 30, 36, 45, 60, 64, 100, 120, 135])(
    'of length %d is the definition',
    (size) => {
      const data = randomComplex(size, size);
      const wanted = byDefinition(data);
      expect(largestDifference(transform(size, 1, data, newComplex(size)), wanted, size)).toBeLessThan(
        1e-12 * size,
      );
    },
  );

  // Source: fft.js 4.0.4 (a general-purpose FFT package), powers of two.
  it.each([8, 64, 256, 1024, 4096])('of length %d agrees with another library', (size) => {
    const data = randomComplex(size, 3);
    const other = new FFT(size);
    const input = other.createComplexArray() as number[];
    for (let i = 0; i < size; i++) [input[2 * i], input[2 * i + 1]] = [data.re[i]!, data.im[i]!];
    const output = other.createComplexArray() as number[];
    other.transform(output, input);
    const wanted = newComplex(size);
    for (let i = 0; i < size; i++) [wanted.re[i], wanted.im[i]] = [output[2 * i]!, output[2 * i + 1]!];
    expect(largestDifference(transform(size, 1, data, newComplex(size)), wanted, size)).toBeLessThan(1e-11);
  });

  it('of interleaved sequences is that of each', () => {
    const [length, batch] = [60, 7];
    const data = randomComplex(length * batch, 9);
    const singles = Array.from({ length: batch }, (_, b) => {
      const one = newComplex(length);
      for (let j = 0; j < length; j++)
        [one.re[j], one.im[j]] = [data.re[j * batch + b]!, data.im[j * batch + b]!];
      return transform(length, 1, one, newComplex(length));
    });
    const all = transform(length, batch, data, newComplex(length * batch));
    singles.forEach((one, b) => {
      for (let j = 0; j < length; j++) expect(all.re[j * batch + b]).toBe(one.re[j]);
    });
  });

  it('comes back with the parts exchanged', () => {
    const size = 240;
    const data = randomComplex(size, 5);
    const there = copy(transform(size, 1, copy(data), newComplex(size)));
    const back = transform(size, 1, { re: there.im, im: there.re }, newComplex(size));
    const scaled: Complex = {
      re: back.im.map((value) => value / size),
      im: back.re.map((value) => value / size),
    };
    expect(largestDifference(scaled, data, size)).toBeLessThan(1e-14);
  });

  // Source: Parseval's theorem.
  it('keeps the energy', () => {
    const size = 1440;
    const data = randomComplex(size, 11);
    const energy = ({ re, im }: Complex): number =>
      re.slice(0, size).reduce((sum, value, i) => sum + value * value + im[i]! * im[i]!, 0);
    const before = energy(data);
    expect(energy(transform(size, 1, data, newComplex(size))) / size / before).toBeCloseTo(1, 12);
  });

  it('says which lengths it takes', () => {
    expect([1, 7, 11, 13, 17, 97, 1439, 2559].map(nextFastLength)).toEqual([
      1, 8, 12, 15, 18, 100, 1440, 2560,
    ]);
    expect(() => transform(7, 1, newComplex(7), newComplex(7))).toThrow(/length 7/);
  });
});

type KernelAt = (dx: number, dy: number) => number;

function rowsOf(at: KernelAt, width: number): (dy: number, out: Float32Array) => void {
  return (dy, out) => {
    for (let dx = 1 - width; dx < width; dx++) out[dx + width - 1] = at(dx, dy);
  };
}

/** Convolution by its definition, with black outside. */
function directly(plane: Float32Array, width: number, height: number, at: KernelAt): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let v = 0; v < height; v++)
        for (let u = 0; u < width; u++) sum += plane[v * width + u]! * at(x - u, y - v);
      out[y * width + x] = sum;
    }
  }
  return out;
}

/** Does its tasks from the last to the first, as threads might. */
const backwards: TaskRunner = { threads: 1, run: (tasks) => serialRunner.run([...tasks].reverse()) };

describe.each([
  ['in TypeScript', referenceConvolution],
  ['in WebAssembly', wasmConvolution],
])('convolution %s', (_, convolutionOn) => {
  const lopsided: KernelAt = (dx, dy) =>
    Math.exp(-0.3 * Math.abs(dx - 0.4 * dy)) / (1 + dy * dy + (dx > 0 ? dx : 0));
  const convolution = convolutionOn(serialRunner);

  it('is the definition, for lopsided kernels and any size', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 17 }),
        fc.integer({ min: 1, max: 13 }),
        fc.nat(),
        async (width, height, seed) => {
          const next = noise(seed);
          const planes = [0, 1, 2].map(() =>
            Float32Array.from({ length: width * height }, () => 1000 * next()),
          );
          const spectrum = await convolution.prepare(width, height, rowsOf(lopsided, width));
          const results = await convolution.convolve(planes, [spectrum]);
          expect(results).toHaveLength(3);
          results.forEach((result, c) => {
            const wanted = directly(planes[c]!, width, height, lopsided);
            const peak = Math.max(...wanted.map(Math.abs));
            for (let i = 0; i < wanted.length; i++)
              expect(Math.abs(result[i]! - wanted[i]!)).toBeLessThan(1e-6 * peak);
          });
        },
      ),
      { numRuns: 25 },
    );
  });

  it.each([false, true])(
    'takes a kernel as a sum of planes; with one that is lopsided: %s',
    async (isLopsided) => {
      await fc.assert(
        fc.asyncProperty(
          fc.integer({ min: 1, max: 19 }),
          fc.integer({ min: 1, max: 15 }),
          fc.nat(),
          async (width, height, seed) => {
            const next = noise(seed);
            const filled = (count: number): SharedArrayBuffer => {
              const data = new SharedArrayBuffer(4 * count);
              new Float32Array(data).set(Float32Array.from({ length: count }, next));
              return data;
            };
            const quadrant = filled(width * height);
            const half = filled((2 * width - 1) * height);
            // Rows of runs begin and end where something is not 0.
            const full = Float32Array.from({ length: (2 * width - 1) * (2 * height - 1) }, () =>
              next() < 0.6 ? 0 : next(),
            );
            const columns = 2 * width - 1;
            const rowAt = (dy: number, out: Float32Array): void =>
              out.set(full.subarray((dy + height - 1) * columns, (dy + height) * columns));
            const runs = runsOfRows(rowAt, width, height);
            // The source's own row must be the same to both sides.
            const rows = new Float32Array(half);
            for (let dx = 1; dx < width; dx++) rows[width - 1 - dx] = rows[width - 1 + dx]!;
            const at: KernelAt = (dx, dy) => {
              const sign = dy < 0 ? -1 : 1;
              return (
                2 * new Float32Array(quadrant)[Math.abs(dy) * width + Math.abs(dx)]! -
                0.5 * rows[Math.abs(dy) * (2 * width - 1) + width - 1 + sign * dx]! +
                (isLopsided ? 0.7 * full[(dy + height - 1) * (2 * width - 1) + width - 1 + dx]! : 0)
              );
            };
            const source = Float32Array.from({ length: width * height }, next);
            const spectrum = await convolution.prepare(width, height, [
              { kind: 'quadrant', data: quadrant, gain: 2 },
              { kind: 'half', data: half, gain: -0.5 },
              ...(isLopsided ? [{ kind: 'runs', data: runs, gain: 0.7 } as const] : []),
            ]);
            const [result] = await convolution.convolve([source], [spectrum]);
            const wanted = directly(source, width, height, at);
            const peak = Math.max(...wanted.map(Math.abs), 1);
            for (let i = 0; i < wanted.length; i++)
              expect(Math.abs(result![i]! - wanted[i]!)).toBeLessThan(2e-6 * peak);
          },
        ),
        { numRuns: 25 },
      );
    },
  );

  it.each([
    [24, 18],
    [37, 50],
    [130, 9],
  ])('of %d x %d planes that were transformed before gives the same bits', async (width, height) => {
    const next = noise(9);
    const planes = [0, 1, 2].map(() => Float32Array.from({ length: width * height }, next));
    const sharp: KernelAt = (dx, dy) => 1 / (1 + dx * dx + 3 * dy * dy);
    const transformed = await convolution.transform(width, height, planes);
    for (const kernel of [lopsided, sharp, lopsided]) {
      const spectrum = await convolution.prepare(width, height, rowsOf(kernel, width));
      expect(await convolution.convolve(transformed, [spectrum])).toEqual(
        await convolution.convolve(planes, [spectrum]),
      );
    }
  });

  it('makes of one point the kernel itself, and never wraps round', async () => {
    const [width, height] = [24, 18];
    const spectrum = await convolution.prepare(width, height, rowsOf(lopsided, width));
    for (const [px, py] of [
      [0, 0],
      [width - 1, height - 1],
      [11, 7],
    ] as const) {
      const plane = new Float32Array(width * height);
      plane[py * width + px] = 1;
      const [result] = await convolution.convolve([plane], [spectrum]);
      for (let y = 0; y < height; y++) {
        for (let x = 0; x < width; x++)
          expect(Math.abs(result![y * width + x]! - lopsided(x - px, y - py))).toBeLessThan(5e-7);
      }
    }
  });

  it('of a kernel that is one point is the plane itself', async () => {
    const plane = Float32Array.from({ length: 30 * 20 }, noise(4));
    const spectrum = await convolution.prepare(
      30,
      20,
      rowsOf((dx, dy) => (dx === 0 && dy === 0 ? 1 : 0), 30),
    );
    const [result] = await convolution.convolve([plane], [spectrum]);
    for (let i = 0; i < plane.length; i++) expect(Math.abs(result![i]! - plane[i]!)).toBeLessThan(5e-7);
  });

  it('gives the same bits in whatever order its parts are done', async () => {
    const [width, height] = [150, 90];
    const planes = [1, 2, 3].map((seed) => Float32Array.from({ length: width * height }, noise(seed)));
    const results = await Promise.all(
      [serialRunner, backwards].map(async (parallel) => {
        const kernel = convolutionOn(parallel);
        return kernel.convolve(planes, [await kernel.prepare(width, height, rowsOf(lopsided, width))]);
      }),
    );
    for (const other of results.slice(1)) expect(other).toEqual(results[0]);
  });

  it('is linear', async () => {
    const [width, height] = [20, 20];
    const next = noise(8);
    const [a, b] = [0, 1].map(() => Float32Array.from({ length: 400 }, next)) as [Float32Array, Float32Array];
    const sum = a.map((value, i) => 2 * value - 3 * b[i]!);
    const spectrum = await convolution.prepare(width, height, rowsOf(lopsided, width));
    const [ra, rb, rs] = (await convolution.convolve([a, b, sum], [spectrum])) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    for (let i = 0; i < 400; i++) expect(rs[i]!).toBeCloseTo(2 * ra[i]! - 3 * rb[i]!, 3);
  });

  it('of several kernels gives each plane its own, also when more have come since', async () => {
    const [width, height] = [40, 24];
    const plane = Float32Array.from({ length: width * height }, noise(5));
    const widths = [1, 2, 3, 4, 5];
    const blur =
      (size: number): KernelAt =>
      (dx, dy) =>
        Math.exp(-(dx * dx + dy * dy) / size);
    const spectra = [];
    for (const size of widths)
      spectra.push(await convolution.prepare(width, height, rowsOf(blur(size), width)));
    const results = await convolution.convolve(
      widths.map(() => plane),
      spectra,
    );
    widths.forEach((size, k) => {
      const wanted = directly(plane, width, height, blur(size));
      for (let i = 0; i < wanted.length; i++)
        expect(Math.abs(results[k]![i]! - wanted[i]!)).toBeLessThan(2e-5);
    });
  });

  it('tells its progress and can be given up', async () => {
    const steps: number[] = [];
    const spectrum = await convolution.prepare(64, 64, rowsOf(lopsided, 64), {
      progress: (done) => steps.push(done),
    });
    expect(steps.at(-1)).toBe(1);
    expect([...steps].sort((a, b) => a - b)).toEqual(steps);
    const control = new AbortController();
    control.abort();
    await expect(
      convolution.convolve([new Float32Array(64 * 64)], [spectrum], { signal: control.signal }),
    ).rejects.toThrow(CancelledError);
  });
});

describe('the fast convolution', () => {
  // Sides whose padded lengths end in every radix, with one row of pixels, odd sides, and one of each.
  it.each([
    [1, 1],
    [300, 1],
    [1, 200],
    [33, 70],
    [100, 41],
    [257, 33],
    [64, 135],
    [121, 122],
  ])('agrees with the double-precision one at %d x %d', async (width, height) => {
    const next = noise(width * 1000 + height);
    // Lamps of ten thousands in a dark picture: single precision must not lift the dark.
    const plane = Float32Array.from({ length: width * height }, () => (next() > 0.97 ? 20000 : 0.01));
    const at: KernelAt = (dx, dy) => 1 / (2 + dx * dx + dy * dy) ** 1.2 / (dx > dy ? 2 : 1);
    const [fast, exact] = await Promise.all(
      [wasmConvolution(serialRunner), referenceConvolution(serialRunner)].map(async (kernel) => {
        const spectrum = await kernel.prepare(width, height, rowsOf(at, width));
        return (await kernel.convolve([plane], [spectrum]))[0]!;
      }),
    );
    const peak = exact!.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
    let worst = 0;
    exact!.forEach((value, i) => (worst = Math.max(worst, Math.abs(value - fast![i]!))));
    expect(worst).toBeLessThan(1e-6 * peak);
  });

  it('works on after it was given up in the middle', async () => {
    const kernel = wasmConvolution(serialRunner);
    const plane = Float32Array.from({ length: 90 * 70 }, noise(3));
    const spectrum = await kernel.prepare(
      90,
      70,
      rowsOf((dx, dy) => 1 / (1 + dx * dx + dy * dy), 90),
    );
    const [first] = await kernel.convolve([plane], [spectrum]);
    const control = new AbortController();
    const given = kernel.convolve([plane, plane], [spectrum], {
      signal: control.signal,
      progress: (done) => done > 0.4 && control.abort(),
    });
    await expect(given).rejects.toThrow(CancelledError);
    const [again] = await kernel.convolve([plane], [spectrum]);
    expect(again).toEqual(first);
  });
});
