import fc from 'fast-check';
import { distort, foldRadius, undistort } from './distortion';
import { LINES, MATERIALS, normalIndex, parseGlassCode, refractiveIndex, relativeDispersion } from './glass';
import { barrelLeaves, cosineFourth } from '../stations/glass/vignette';
import { discOverlap, lensAberrations, shiftOfOverlap } from './lens/aberrations';
import { scaleLens, stopLens, type LensDesign } from './lens/design';
import { LENS_DESIGNS } from './lens/designs';
import { spectralNodes } from './spectral-weights';

/** Index by Sellmeier's formula (1871), the wavelength in micrometres; terms are B and C of each oscillator. */
const sellmeier =
  (...terms: readonly (readonly [number, number])[]) =>
  (nm: number): number => {
    const square = (nm / 1000) ** 2;
    return Math.sqrt(1 + terms.reduce((sum, [b, c]) => sum + (b * square) / (square - c), 0));
  };

// Coefficients: catalogue values of 517642 and 785258; Peter 1923 for diamond; Malitson 1965 for silica; Malitson & Dodge 1972
// for corundum; Wood & Nassau 1982 for zirconia. All from memory.
const MEASURED = {
  crown: sellmeier([1.03961212, 0.00600069867], [0.231792344, 0.0200179144], [1.01046945, 103.560653]),
  flint: sellmeier([1.73848403, 0.0136068604], [0.311168974, 0.0615960463], [1.17490871, 121.922711]),
  diamond: sellmeier([0.3306, 0.175 ** 2], [4.3356, 0.106 ** 2]),
  silica: sellmeier([0.6961663, 0.0684043 ** 2], [0.4079426, 0.1162414 ** 2], [0.8974794, 9.896161 ** 2]),
  corundum: sellmeier([1.4313493, 0.0726631 ** 2], [0.65054713, 0.1193242 ** 2], [5.3414021, 18.028251 ** 2]),
  zirconia: sellmeier([1.347091, 0.062543 ** 2], [2.117788, 0.166739 ** 2], [9.452943, 24.32057 ** 2]),
} as const;

describe('the index of a glass', () => {
  it.each(Object.entries(MEASURED))('%s has the index and the Abbe number of its formula', (id, index) => {
    const { nd, vd } = MATERIALS.find((material) => material.id === id)!;
    expect(nd).toBeCloseTo(index(LINES.d), 3);
    expect(vd).toBeCloseTo((index(LINES.d) - 1) / (index(LINES.F) - index(LINES.C)), 0);
  });

  // Source: the same formulas. The third term is to be right to 2e-3 from 400 to 700 nm, of crown to 2e-4; two terms are not.
  it('follows them with its third term, and of dense flint better than with two', () => {
    const worst = (index: (nm: number) => number, model: (nm: number) => number): number =>
      Math.max(...Array.from({ length: 31 }, (_, k) => Math.abs(index(400 + 10 * k) - model(400 + 10 * k))));
    for (const [id, index] of Object.entries(MEASURED)) {
      const { nd, vd } = MATERIALS.find((material) => material.id === id)!;
      const glass = { nd, vd };
      const own = worst(index, (nm) => normalIndex(glass, nm));
      expect(own).toBeLessThan(id === 'crown' ? 2.5e-4 : 3.5e-3);
      if (id === 'flint') expect(own).toBeLessThan(0.5 * worst(index, (nm) => refractiveIndex(glass, nm)));
    }
  });

  it('has the Abbe number that it was made from', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1.3, max: 2.7, noNaN: true }),
        fc.double({ min: 1, max: 100, noNaN: true }),
        (nd, vd) => {
          const at = (nm: number): number => normalIndex({ nd, vd }, nm);
          expect((nd - 1) / (at(LINES.F) - at(LINES.C))).toBeCloseTo(vd, 6);
          expect(at(LINES.d)).toBeCloseTo(nd, 12);
        },
      ),
    );
  });

  // Source: MIL-G-174: six digits are the index less 1 and the Abbe number.
  it('is read from six digits', () => {
    expect(parseGlassCode('517642')).toEqual({ nd: 1.517, vd: 64.2 });
    expect(parseGlassCode('785-258')!.nd).toBeCloseTo(1.785, 12);
    for (const text of ['', '51764', 'BK7', '517000', '5176422'])
      expect(parseGlassCode(text)).toBeUndefined();
  });

  // Source: the achromat condition phi1 / V1 + phi2 / V2 = 0 brings F and C to one focus (Born & Wolf 1959, 4.7); what is left
  // at the d line is about f / 2000 (secondary spectrum).
  it('makes of crown and flint an achromat with the secondary spectrum of the textbook', () => {
    const [crown, flint] = [
      { nd: 1.5168, vd: 64.17 },
      { nd: 1.7847, vd: 25.76 },
    ];
    const [p1, p2] = [crown.vd / (crown.vd - flint.vd), -flint.vd / (crown.vd - flint.vd)];
    const power = (nm: number): number =>
      p1 * ((normalIndex(crown, nm) - 1) / (crown.nd - 1)) +
      p2 * ((normalIndex(flint, nm) - 1) / (flint.nd - 1));
    expect(power(LINES.F)).toBeCloseTo(power(LINES.C), 9);
    const left = 1 / power(LINES.F) - 1 / power(LINES.d);
    expect(left).toBeGreaterThan(1 / 4000);
    expect(left).toBeLessThan(1 / 1200);
  });
});

