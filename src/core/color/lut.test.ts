import fc from 'fast-check';
import { converter } from 'culori';
import { readCube } from '../formats/cube';
import { encodeAcescct } from './aces';
import { balanceMatrix, whiteOf } from './balance';
import {
  ACES_AP0,
  ACES_AP1,
  apply,
  DISPLAY_P3,
  fromRec709,
  REC2020,
  toRec709,
  type Chromaticities,
} from './chromaticities';
import { displayBytes } from '../kernels/display';
import { lutReader, type CubeLut } from './lut';
import { markOutOfRange } from './range-warning';
import type { Triple } from './primaries';
import { encodeSrgb } from './srgb';
import { applyView, viewOf } from './view';

const read = (lut: CubeLut, ...rgb: Triple): number[] => {
  const out: Triple = [0, 0, 0];
  lutReader(lut)(...rgb, out);
  return out;
};

/** A table as text: what a function makes of the corners of a grid, red running fastest. */
function cubeText(size: number, map: (rgb: Triple) => Triple, head = ''): string {
  const rows: string[] = [];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) rows.push(map([r, g, b].map((k) => k / (size - 1)) as Triple).join(' '));
  return `TITLE "made by hand"\n# remark\n${head}LUT_3D_SIZE ${size}\n${rows.join('\n')}\n`;
}

// Source of the form: Cube LUT Specification 1.0 (2013).
describe('a .cube file', () => {
  it('of three dimensions gives back what is linear, everywhere', () => {
    const lut = readCube(
      cubeText(5, ([r, g, b]) => [0.5 * r + 0.2 * g, g, 1 - b]),
      'a.cube',
    );
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(unit, unit, unit, (r, g, b) => {
        const out = read(lut, r, g, b);
        [0.5 * r + 0.2 * g, g, 1 - b].forEach((value, c) => expect(out[c]!).toBeCloseTo(value, 5));
      }),
    );
  });

  // Source: Kasson, Plouffe & Nin 1993: between grid points a tetrahedron's four corners are mixed by barycentric weights.
  it('is read by tetrahedra: on the diagonal of a cell only its two ends count', () => {
    const lut = readCube(
      cubeText(2, ([r, g, b]) => (r === g && g === b ? [r, g, b] : [9, 9, 9])),
      'a.cube',
    );
    expect(read(lut, 0.3, 0.3, 0.3)[0]!).toBeCloseTo(0.3, 6);
    // With r > g > b the corners are black, red, yellow and white.
    const [r] = read(lut, 0.6, 0.4, 0.1);
    expect(r!).toBeCloseTo((1 - 0.6) * 0 + (0.6 - 0.4) * 9 + (0.4 - 0.1) * 9 + 0.1, 6);
  });

  it('has a domain of its own, beyond which its ends go on', () => {
    const lut = readCube(
      cubeText(3, (rgb) => rgb, 'DOMAIN_MIN -1 0 0\nDOMAIN_MAX 3 2 1\n'),
      'a.cube',
    );
    const out = read(lut, 1, 1, 0.25);
    [0.5, 0.5, 0.25].forEach((value, c) => expect(out[c]!).toBeCloseTo(value, 6));
    expect(read(lut, 99, -99, 2)).toEqual([1, 0, 1]);
  });

  it('of one dimension maps each channel, and may stand before one of three', () => {
    const one = readCube('LUT_1D_SIZE 3\n0 0 1\n0.25 0.5 0.5\n1 1 0\n', 'a.cube');
    [0.125, 0.25, 0.75].forEach((value, c) => expect(read(one, 0.25, 0.25, 0.25)[c]!).toBeCloseTo(value, 6));
    const both = readCube(
      'LUT_1D_SIZE 2\nLUT_3D_SIZE 2\nLUT_1D_INPUT_RANGE 0 4\nLUT_3D_INPUT_RANGE 0 1\n0 0 0\n1 1 1\n' +
        '0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n',
      'a.cube',
    );
    [0.5, 0.25, 1].forEach((value, c) => expect(read(both, 2, 1, 4)[c]!).toBeCloseTo(value, 6));
  });

  it.each([
    ['LUT_3D_SIZE 2\n0 0 0\n1 1\n', /line 3 is not three numbers/],
    ['LUT_3D_SIZE 2\n0 0 0\n', /ends after 1 of 8 rows/],
    ['0 0 0\n', /tells no size/],
    ['LUT_3D_SIZE two\n', /line 1 wants 1 number/],
    ['LUT_3D_SIZE 4000\n', /line 1 tells a size of 4000/],
    ['LUT_3D_SIZE 2\nHELLO 3\n', /line 2 begins with "HELLO"/],
    ['LUT_1D_SIZE 2\n0 0 0\n1 1 1\n2 2 2\n', /line 4 has more than 2 rows/],
    ['LUT_1D_SIZE 2\n0 0 0\nLUT_1D_SIZE 2\n', /line 3 says "LUT_1D_SIZE 2" among the numbers/],
    ['LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\nDOMAIN_MAX 0 1 1\n0 0 0\n1 1 1\n', /domain ends before it begins/],
  ])('that is not right is refused by its line: %j', (text, words) => {
    expect(() => readCube(text, 'bad.cube')).toThrow(words);
  });
});

