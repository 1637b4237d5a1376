import sharp from 'sharp';
import { serialRunner } from '../../jobs';
import { mapRgb, type Rgb } from '../../image/rgb';
import { seeded } from '../../optics/seeded';
import { RATIO_STEPS, type WarpInput, type WarpSample } from '.';
import { lanczosWeights } from './filter';
import { referenceWarp } from './reference';
import { wasmWarp } from './wasm';

const warp = wasmWarp(serialRunner);

const even = (ratio: number): Float32Array => new Float32Array(RATIO_STEPS + 1).fill(ratio);
const sample = (ratio: number, weight: WarpSample['weight'] = [1, 1, 1]): WarpSample => ({
  ratios: even(ratio),
  weight,
});

function inputOf(width: number, height: number, light: Rgb, samples: WarpSample[]): WarpInput {
  const [axisX, axisY] = [width / 2, height / 2];
  return { width, height, light, axisX, axisY, limit: axisX ** 2 + axisY ** 2, samples };
}

function noise(width: number, height: number, seed: number, lamps = 0): Rgb {
  const next = seeded(seed);
  const plane = (): Float32Array =>
    Float32Array.from(
      { length: width * height },
      (_, i) => 0.2 + 0.6 * next() + (lamps && i % 97 === 13 ? lamps : 0),
    );
  return [plane(), plane(), plane()];
}

const furthest = (a: Rgb, b: Rgb): number =>
  Math.max(
    ...a.map((plane, c) => plane.reduce((most, value, i) => Math.max(most, Math.abs(value - b[c]![i]!)), 0)),
  );

