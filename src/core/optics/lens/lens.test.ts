import { filmReflectance, fresnelReflectance, reflectance } from '../coating';
import { cauchy, LINES, refractiveIndex } from '../glass';
import { lensDocument, parseLensDesign, scaleLens, stopLens, type LensDesign } from './design';
import { LENS_DESIGNS } from './designs';
import { listGhosts, openRadius } from './ghosts';
import { ghostPairs, lensFacts, paraxialPath, reflectingSurfaces } from './paraxial';
import { fieldRay, traceRay } from './trace';

const lens = (id: string): LensDesign => LENS_DESIGNS.get(id)!;
const DEGREE = Math.PI / 180;
const BARE = { coating: 'bare', coatingWavelength: 550 } as const;

describe('glass', () => {
  // Source: algebra of the two terms from index and Abbe number; n_F of crown 517642 in published catalogues.
  it('has the index of its two numbers', () => {
    const crown = { nd: 1.5168, vd: 64.17 };
    expect(cauchy(crown).a).toBeCloseTo(1.504584, 5);
    expect(cauchy(crown).b).toBeCloseTo(0.0042174, 6);
    expect(refractiveIndex(crown, LINES.d)).toBeCloseTo(1.5168, 12);
    expect((1.5168 - 1) / (refractiveIndex(crown, LINES.F) - refractiveIndex(crown, LINES.C))).toBeCloseTo(
      64.17,
      9,
    );
    expect(refractiveIndex(crown, LINES.F)).toBeCloseTo(1.522376, 3);
    expect(cauchy({ nd: 1.785, vd: 25.8 }).a).toBeCloseTo(1.738848, 3);
    expect(refractiveIndex({ nd: 1, vd: null }, 400)).toBe(1);
  });
});

describe('a surface', () => {
  const at = (degrees: number, to = 1.5) => ({ from: 1, to, cosine: Math.cos(degrees * DEGREE) });

  // Source: Fresnel's equations (Born & Wolf, Principles of Optics, 1959, 1.5).
  it('reflects as Fresnel says', () => {
    expect(fresnelReflectance(at(0))).toBeCloseTo(0.04, 12);
    expect(fresnelReflectance(at(0, 1.5168))).toBeCloseTo(0.04216456, 7);
    expect(fresnelReflectance(at(45, 1.5168))).toBeCloseTo(0.05259507, 5);
    // At Brewster's angle only light across the plane of incidence comes back.
    const brewster = at(56.30993);
    const across = ((1.5 ** 2 - 1) / (1.5 ** 2 + 1)) ** 2;
    expect(fresnelReflectance(brewster)).toBeCloseTo(across / 2, 6);
    expect(fresnelReflectance({ from: 1.5, to: 1, cosine: Math.cos(42 * DEGREE) })).toBe(1);
  });

  // Source: thin-film formula (Macleod, Thin-Film Optical Filters, 1969): n 1.38 on 1.5168, a quarter of 550 nm.
  it.each([
    [400, 0.02207796],
    [550, 0.01283544],
    [700, 0.01612177],
  ])('under a single layer reflects at %d nm what the film lets back', (wavelength, share) => {
    expect(filmReflectance({ ...at(0, 1.5168), wavelength }, 550)).toBeCloseTo(share, 6);
  });

  it('has no coating where it is cemented, and next to nothing under many layers', () => {
    const cemented = { from: 1.62, to: 1.7, cosine: 1, wavelength: 550 };
    expect(reflectance(cemented, { coating: 'broad', coatingWavelength: 550 })).toBe(
      fresnelReflectance(cemented),
    );
    const front = { ...at(0), wavelength: 550 };
    expect(reflectance(front, { coating: 'broad', coatingWavelength: 550 })).toBeCloseTo(0.003, 9);
  });
});