describe('the view of a table', () => {
  const negative = readCube(
    cubeText(2, ([r, g, b]) => [1 - r, 1 - g, 1 - b]),
    'a.cube',
  );
  const one = (value: number): Float32Array[] => [0, 1, 2].map(() => Float32Array.of(value));

  it('is fed what it wants and mixed by its strength, alike on the screen and in files', () => {
    for (const strength of [1, 0.25]) {
      const view = viewOf('lut', { lut: negative, input: 'srgb', strength });
      const out = new Float32Array(3);
      applyView(view, one(0.18), 1, out);
      // sRGB of 0.18 is 0.4614 (IEC 61966-2-1).
      const wanted = strength * (1 - 0.4614) + (1 - strength) * 0.4614;
      expect(out[0]!).toBeCloseTo(wanted, 3);
      expect(displayBytes(view, one(0.18), 1)[0]!).toBe(Math.round(255 * out[0]!));
    }
  });

  // Source: AMPAS S-2016-001: 0.18 is 0.4135884, the break at 0.0078125 is 0.155251141552511.
  it('knows ACEScct', () => {
    expect(encodeAcescct(0.18)).toBeCloseTo(0.4135884, 6);
    expect(encodeAcescct(0.0078125)).toBeCloseTo(0.155251141552511, 9);
    expect(encodeAcescct(0)).toBeCloseTo(0.0729055341958355, 12);
    const view = viewOf('lut', { lut: negative, input: 'acescct', strength: 1 });
    const out = new Float32Array(3);
    applyView(view, one(0.18), 1, out);
    expect(out[1]!).toBeCloseTo(1 - 0.4135884, 5);
  });
});

