import { converter } from 'culori';
import fc from 'fast-check';
import { apply, areUsable, luminanceOf, REC709_CHROMATICITIES, toRec709 } from './chromaticities';
import { readChromaticities } from '../image/chromaticities';
import type { Chromaticities } from './chromaticities';
import { FALSE_COLOURS, falseColourBytes } from './false-colour';
import { hexToLinear } from './hex';
import { monotoneCubic, monotoneTangents } from './monotone';
import { decodeSrgb, encodeSrgb } from './srgb';
import { applyLevels, contrastMap, curveMap, levelsAreNeutral, ToneTable } from './tone';

describe('the monotone cubic', () => {
  // Source: Fritsch & Carlson (1980), data set RPN 14 of table 1 (from memory): a titration curve whose ordinary
  // splines wiggle.
  const TITRATION: [number, number][] = [
    [7.99, 0],
    [8.09, 2.76429e-5],
    [8.19, 4.37498e-2],
    [8.7, 0.169183],
    [9.2, 0.469428],
    [10, 0.94374],
    [12, 0.998636],
    [15, 0.999919],
    [20, 0.999994],
  ];

  it('passes through its points and never turns between them', () => {
    const curve = monotoneCubic(TITRATION, 1);
    for (const [x, y] of TITRATION) expect(curve(x)).toBeCloseTo(y, 12);
    let before = -Infinity;
    for (let x = 7.99; x <= 20; x += 0.003) {
      const value = curve(x);
      expect(value).toBeGreaterThanOrEqual(before - 1e-12);
      before = value;
    }
  });

  it('keeps tangents in the region that the theorem allows', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 2, maxLength: 12 }),
        (ys) => {
          const points = ys.map((y, i): [number, number] => [i * 0.7, y]);
          const tangents = monotoneTangents(points);
          points.slice(1).forEach(([x, y], i) => {
            const slope = (y - points[i]![1]) / (x - points[i]![0]);
            const [a, b] = [tangents[i]!, tangents[i + 1]!];
            // Where the data stand still the curve does; elsewhere (a/slope)^2 + (b/slope)^2 <= 9, both not negative.
            if (slope === 0) return expect([Math.abs(a), Math.abs(b)]).toEqual([0, 0]);
            expect(a / slope).toBeGreaterThanOrEqual(0);
            expect(Math.hypot(a / slope, b / slope)).toBeLessThanOrEqual(3 + 1e-9);
          });
        },
      ),
    );
  });

  it('is a straight line through a straight line, and goes on with its outer slope', () => {
    const line = monotoneCubic(
      [
        [-2, -1],
        [0, 0],
        [4, 2],
      ],
      1,
    );
    expect(line(1)).toBeCloseTo(0.5, 12);
    expect(line(6)).toBeCloseTo(4, 12);
    expect(line(-3)).toBeCloseTo(-2, 12);
    expect(monotoneCubic([], 1)(3)).toBe(3);
    expect(monotoneCubic([[1, 4]], 1)(3)).toBe(6);
  });
});