describe('the designs', () => {
  // Source: paraxial traces of the same prescriptions by another program; each is scaled to 50 mm.
  it.each([
    ['double-gauss-f2', 49.99996, 35.8491, 2, 19.8046, 49.9587],
    ['triplet-f5', 49.99995, undefined, 5, 11.5009, 49.939],
    ['four-element-f4', 49.99978, undefined, 4, 6.9169, 49.8868],
    ['wide-f4', 49.99999, undefined, 4, 27.4451, 50.0458],
    ['retrofocus-f2.8', 49.99994, 57.02406, 2.8, 38.4966, 49.9113],
    ['telephoto-f5.6', 49.99986, 21.04995, 5.6, 3.0631, 49.9838],
  ])('%s has the focal length that it says', (id, focalLength, backFocus, fNumber, pupil, blue) => {
    const facts = lensFacts(lens(id));
    expect(Math.abs(facts.focalLength - focalLength)).toBeLessThan(0.01);
    expect(Math.abs(facts.backFocus - (backFocus ?? lens(id).surfaces.at(-1)!.thickness))).toBeLessThan(0.01);
    expect(Math.abs(facts.fNumber - fNumber)).toBeLessThan(0.002);
    expect(Math.abs(facts.entrancePupilPlace - pupil)).toBeLessThan(0.002);
    expect(Math.abs(lensFacts(lens(id), LINES.F).focalLength - blue)).toBeLessThan(0.01);
  });

  it('of the telephoto is shorter than its focal length', () => {
    const { length, backFocus, focalLength } = lensFacts(lens('telephoto-f5.6'));
    expect((length + backFocus) / focalLength).toBeCloseTo(0.8328924, 3);
  });

  it('scale with every length, and stop down by their stop alone', () => {
    const design = lens('double-gauss-f2');
    const long = lensFacts(scaleLens(design, 85));
    expect(long.focalLength).toBeCloseTo(85, 3);
    expect(long.fNumber).toBeCloseTo(2, 3);
    expect(lensFacts(stopLens(design, 8)).fNumber).toBeCloseTo(8, 2);
  });

  it('are read from a file as they are written', () => {
    for (const design of LENS_DESIGNS.values())
      expect(parseLensDesign(JSON.parse(JSON.stringify(lensDocument(design))), 'x.json')).toEqual(design);
  });

  it('that are wrong are refused, with the surface named', () => {
    const good = () => JSON.parse(JSON.stringify(lens('triplet-f5'))) as LensDesign;
    const refusal = (change: (design: LensDesign) => void): string => {
      const design = good();
      change(design);
      try {
        parseLensDesign(design, 'mine.json');
        return '';
      } catch (error) {
        return (error as { line: string }).line;
      }
    };
    expect(refusal(() => undefined)).toBe('');
    expect(refusal(({ surfaces }) => (surfaces[2]!.nd = 0.5))).toMatch(/mine\.json.*surface 2, nd:/);
    expect(refusal(({ surfaces }) => (surfaces[4]!.semiAperture = 90))).toMatch(/surface 4 is 90 mm high/);
    expect(refusal(({ surfaces }) => surfaces.forEach((one) => (one.stop = false)))).toMatch(/has 0 stops/);
    expect(refusal((design) => delete (design as Partial<LensDesign>).fNumber)).toMatch(/fNumber:/);
    expect(refusal(({ surfaces }) => (surfaces[1]!.thickness = NaN))).toMatch(/surface 1, thickness:/);
    expect(() => parseLensDesign({ lenses: [] }, 'none.json')).toThrow(/holds 0 lens designs/);
    expect(() => parseLensDesign(null, 'null.json')).toThrow(/not right/);
  });
});

describe('a ray', () => {
  // Source: exact traces by Snell's law of the same prescriptions by another program.
  it('parallel to the axis crosses it where it should', () => {
    const crossing = (id: string, height: number): number => {
      const { path } = traceRay(lens(id), fieldRay(0, height, 0))!;
      const [last, end] = path.slice(-2) as [{ y: number; z: number }, { y: number; z: number }];
      const vertex = lens(id)
        .surfaces.slice(0, -1)
        .reduce((sum, { thickness }) => sum + thickness, 0);
      return last.z - vertex + (last.y * (end.z - last.z)) / (last.y - end.y);
    };
    expect(Math.abs(crossing('double-gauss-f2', 12) - 35.98524)).toBeLessThan(0.002);
    expect(Math.abs(crossing('triplet-f5', 4.5) - 42.19013)).toBeLessThan(0.002);
  });

  it('near the axis goes as the matrices say, its ghosts too', () => {
    const small = 1e-5;
    for (const design of LENS_DESIGNS.values())
      for (const ghost of [undefined, ...ghostPairs(design)]) {
        const { a, b } = paraxialPath(design, LINES.d, ghost).sensor;
        const height = traceRay(design, fieldRay(0, small, 0), ghost && { ghost });
        const angle = traceRay(design, fieldRay(0, 0, small), ghost && { ghost });
        if (height) expect(Math.abs(height.y / small - a)).toBeLessThan(1e-3 * (1 + Math.abs(a)));
        if (angle) expect(Math.abs(angle.y / Math.tan(small) - b)).toBeLessThan(1e-3 * (1 + Math.abs(b)));
      }
  });

  it('beside the plane of the axis is the same turned round it', () => {
    const options = { ghost: { first: 2, second: 9 } };
    const up = traceRay(lens('double-gauss-f2'), fieldRay(0, 2, 0), options)!;
    const side = traceRay(lens('double-gauss-f2'), fieldRay(2, 0, 0), options)!;
    expect(side.x).toBeCloseTo(up.y, 12);
    expect(traceRay(lens('double-gauss-f2'), fieldRay(-2, 0, 0), options)!.x).toBeCloseTo(-up.y, 12);
  });

  it('outside an aperture does not come through', () => {
    expect(traceRay(lens('double-gauss-f2'), fieldRay(0, 12.6, 0))).toBeUndefined();
  });
});