describe('primaries', () => {
  const colours: Triple[] = [
    [1, 0, 0],
    [0.2, 0.6, 0.1],
    [0.05, 0.1, 0.9],
    [0.5, 0.5, 0.5],
  ];

  // Source: the package culori converts between the spaces independently; Display P3 has the curve of sRGB, Rec.2020 its own.
  it('of P3 and Rec.2020 agree with culori', () => {
    const signed = (curve: (v: number) => number) => (v: number) => Math.sign(v) * curve(Math.abs(v));
    const curves = {
      p3: signed(encodeSrgb),
      rec2020: signed((v) =>
        v < 0.018053968510807 ? 4.5 * v : 1.09929682680944 * v ** 0.45 - 0.09929682680944,
      ),
    };
    for (const [mode, primaries] of [
      ['p3', DISPLAY_P3],
      ['rec2020', REC2020],
    ] as const)
      for (const [r, g, b] of colours) {
        const theirs = converter(mode)({ mode: 'lrgb', r, g, b });
        const own = apply(fromRec709(primaries)!, [r, g, b]);
        [theirs.r, theirs.g, theirs.b].forEach((value, c) =>
          expect(curves[mode](own[c]!)).toBeCloseTo(value, 3),
        );
        apply(toRec709(primaries)!, own).forEach((value, c) => expect(value).toBeCloseTo([r, g, b][c]!, 9));
      }
  });

  // Source: AMPAS TB-2014-004 / S-2014-004: linear Rec.709 to ACEScg with Bradford from D65 to the ACES white.
  it('of ACES agree with the published matrices', () => {
    const row = (primaries: Chromaticities): number[] => fromRec709(primaries)![0].map((v) => v);
    [0.6131, 0.3395, 0.0474].forEach((value, c) => expect(row(ACES_AP1)[c]!).toBeCloseTo(value, 3));
    [0.4396, 0.383, 0.1774].forEach((value, c) => expect(row(ACES_AP0)[c]!).toBeCloseTo(value, 3));
  });
});

describe('white balance', () => {
  // Source: CIE 15: black bodies of 2856 K and 4000 K have x, y = 0.4476, 0.4074 and 0.3805, 0.3768.
  it.each([
    [2856, [0.4476, 0.4074]],
    [4000, [0.3805, 0.3768]],
  ] as const)('knows the locus at %d K', (kelvin, [x, y]) => {
    expect(whiteOf(kelvin, 0)[0]).toBeCloseTo(x, 3);
    expect(whiteOf(kelvin, 0)[1]).toBeCloseTo(y, 3);
  });

  it('makes the light that it is set to white, and is nothing at the neutral', () => {
    expect(balanceMatrix(6500, 0)).toBeUndefined();
    for (const [kelvin, tint] of [
      [3200, 0],
      [9000, 0],
      [5000, 40],
      [4000, -60],
    ] as const) {
      const [x, y] = whiteOf(kelvin, tint);
      const toRgb = converter('lrgb');
      const { r, g, b } = toRgb({ mode: 'xyz65', x: x / y, y: 1, z: (1 - x - y) / y });
      const balanced = apply(balanceMatrix(kelvin, tint)!, [r, g, b]);
      const [x0, y0] = whiteOf(6500, 0);
      const neutral = toRgb({ mode: 'xyz65', x: x0 / y0, y: 1, z: (1 - x0 - y0) / y0 });
      [neutral.r, neutral.g, neutral.b].forEach((value, c) =>
        expect(balanced[c]! / balanced[1]).toBeCloseTo(value / neutral.g, 3),
      );
    }
  });

  it('gets warmer with the temperature and loses green with the tint', () => {
    const white = (kelvin: number, tint: number): Triple => apply(balanceMatrix(kelvin, tint)!, [1, 1, 1]);
    expect(white(9000, 0)[0]).toBeGreaterThan(white(9000, 0)[2]);
    expect(white(3200, 0)[2]).toBeGreaterThan(white(3200, 0)[0]);
    expect(white(6500, 50)[1]).toBeLessThan(white(6500, 50)[0]);
    expect(white(6500, -50)[1]).toBeGreaterThan(white(6500, -50)[2]);
  });
});

describe('what a display cannot show', () => {
  it('is painted and counted', () => {
    const rgb = [
      Float32Array.of(2, 0, -0.5, 0.3),
      Float32Array.of(0.2, 0, 0.5, 0.3),
      Float32Array.of(0.2, 0, 0.1, 0.3),
    ];
    const pixels = displayBytes(viewOf('srgb'), rgb, 1);
    const before = [...pixels.subarray(12)];
    expect(markOutOfRange(pixels, rgb)).toEqual({ clipped: 0.25, crushed: 0.25, gamut: 0.25 });
    expect([...pixels.subarray(12)]).toEqual(before);
    expect(pixels[0]).not.toBe(255);
  });
});