describe('tone', () => {
  it('tables agree with the function they stand for', () => {
    const map = curveMap([
      [-6, -5],
      [0, 0.7],
      [5, 4],
    ]);
    const lights = Float32Array.from({ length: 4000 }, (_, i) => 1.013 ** (i - 1500));
    const out = new ToneTable(map).apply(lights);
    lights.forEach((light, i) => {
      if (light > 2 ** -24 && light < 2 ** 20) expect(out[i]! / map(light)).toBeCloseTo(1, 5);
    });
  });

  it('leaves black black and carries the slope of the low end through zero', () => {
    const table = new ToneTable((light) => 2 * light);
    expect(
      [...table.apply(Float32Array.of(0, -0.5, 1e-12, 1e9))].map((value) => Number(value.toPrecision(5))),
    ).toEqual([0, -1, 2e-12, 2e9]);
  });

  // Source: by definition, a slope in log2 about the pivot.
  it.each([
    [2, 0.18, 0.36, 0.72],
    [0.5, 0.18, 0.72, 0.36],
    [1, 0.5, 3, 3],
    [2, 1, 0.5, 0.25],
  ])('contrast %d about %d takes %d to %d', (contrast, pivot, light, wanted) => {
    expect(contrastMap(contrast, pivot)(light)).toBeCloseTo(wanted, 12);
    expect(contrastMap(contrast, pivot)(pivot)).toBeCloseTo(pivot, 12);
  });

  it('maps negative light as positive light, with its sign', () => {
    for (const contrast of [0.1, 0.5, 2]) {
      const table = new ToneTable(contrastMap(contrast, 0.18));
      const [up, down] = table.apply(Float32Array.of(0.01, -0.01));
      expect(down).toBe(-up!);
      expect(up! / (0.18 * (0.01 / 0.18) ** contrast)).toBeCloseTo(1, 5);
    }
    const levels = { inLow: 0, inHigh: 1, gamma: 2.5, outLow: 0, outHigh: 1 };
    const [up, down] = applyLevels(Float32Array.of(0.2, -0.2), levels);
    expect(down).toBe(-up!);
  });

  it('levels put the ends where they are told and bend between them', () => {
    const neutral = { inLow: 0, inHigh: 1, gamma: 1, outLow: 0, outHigh: 1 };
    expect(levelsAreNeutral(neutral)).toBe(true);
    const levels = { inLow: 0.1, inHigh: 0.6, gamma: 2, outLow: 0.2, outHigh: 1.2 };
    expect(levelsAreNeutral(levels)).toBe(false);
    const out = applyLevels(Float32Array.of(0.1, 0.6, 0.225, -0.4), levels);
    [0.2, 1.2, 0.7, -0.8].forEach((value, i) => expect(out[i]).toBeCloseTo(value, 3));
    expect([...applyLevels(Float32Array.of(0.5), { ...neutral, inLow: 0.5, inHigh: 0.5 })]).toEqual([0]);
  });
});

describe('sRGB', () => {
  // Source: IEC 61966-2-1 as culori 4 has it.
  it('decodes and encodes as a colour library does', () => {
    const toLinear = converter('lrgb');
    for (let value = 0; value <= 255; value++) {
      const encoded = value / 255;
      expect(decodeSrgb(encoded)).toBeCloseTo(toLinear({ mode: 'rgb', r: encoded, g: 0, b: 0 }).r, 6);
      expect(encodeSrgb(decodeSrgb(encoded))).toBeCloseTo(encoded, 6);
    }
    expect(hexToLinear('#ff8000').map((part) => Number(part.toFixed(5)))).toEqual([1, 0.21586, 0]);
  });
});