describe('ghosts', () => {
  // Source: paraxial and exact traces of the same ghost by another program.
  it('of the double Gauss lie where they should', () => {
    const design = lens('double-gauss-f2');
    const ghost = { first: 8, second: 10 };
    const { a, b } = paraxialPath(design, LINES.d, ghost).sensor;
    expect(a).toBeCloseTo(-0.3309937, 4);
    expect(b).toBeCloseTo(47.80588, 2);
    const exact = traceRay(design, fieldRay(0, 2, 5 * DEGREE), { ghost })!;
    expect(Math.abs(exact.y - 3.209502)).toBeLessThan(0.003);
  });

  // Source: combinatorics, n (n - 1) / 2.
  it.each([
    ['double-gauss-f2', 45],
    ['triplet-f5', 15],
    ['four-element-f4', 21],
    ['wide-f4', 66],
    ['retrofocus-f2.8', 45],
    ['telephoto-f5.6', 15],
  ])('of %s are %d', (id, count) => {
    const n = reflectingSurfaces(lens(id)).length;
    expect([ghostPairs(lens(id)).length, (n * (n - 1)) / 2]).toEqual([count, count]);
  });

  // Source: thin-lens algebra: twice reflected inside, a thin lens of index n and focal length f has f (n - 1) / (3 n - 1).
  it('of a thin lens have the focal length that algebra gives', () => {
    const glass = { nd: 1.5, vd: null, semiAperture: 5, stop: false };
    const air = { nd: 1, vd: null, semiAperture: 5 };
    const thin: LensDesign = {
      id: 'thin',
      focalLength: 100,
      fNumber: 10,
      semiFieldDeg: 10,
      surfaces: [
        { ...air, radius: null, thickness: 0, stop: true },
        { ...glass, radius: 100, thickness: 1e-9 },
        { ...air, radius: -100, thickness: 0, stop: false },
      ],
    };
    const reach = (thickness: number): number => {
      const surfaces = thin.surfaces.map((one, k) => (k === 2 ? { ...one, thickness } : one));
      return paraxialPath({ ...thin, surfaces }, LINES.d, { first: 1, second: 2 }).sensor.a;
    };
    // The height falls evenly with the distance behind the lens, to nothing at its focus.
    expect(1 / (reach(0) - reach(1))).toBeCloseTo(14.28571, 3);
  });

  it('have the light that rays at random through the lens bring there', () => {
    const design = stopLens(lens('triplet-f5'), 8);
    const ghosts = listGhosts(design, BARE);
    // A small generator of its own, so that nothing of the program judges itself.
    let state = 12345;
    const random = (): number => (state = (state * 48271) % 2147483647) / 2147483647;
    const [reach, count] = [9, 4000];
    const rays = Array.from({ length: count }, () =>
      fieldRay((2 * random() - 1) * reach, (2 * random() - 1) * reach, 0),
    );
    const light = (ghost?: (typeof ghosts)[number]): { sum: number; radius: number } => {
      let [sum, radius] = [0, 0];
      for (const ray of rays) {
        const traced = traceRay(design, ray, { coating: BARE, ...(ghost && { ghost }) });
        if (!traced) continue;
        sum += traced.weight;
        radius += traced.weight * (traced.x ** 2 + traced.y ** 2);
      }
      // An even disc has half the square of its radius in the mean.
      return { sum, radius: Math.sqrt((2 * radius) / sum) };
    };
    const direct = light().sum;
    const [sizes, fluxes]: [number[], number[]] = [[], []];
    for (const ghost of ghosts.slice(0, 10)) {
      const { sum, radius } = light(ghost);
      fluxes.push(sum / direct / ghost.flux);
      sizes.push(radius / ghost.radius);
    }
    // Strongly bent ones lose light at edges, and those near a focus are as large as their aberration.
    const near = (values: readonly number[], tolerance: number): number =>
      values.filter((value) => Math.abs(value - 1) < tolerance).length;
    expect(near(fluxes, 0.05)).toBeGreaterThanOrEqual(8);
    expect(near(sizes, 0.1)).toBeGreaterThanOrEqual(7);
  });

  it('hold a few per cent of the light in all, uncoated, and next to nothing coated', () => {
    // Source: Kingslake (1992), Optics in photography: uncoated lenses of many elements veil by several per cent.
    const design = stopLens(lens('double-gauss-f2'), 8);
    const sum = (coating: 'bare' | 'single'): number =>
      listGhosts(design, { coating, coatingWavelength: 550 }).reduce((total, { flux }) => total + flux, 0);
    expect(sum('bare')).toBeGreaterThan(0.01);
    expect(sum('bare')).toBeLessThan(0.2);
    expect(sum('single')).toBeLessThan(0.2 * sum('bare'));
    expect(openRadius(design, paraxialPath(design))).toBeCloseTo(50 / 8 / 2, 2);
  });
});
