import { converter } from 'culori';
import { CIE1931 } from './data/cie1931';
import { viewedHex } from './hex';
import { LUMINANCE, xyzToRgb } from './primaries';
import { encodeSrgb } from './srgb';
import { blackBodyXyz, NEUTRAL_KELVIN, tintGains } from './temperature';
import { applyView, filmicCurve, MIDDLE_GREY, viewOf, type ViewName } from './view';

const xy = ([x, y, z]: readonly number[]): [number, number] => [x! / (x! + y! + z!), y! / (x! + y! + z!)];

describe('the colour-matching functions', () => {
  // Source: CIE 018:2019: the sum of y-bar over 360 to 830 nm at 1 nm is 106.8569; a tenth of it every 10 nm.
  it('sum to a tenth of the table at 1 nm', () => {
    expect(CIE1931.y.reduce((sum: number, value) => sum + value, 0)).toBeCloseTo(10.68569, 2);
  });

  // Source: CIE 15:2018: equal-energy white has x = y = 1/3.
  it('make equal-energy white', () => {
    const sums = [CIE1931.x, CIE1931.y, CIE1931.z].map((table) =>
      table.reduce((sum: number, value) => sum + value, 0),
    );
    expect(xy(sums)[0]).toBeCloseTo(1 / 3, 3);
    expect(xy(sums)[1]).toBeCloseTo(1 / 3, 3);
  });
});

describe('colour temperature', () => {
  // Source: chromaticities of black bodies (Planck 1901, CIE 1931 observer): 6504 K has x 0.3135, y 0.3236; illuminant A, a
  // black body of 2856 K, has x 0.4476, y 0.4074 (ISO 11664-2, to four digits).
  it.each([
    [6504, 0.3135, 0.3236],
    [2856, 0.4476, 0.4074],
  ])('a black body of %d K has its chromaticity', (kelvin, x, y) => {
    const found = xy(blackBodyXyz(kelvin));
    expect(Math.abs(found[0] - x)).toBeLessThan(0.0006);
    expect(Math.abs(found[1] - y)).toBeLessThan(0.0006);
  });

  it('leaves everything alone at the neutral temperature', () => {
    expect(tintGains(NEUTRAL_KELVIN)).toEqual([1, 1, 1]);
  });

  it('keeps the luminance of white and never turns negative', () => {
    for (const kelvin of [1800, 2500, 4000, 6499, 6501, 9000, 25000]) {
      const gains = tintGains(kelvin);
      expect(gains.reduce((sum, gain, c) => sum + gain * LUMINANCE[c]!, 0)).toBeCloseTo(1, 12);
      expect(Math.min(...gains)).toBeGreaterThanOrEqual(0);
      expect(gains[0] > gains[2]).toBe(kelvin < NEUTRAL_KELVIN);
    }
  });
});

describe('primaries and curves', () => {
  // Source: D65 white (CIE 15): X 0.95047, Y 1, Z 1.08883.
  it('make white of D65', () => {
    for (const value of xyzToRgb(0.95047, 1, 1.08883)) expect(value).toBeCloseTo(1, 4);
  });

  // Source: IEC 61966-2-1; middle grey 0.18 is 0.4614 (118 of 255), the straight part ends at 0.0031308.
  it.each([
    [0, 0],
    [0.0031308, 0.040449936],
    [0.18, 0.46135613],
    [0.5, 0.73535698],
    [1, 1],
  ])('the sRGB curve takes %d to %d', (linear, encoded) => {
    expect(encodeSrgb(linear)).toBeCloseTo(encoded, 6);
  });

  // Source: culori 4 (a colour library), linear sRGB to sRGB.
  it('agrees with a colour library', () => {
    const toSrgb = converter('rgb');
    for (let i = 0; i <= 100; i++) {
      const other = toSrgb({ mode: 'lrgb', r: i / 100, g: 0, b: 0 }).r;
      expect(encodeSrgb(i / 100)).toBeCloseTo(other, 6);
    }
  });
});

const plane = (...values: number[]): Float32Array => Float32Array.from(values);

function viewed(name: ViewName, rgb: [number, number, number], gain = 1): number[] {
  const out = new Float32Array(3);
  applyView(
    viewOf(name),
    rgb.map((value) => plane(value)),
    gain,
    out,
  );
  return [...out];
}

describe('views', () => {
  it('show middle grey where it belongs', () => {
    for (const name of ['srgb', 'filmic'] as const) {
      for (const value of viewed(name, [MIDDLE_GREY, MIDDLE_GREY, MIDDLE_GREY]))
        expect(value).toBeCloseTo(encodeSrgb(MIDDLE_GREY), 5);
    }
    expect(viewed('clip', [0.18, 0.5, 7])[0]).toBeCloseTo(0.18, 6);
  });

  it('clip what sRGB cannot show', () => {
    expect(viewed('srgb', [-1, 0.5, 900])).toEqual([0, expect.closeTo(encodeSrgb(0.5), 6) as number, 1]);
  });

  // Source: Naka & Rushton 1966: half of the greatest response at the half-saturation, equal slopes in log light about it.
  it('the filmic curve is a Naka-Rushton response', () => {
    let [low, high] = [1e-3, 1e3];
    for (let k = 0; k < 80; k++) {
      const middle = Math.sqrt(low * high);
      if (filmicCurve(middle) < 0.5) low = middle;
      else high = middle;
    }
    for (const factor of [2, 5, 30])
      expect(filmicCurve(low * factor) + filmicCurve(low / factor)).toBeCloseTo(1, 6);
  });

  it('the filmic curve never falls and never passes white', () => {
    let last = 0;
    for (let stops = -20; stops <= 20; stops += 0.25) {
      const value = filmicCurve(0.18 * 2 ** stops);
      expect(value).toBeGreaterThanOrEqual(last);
      expect(value).toBeLessThanOrEqual(1);
      last = value;
    }
    expect(filmicCurve(1e30)).toBe(1);
    expect(filmicCurve(1e300)).toBe(1);
    expect(filmicCurve(-1)).toBe(0);
  });

  it('a very bright colour goes to white on film, a dim one keeps its hue', () => {
    const bright = viewed('filmic', [5000, 20, 20]);
    expect(Math.min(...bright)).toBeGreaterThan(0.9);
    const dim = viewed('filmic', [0.2, 0.02, 0.02]);
    expect(dim[0]!).toBeGreaterThan(3 * dim[1]!);
  });

  it('grey stays grey at any brightness and gain', () => {
    for (const value of [1e-4, 0.03, 1, 40, 6000]) {
      const [r, g, b] = viewed('filmic', [value, value, value], 1.7) as [number, number, number];
      expect(Math.abs(r - g) + Math.abs(g - b)).toBeLessThan(1e-5);
    }
  });
});

describe('a swatch', () => {
  it('is shown as the view shows light of its colour', () => {
    expect(viewedHex('#3366cc', 'srgb')).toBe('#3366cc');
    // Middle grey stays under the filmic view; sRGB of 0.18 is 118 (IEC 61966-2-1).
    expect(viewedHex('#767676', 'filmic')).toMatch(/^#7[5-7]7[5-7]7[5-7]$/);
    expect(viewedHex('#ffffff', 'filmic')).not.toBe('#ffffff');
  });
});
