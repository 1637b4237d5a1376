import fc from 'fast-check';
import { floatToHalf, floatsToHalves, halvesToFloats } from './half';

describe('half floats', () => {
  // Source: IEEE 754-2008, binary16; the values are those of its tables of limits.
  it.each([
    [0, 0x0000],
    [-0, 0x8000],
    [1, 0x3c00],
    [-2, 0xc000],
    [1 / 3, 0x3555],
    [65504, 0x7bff],
    [65520, 0x7c00],
    [65519.99, 0x7bff],
    [2 ** -14, 0x0400],
    [2 ** -24, 0x0001],
    [2 ** -25, 0x0000],
    [3 * 2 ** -25, 0x0002],
    [Infinity, 0x7c00],
    [-Infinity, 0xfc00],
  ])('%d has the pattern %d', (value, pattern) => {
    expect(floatToHalf(value)).toBe(pattern);
  });

  it('gives every one of the 65536 patterns back', () => {
    const all = Uint16Array.from({ length: 65536 }, (_, pattern) => pattern);
    expect(floatsToHalves(halvesToFloats(all))).toEqual(all);
  });

  it('keeps not-a-number not a number', () => {
    expect(halvesToFloats(Uint16Array.of(floatToHalf(NaN)))[0]).toBeNaN();
  });

  it('rounds to the nearest half, ties to the even one', () => {
    fc.assert(
      fc.property(fc.float({ min: -65504, max: 65504, noNaN: true }), (value) => {
        const pattern = floatToHalf(value);
        const [near, below, above] = halvesToFloats(
          Uint16Array.of(pattern, pattern - 1, pattern + 1),
        ) as unknown as [number, number, number];
        const error = Math.abs(near - value);
        for (const other of [below, above]) {
          if (!Number.isFinite(other)) continue;
          const otherError = Math.abs(other - value);
          expect(error <= otherError).toBe(true);
          if (error === otherError && error > 0) expect(pattern & 1).toBe(0);
        }
      }),
    );
  });

  // Source: common practice, the middle grey of 18 % as half.
  it('holds middle grey to 0.03 %', () => {
    const [grey] = halvesToFloats(Uint16Array.of(floatToHalf(0.18)));
    expect(Math.abs(grey! / 0.18 - 1)).toBeLessThan(3e-4);
  });
});