describe('wavelengths of a spread', () => {
  const place = (nm: number): number => 10 * relativeDispersion(60, nm);
  const nodes = spectralNodes((a, b) => Math.abs(place(b) - place(a)), 0.7);

  it('lie no farther apart than asked, and keep white white', () => {
    for (let k = 1; k < nodes.length; k++)
      expect(Math.abs(place(nodes[k]!.wavelength) - place(nodes[k - 1]!.wavelength))).toBeLessThan(0.72);
    for (let c = 0; c < 3; c++) {
      expect(nodes.reduce((sum, { weight }) => sum + weight[c]!, 0)).toBeCloseTo(1, 12);
      for (const { weight } of nodes) expect(weight[c]!).toBeGreaterThanOrEqual(0);
    }
  });

  it('have red at one end, blue at the other and green between', () => {
    const mean = (c: number): number =>
      nodes.reduce((sum, { wavelength, weight }) => sum + weight[c]! * wavelength, 0);
    expect(mean(0)).toBeGreaterThan(590);
    expect(mean(1)).toBeGreaterThan(530);
    expect(mean(1)).toBeLessThan(565);
    expect(mean(2)).toBeLessThan(475);
  });

  it('are one where nothing is spread', () => {
    expect(spectralNodes(() => 0, 0.7)).toEqual([{ wavelength: LINES.d, weight: [1, 1, 1] }]);
  });
});

describe('distortion', () => {
  // Source: Brown 1966: r (1 + k1 r^2 + k2 r^4). The inverse is asked for to 0.01 px; of half a diagonal of 2000 px that is 5e-6.
  it('is undone by its inverse, to a hundredth of a pixel and far below', () => {
    const k = fc.double({ min: -0.3, max: 0.3, noNaN: true }).filter((value) => Math.abs(value) > 1e-6);
    fc.assert(
      fc.property(k, k, fc.double({ min: 0, max: 1.2, noNaN: true }), (k1, k2, r) => {
        fc.pre(r < 0.99 * foldRadius({ k1, k2 }));
        expect(Math.abs(undistort({ k1, k2 }, distort({ k1, k2 }, r)) - r)).toBeLessThan(1e-8);
      }),
    );
  });

  it('is held where a barrel folds the picture back', () => {
    const strong = { k1: -0.3, k2: -0.3 };
    expect(foldRadius(strong)).toBeLessThan(1);
    expect(undistort(strong, 2)).toBeCloseTo(foldRadius(strong), 2);
    expect(foldRadius({ k1: 0.1, k2: 0 })).toBe(Infinity);
  });
});

