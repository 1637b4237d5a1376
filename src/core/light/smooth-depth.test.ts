import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { readExr } from '../formats/exr/read';
import { channelFloats } from '../image/picture';
import { cutPlane } from './region';
import { depthSteps, smoothDepth } from './smooth-depth';

/** The distances of the demo between 1 and 60 m, as shares of the way, and where its quay lies. */
async function demo() {
  const picture = await readExr(readFileSync('public/demo/quay.exr'));
  // A part of it, most of which is floor.
  const window = { x: 330, y: 420, width: 480, height: 300 };
  const cut = (name: string): Float32Array =>
    cutPlane(channelFloats(picture.channels.get(name)!), picture.width, window);
  const { width, height } = window;
  const [distance, floor] = [cut('depth.Z'), cut('matte.quay')];
  const share = Float32Array.from(distance, (z) => Math.min(1, Math.max(0, (z - 1) / 59)));
  return { width, height, share, floor };
}

const bytesOf = (share: Float32Array): Uint8Array =>
  Uint8Array.from(share, (value) => Math.round(value * 255));
const storedOf = (bytes: Uint8Array): Float32Array => Float32Array.from(bytes, (byte) => byte / 255);

describe('a depth of 8 bits', () => {
  const plane = demo();

  /** Errors in steps of a depth against the one of floats: of values, and of slopes over 6 pixels, both on the quay. */
  async function errors(made: Float32Array): Promise<{ value: number; slope: number }> {
    const { width, height, share, floor } = await plane;
    let [value, slope, count] = [0, 0, 0];
    for (let i = 3 * width; i < (height - 3) * width; i++) {
      const around = [-3, -2, -1, 0, 1, 2, 3].map((k) => i + k * width);
      if (around.some((at) => floor[at]! < 0.999 || Math.abs(share[at]! - share[i]!) > 6 / 255)) continue;
      const [above, below] = [around[0]!, around[6]!];
      value += (made[i]! - share[i]!) ** 2;
      slope += (made[below]! - made[above]! - share[below]! + share[above]!) ** 2;
      count++;
    }
    expect(count).toBeGreaterThan(50_000);
    return { value: 255 * Math.sqrt(value / count), slope: 255 * Math.sqrt(slope / count) };
  }

  it('bands less when it is smoothed, and goes no farther than it was rounded', async () => {
    const { width, height, share } = await plane;
    const stored = storedOf(bytesOf(share));
    const steps = depthSteps(stored)!;
    expect(steps.step).toBeCloseTo(1 / 255, 6);
    const smooth = smoothDepth(stored, width, height, steps);
    const [before, after] = [await errors(stored), await errors(smooth)];
    // Source: rounding to whole steps leaves an error of 1 / sqrt(12) of one (Bennett 1948).
    expect(before.value).toBeCloseTo(1 / Math.sqrt(12), 1);
    expect(after.value).toBeLessThan(0.65 * before.value);
    expect(after.slope).toBeLessThan(0.4 * before.slope);
    expect(smooth.every((value, i) => Math.abs(value - stored[i]!) <= 0.5001 / 255)).toBe(true);
  });

  it('that was compressed is freed of what rings on its surfaces', async () => {
    const { width, height, share } = await plane;
    const raw = { width, height, channels: 1 as const };
    const jpeg = await sharp(bytesOf(share), { raw }).jpeg({ quality: 95 }).toBuffer();
    const stored = storedOf(new Uint8Array(await sharp(jpeg).greyscale().raw().toBuffer()));
    const smooth = smoothDepth(stored, width, height, depthSteps(stored)!);
    const [before, after] = [await errors(stored), await errors(smooth)];
    expect(after.value).toBeLessThan(0.7 * before.value);
    expect(after.slope).toBeLessThan(0.5 * before.slope);
  });

  it('keeps a straight slope and the edge at its end as they are', () => {
    const [width, height] = [128, 40];
    const exact = Float32Array.from({ length: width * height }, (_, i) =>
      i % width < 70 ? 40 + (i % width) / 5 + Math.floor(i / width) / 7 : 200 - (i % width) / 9,
    );
    const stored = exact.map(Math.round);
    const smooth = smoothDepth(stored, width, height, depthSteps(stored)!);
    smooth.forEach((value, i) => expect(Math.abs(value - exact[i]!)).toBeLessThan(1.001));
    const rms = (made: Float32Array): number =>
      Math.sqrt(made.reduce((sum, value, i) => sum + (value - exact[i]!) ** 2, 0) / made.length);
    expect(rms(smooth)).toBeLessThan(0.6 * rms(stored));
  });

  it('is told from one of floats and from one of a few surfaces', () => {
    expect(depthSteps(Float32Array.from({ length: 900 }, (_, i) => i * 0.37))).toBeUndefined();
    expect(depthSteps(Float32Array.from({ length: 900 }, (_, i) => [2, 9, 30][i % 3]!))).toBeUndefined();
    expect(depthSteps(Float32Array.from({ length: 900 }, (_, i) => Math.sqrt(i % 40)))).toBeUndefined();
    expect(depthSteps(Float32Array.from({ length: 900 }, (_, i) => (i % 60) / 255))).toMatchObject({
      count: 60,
    });
    expect(depthSteps(Float32Array.of(1, NaN))).toBeUndefined();
  });
});