describe('resampling along rays from the axis', () => {
  it('gives the very light back where nothing moves', async () => {
    const light = noise(37, 21, 1, 2000);
    expect(await warp.warp(inputOf(37, 21, light, [sample(1)]))).toEqual(light);
  });

  it.each([
    ['one wavelength', [sample(0.97)]],
    ['a magnification', [sample(1.2)]],
    ['several', [sample(1.004, [0.2, 0.3, 0.5]), sample(1, [0.3, 0.4, 0.3]), sample(0.996, [0.5, 0.3, 0.2])]],
  ])('agrees with the reference: %s', async (_, samples) => {
    for (const lamps of [0, 500]) {
      const input = inputOf(61, 43, noise(61, 43, 7, lamps), samples);
      const [fast, slow] = [await warp.warp(input), await referenceWarp.warp(input)];
      expect(furthest(fast, slow)).toBeLessThan(lamps ? 4 : 4e-3);
    }
  });

  it.each([
    ['a shift by whole pixels', { xx: 1, xy: 0, yx: 0, yy: 1, x0: 3, y0: -2 }],
    ['a shift between pixels', { xx: 1, xy: 0, yx: 0, yy: 1, x0: 2.37, y0: 1.71 }],
    [
      'a turn',
      { xx: Math.cos(0.1), xy: Math.sin(0.1), yx: -Math.sin(0.1), yy: Math.cos(0.1), x0: 1.3, y0: 0 },
    ],
  ])('agrees with the reference under %s', async (_, move) => {
    const light = noise(61, 43, 8);
    const input = {
      ...inputOf(61, 43, light, [sample(1.01, [0.5, 0.6, 0.9]), sample(1, [0.5, 0.4, 0.1])]),
      move,
    };
    expect(furthest(await warp.warp(input), await referenceWarp.warp(input))).toBeLessThan(6e-3);
    if (!Number.isInteger(move.x0)) return;
    const [moved] = await warp.warp({ ...inputOf(61, 43, light, [sample(1)]), move });
    for (let y = 5; y < 38; y++)
      expect(moved.slice(y * 61 + 5, y * 61 + 50)).toEqual(
        light[0].slice((y - 2) * 61 + 8, (y - 2) * 61 + 53),
      );
  });

  it('leaves an even picture even, whatever is spread', async () => {
    const flat: Rgb = mapRgb(noise(40, 30, 2), (plane) => plane.fill(0.7));
    const out = await warp.warp(
      inputOf(40, 30, flat, [sample(0.9, [0.4, 0.3, 0.3]), sample(1.1, [0.6, 0.7, 0.7])]),
    );
    for (const plane of out) for (const value of plane) expect(value).toBeCloseTo(0.7, 5);
  });

  it('adds up: parts under the guide of the whole give the whole', async () => {
    const [a, b] = [noise(48, 32, 3), noise(48, 32, 4, 900)];
    const whole = mapRgb(a, (plane, c) => plane.map((value, i) => value + b[c][i]!));
    const samples = [sample(0.985, [0.5, 0.4, 0.1]), sample(1.01, [0.5, 0.6, 0.9])];
    const run = (light: Rgb): Promise<Rgb> => warp.warp({ ...inputOf(48, 32, light, samples), guide: whole });
    const [first, second, both] = [await run(a), await run(b), await run(whole)];
    const sum = mapRgb(first, (plane, c) => plane.map((value, i) => value + second[c][i]!));
    expect(furthest(sum, both)).toBeLessThan(1e-3);
  });

  it('does not ring about a lamp', async () => {
    const light = mapRgb(noise(40, 40, 5), (plane) => plane.fill(0.02));
    for (const plane of light) for (let y = 18; y < 23; y++) plane.fill(2500, y * 40 + 18, y * 40 + 23);
    const [out] = await warp.warp(inputOf(40, 40, light, [sample(0.93)]));
    expect(Math.min(...out)).toBeGreaterThan(0.019);
  });

  // Source: sharp (libvips) enlarges with a Lanczos filter of the same width. What is lost is told by enlarging and reducing
  // again: the kernel may lose no more than that does, of a picture with detail down to a few pixels.
  it('softens no more than a general library does with a Lanczos filter', async () => {
    const [width, height, factor] = [120, 90, 1.15];
    const source = Float32Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      return (
        0.5 +
        0.2 * Math.sin((2 * Math.PI * x) / 4.3) * Math.cos((2 * Math.PI * y) / 5.1) +
        0.1 * Math.sin(x * 0.31)
      );
    });
    const light: Rgb = [source, source, source];
    const [there] = await warp.warp(inputOf(width, height, light, [sample(1 / factor)]));
    const [back] = await warp.warp(inputOf(width, height, [there, there, there], [sample(factor)]));
    const big = { width: Math.round(width * factor), height: Math.round(height * factor) };
    const resize = (data: Float32Array, from: typeof big, to: typeof big): Promise<Buffer> =>
      sharp(Buffer.from(data.buffer), { raw: { ...from, channels: 1 } })
        .resize(to.width, to.height, { fit: 'fill', kernel: 'lanczos3' })
        .raw({ depth: 'float' })
        .toBuffer();
    const floats = (buffer: Buffer): Float32Array =>
      new Float32Array(buffer.buffer.slice(buffer.byteOffset, buffer.byteOffset + buffer.length));
    const enlarged = floats(await resize(source, { width, height }, big));
    const reduced = floats(await resize(enlarged, big, { width, height }));
    const loss = (result: Float32Array): number => {
      let [sum, count] = [0, 0];
      for (let y = 20; y < height - 20; y++)
        for (let x = 20; x < width - 20; x++) {
          sum += (result[y * width + x]! - source[y * width + x]!) ** 2;
          count++;
        }
      return Math.sqrt(sum / count);
    };
    expect(loss(back)).toBeLessThan(1.1 * loss(reduced));
    expect(loss(back)).toBeLessThan(0.03);
  });
});

describe('the filter', () => {
  // Source: Lanczos window of three lobes: whole places are single taps, and its weights sum to 1 when normalised.
  it('is one pixel at whole places and symmetric between them', () => {
    expect(lanczosWeights(0).map((weight) => Math.round(weight * 1e9) / 1e9 + 0)).toEqual([0, 0, 1, 0, 0, 0]);
    const half = lanczosWeights(0.5);
    for (let k = 0; k < 3; k++) expect(half[k]!).toBeCloseTo(half[5 - k]!, 12);
    expect(half.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 12);
  });
});