describe('vignetting', () => {
  // Source: the fourth power of the cosine, textbook values to seven digits.
  it.each([
    [10, 0.9406019],
    [20, 0.7797282],
    [30, 0.5625],
    [45, 0.25],
  ])('leaves of light at %d degrees %d', (degrees, expected) => {
    expect(cosineFourth(Math.tan((degrees * Math.PI) / 180))).toBeCloseTo(expected, 6);
  });

  // Source: plane geometry: two discs of radius 1 whose middles are 1 apart have 2 pi/3 - sqrt(3)/2 in common.
  it('cuts the pupil by the area of two discs', () => {
    const common = (2 * Math.PI) / 3 - Math.sqrt(3) / 2;
    expect(discOverlap(1)).toBeCloseTo(common / Math.PI, 12);
    expect(barrelLeaves(1, 1)).toBeCloseTo(common / Math.PI, 12);
    expect(shiftOfOverlap(common / Math.PI)).toBeCloseTo(1, 9);
    // A pupil stopped down lies wholly within the barrel; one that the barrel has left is dark.
    expect(barrelLeaves(0.4, 0.5)).toBe(1);
    expect(barrelLeaves(1.5, 0.25)).toBe(0);
    expect(barrelLeaves(0.5, 1)).toBeLessThan(barrelLeaves(0.5, 0.75));
  });
});

describe('a traced lens', () => {
  const traced = (id: string, fStop: number, tangent = 0.3) =>
    lensAberrations(stopLens(scaleLens(LENS_DESIGNS.get(id)!, 50), fStop), tangent);

  // Source: lateral colour of real designs between F and C is 0.01 to 0.07 % of the picture's height, axial colour of achromats
  // about 1/2000 of the focal length (from memory; common practice).
  it('has colours of the size that real designs have', () => {
    const { lateral, axial, wavelengths, tangents } = traced('double-gauss-f2', 8);
    const [f, c] = [wavelengths.indexOf(LINES.F), wavelengths.indexOf(LINES.C)];
    const last = tangents.length - 1;
    const share = Math.abs(lateral[f]![last]! - lateral[c]![last]!);
    expect(share).toBeGreaterThan(5e-5);
    expect(share).toBeLessThan(1e-3);
    expect(Math.abs(axial[c]! - axial[f]!)).toBeLessThan(2e-3);
    expect(axial[wavelengths.indexOf(LINES.d)]).toBe(0);
  });

  it('loses less to its edges as it is stopped down', () => {
    const [open, stopped] = [traced('double-gauss-f2', 2), traced('double-gauss-f2', 8)];
    expect(open.passed.at(-1)!).toBeLessThan(0.6);
    expect(stopped.passed[8]!).toBeGreaterThan(0.95);
    for (const { passed } of [open, stopped]) expect(passed[0]).toBe(1);
  });

  // Source: thin-lens theory: a single lens's foci of F and C lie f / V apart (Born & Wolf 1959, 4.7).
  it('that is one thin lens spreads its focus by one over its Abbe number', () => {
    const thin: LensDesign = {
      id: 'singlet',
      focalLength: 100,
      fNumber: 8,
      semiFieldDeg: 5,
      surfaces: [
        { radius: 103.36, thickness: 0.001, nd: 1.5168, vd: 64.17, semiAperture: 6.25, stop: true },
        { radius: -103.36, thickness: 100, nd: 1, vd: null, semiAperture: 6.25, stop: false },
      ],
    };
    const { axial, wavelengths } = lensAberrations(thin, 0.05);
    const spread = axial[wavelengths.indexOf(LINES.C)]! - axial[wavelengths.indexOf(LINES.F)]!;
    expect(spread * 64.17).toBeCloseTo(1, 1);
  });
});