describe('primaries of a file', () => {
  // Source: the primaries of the standards that name them; conversions by culori 4.
  const SPACES: [mode: 'rec2020' | 'p3' | 'a98' | 'prophoto', primaries: Chromaticities][] = [
    ['rec2020', { red: [0.708, 0.292], green: [0.17, 0.797], blue: [0.131, 0.046], white: [0.3127, 0.329] }],
    ['p3', { red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06], white: [0.3127, 0.329] }],
    ['a98', { red: [0.64, 0.33], green: [0.21, 0.71], blue: [0.15, 0.06], white: [0.3127, 0.329] }],
    [
      'prophoto',
      {
        red: [0.734699, 0.265301],
        green: [0.159597, 0.840403],
        blue: [0.036598, 0.000105],
        white: [0.3457, 0.3585],
      },
    ],
  ];

  it.each(SPACES)('%s becomes linear Rec.709 as a colour library has it', (mode, primaries) => {
    const matrix = toRec709(primaries)!;
    const toLinear = converter('lrgb');
    for (const colour of [
      [1, 1, 1],
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ]) {
      // At 0 and 1 every transfer curve is where it is, so that only the primaries are compared.
      const [r, g, b] = colour as [number, number, number];
      const wanted = toLinear({ mode, r, g, b });
      const own = apply(matrix, [r, g, b]);
      [wanted.r, wanted.g, wanted.b].forEach((value, i) =>
        expect(Math.abs(own[i]! - value)).toBeLessThan(2e-3),
      );
    }
  });

  it('that are Rec.709 need no matrix', () => {
    expect(toRec709(REC709_CHROMATICITIES)).toBeUndefined();
    expect(toRec709({ ...REC709_CHROMATICITIES, red: [0.6401, 0.3299] })).toBeUndefined();
  });

  // Source: ITU-R BT.709-6 and BT.2020-2: shares of the primaries in luminance.
  it('weigh luminance as the standards say', () => {
    luminanceOf(REC709_CHROMATICITIES).forEach((share, i) =>
      expect(share).toBeCloseTo([0.2126, 0.7152, 0.0722][i]!, 4),
    );
    luminanceOf(SPACES[0]![1]).forEach((share, i) =>
      expect(share).toBeCloseTo([0.2627, 0.678, 0.0593][i]!, 4),
    );
  });

  // Source: SMPTE ST 2065-1:2021, primaries of ACES AP0, whose blue has a negative y; Bradford adaptation (ICC.1:2022,
  // annex E) from its white to D65, computed independently in double precision.
  it('may lie outside of all colours', () => {
    const ap0 = {
      red: [0.7347, 0.2653],
      green: [0, 1],
      blue: [0.0001, -0.077],
      white: [0.32168, 0.33767],
    } as const;
    expect(areUsable(ap0)).toBe(true);
    // What red, green and blue each give to red, and what red gives to all three.
    const matrix = toRec709(ap0)!;
    [2.5217, -1.1341, -0.3876].forEach((value, c) => expect(matrix[0][c]).toBeCloseTo(value, 3));
    const red = apply(matrix, [1, 0, 0]);
    [2.5217, -0.2765, -0.0154].forEach((value, c) => expect(red[c]).toBeCloseTo(value, 3));
    apply(matrix, [1, 1, 1]).forEach((value) => expect(value).toBeCloseTo(1, 6));
    // Three primaries on a line, and a white on the line between two of them, span nothing.
    expect(areUsable({ ...ap0, blue: [0.36735, 0.63265] })).toBe(false);
    expect(areUsable({ ...ap0, white: [0.36735, 0.63265] })).toBe(false);
  });

  it('are read from the attribute only if they make sense', () => {
    const attribute = (values: number[]): Map<string, { type: string; bytes: Uint8Array }> =>
      new Map([
        [
          'chromaticities',
          { type: 'chromaticities', bytes: new Uint8Array(Float32Array.from(values).buffer) },
        ],
      ]);
    expect(
      readChromaticities(attribute([0.7, 0.3, 0.17, 0.8, 0.13, 0.05, 0.31, 0.33]))!.green[1],
    ).toBeCloseTo(0.8, 6);
    expect(readChromaticities(attribute([0.7, 0.3, 0.7, 0.3, 0.7, 0.3, 0.31, 0.33]))).toBeUndefined();
    expect(readChromaticities(attribute([NaN, 0.3, 0.17, 0.8, 0.13, 0.05, 0.31, 0.33]))).toBeUndefined();
    expect(readChromaticities(attribute([1]))).toBeUndefined();
    expect(readChromaticities(new Map())).toBeUndefined();
  });
});

describe('false colour', () => {
  it('steps by stops from middle grey, and each step is lighter or warmer than the one below', () => {
    const at = (stops: number): number[] => {
      const plane = Float32Array.of(0.18 * 2 ** stops);
      return [...falseColourBytes([plane, plane, plane], 1).subarray(0, 3)];
    };
    for (const { from, colour } of FALSE_COLOURS) {
      if (!Number.isFinite(from)) continue;
      expect(at(from + 0.01)).toEqual([...colour]);
    }
    expect(at(0)).toEqual([136, 136, 136]);
    expect(at(-20)).toEqual([...FALSE_COLOURS[0]!.colour]);
  });

  it('follows the gain of the view, and tells negative light apart', () => {
    const plane = Float32Array.of(0.18, -0.1);
    const bytes = falseColourBytes([plane, plane, plane], 4);
    expect([...bytes.subarray(0, 3)]).toEqual([...FALSE_COLOURS.find(({ from }) => from === 2)!.colour]);
    expect([...bytes.subarray(4, 7)]).not.toEqual([...FALSE_COLOURS[0]!.colour]);
  });
});
