import { serialRunner } from '../../jobs';
import { toRgb } from '../../image/rgb';
import { seeded } from '../../optics/seeded';
import { LEAN_STEPS, type DispersionInput } from '.';
import { referenceDispersion } from './reference';
import { wasmDispersion } from './wasm';

function input(width: number, height: number, seed: number): DispersionInput {
  const next = seeded(seed);
  const plane = (low: number, high: number): Float32Array =>
    Float32Array.from({ length: width * height }, () => low + (high - low) * next());
  const table = (most: number): Float32Array =>
    Float32Array.from({ length: LEAN_STEPS + 1 }, (_, k) => (most * k) / LEAN_STEPS);
  return {
    width,
    height,
    seen: toRgb([plane(0, 40), plane(0, 40), plane(0, 40)]),
    matte: plane(-0.4, 1.2).map((value) => Math.min(1, Math.max(0, value))),
    right: plane(-0.7, 0.7),
    down: plane(-0.7, 0.7),
    steepest: 0.9,
    levels: [
      { upTo: 0.3, samples: [{ shifts: table(2), weight: [1, 1, 1] }] },
      {
        upTo: 0.9,
        samples: [
          { shifts: table(9), weight: [0.1, 0.2, 0.6] },
          { shifts: table(0), weight: [0.3, 0.6, 0.3] },
          { shifts: table(-30), weight: [0.6, 0.2, 0.1] },
        ],
      },
    ],
  };
}

describe('dispersion in WebAssembly', () => {
  it.each([
    [53, 37],
    [1, 9],
    [16, 1],
  ])('agrees with the reference on %d x %d', async (width, height) => {
    const given = input(width, height, width);
    // A part of the picture has no glass at all.
    given.matte.fill(0, 0, Math.floor((width * height) / 3));
    const [fast, slow] = [
      await wasmDispersion(serialRunner).disperse(given),
      await referenceDispersion.disperse(given),
    ];
    fast.forEach((plane, c) =>
      plane.forEach((value, i) => expect(Math.abs(value - slow[c]![i]!)).toBeLessThan(2e-3)),
    );
  });

  it('changes nothing of even light, and nothing where there is no glass', async () => {
    const given = input(40, 30, 5);
    for (const plane of given.seen) plane.fill(3);
    given.matte.fill(1);
    for (const plane of await wasmDispersion(serialRunner).disperse(given))
      for (const value of plane) expect(Math.abs(value)).toBeLessThan(1e-5);
    // Light that lies beside the glass, as other things in its pass do, is not seen through it.
    const beside = { ...given, matte: given.matte.map((_, i) => (i % 40 < 23 && i > 130 ? 1 : 0)) };
    for (const plane of await wasmDispersion(serialRunner).disperse(beside))
      for (const value of plane) expect(Math.abs(value)).toBeLessThan(1e-5);
    const clear = { ...input(40, 30, 6), matte: new Float32Array(1200) };
    for (const plane of await wasmDispersion(serialRunner).disperse(clear))
      expect(plane.every((v) => v === 0)).toBe(true);
  });
});
