import { serialRunner } from '../jobs';
import { wasmDiffraction } from '../kernels/diffraction/wasm';
import { diffraction, angularBlur, polychromaticPsf } from './diffraction';
import { ANGLES, slopes, STEP, type LogPolarPsf } from './log-polar-psf';
import { pupilArea, pupilOutline } from './pupil';
import { ARRANGEMENTS, pupilAmplitude, pupilMask, type PupilMarks } from './pupil-mask';
import { spectralSamples } from './spectral-weights';

const SIZE = 256;
const kernel = wasmDiffraction(serialRunner);
const CLEAN: PupilMarks = {
  obstruction: 0,
  dust: { amount: 0, size: 0.01, arrangement: 'random', seed: 1 },
  scratches: { count: 0, width: 0.002, length: 0.4, arrangement: 'random', seed: 1 },
  fibres: { count: 0, length: 0.15, width: 0.003, seed: 1 },
  ring: { count: 0, width: 0.06 },
  grating: { lines: 0, depth: 0.5 },
};
const DISC = { blades: 0, curvature: 1, rotation: 0 };
const blades = (count: number) => ({ blades: count, curvature: 0, rotation: 0 });
const imageOf = (shape: typeof DISC, marks: Partial<PupilMarks> = {}): Promise<LogPolarPsf> =>
  diffraction(pupilAmplitude(shape, { ...CLEAN, ...marks }, SIZE), { kernel });
const whiteOf = (image: LogPolarPsf): Promise<LogPolarPsf[]> => polychromaticPsf(image, { kernel });

const rowAt = ({ first }: LogPolarPsf, distance: number): number =>
  Math.round((Math.log(distance) - first) / STEP);
const ringMean = ({ density }: LogPolarPsf, row: number): number => {
  let sum = 0;
  for (let angle = 0; angle < ANGLES; angle++) sum += density[row * ANGLES + angle]!;
  return sum / ANGLES;
};
/** Light within a distance. */
function within(image: LogPolarPsf, distance: number): number {
  let sum = ringMean(image, 0) * Math.PI * Math.exp(2 * (image.first - STEP / 2));
  for (let row = 0; row <= rowAt(image, distance); row++)
    sum += ringMean(image, row) * 2 * Math.PI * Math.exp(2 * (image.first + row * STEP)) * STEP;
  return sum;
}
/** Slope of values over distances on logarithmic axes, by least squares. */
function slopeOf(points: [distance: number, value: number][]): number {
  const logs = points.map(([d, v]) => [Math.log(d), Math.log(v)] as const);
  const mean = (k: 0 | 1): number => logs.reduce((sum, p) => sum + p[k], 0) / logs.length;
  const [mx, my] = [mean(0), mean(1)];
  return (
    logs.reduce((sum, [x, y]) => sum + (x - mx) * (y - my), 0) /
    logs.reduce((sum, [x]) => sum + (x - mx) ** 2, 0)
  );
}

describe('the image of a point', () => {
  let airy: LogPolarPsf;
  beforeAll(async () => {
    airy = await imageOf(DISC);
  });

  // Source: Airy (1835): the first dark ring at 1.22 wavelengths times f-number.
  it('of a disc has its first dark ring where Airy found it', () => {
    const rows = Array.from({ length: 40 }, (_, k) => rowAt(airy, 0.9) + k);
    const darkest = rows.reduce((a, b) => (ringMean(airy, a) < ringMean(airy, b) ? a : b));
    expect(Math.exp(airy.first + darkest * STEP)).toBeCloseTo(1.21967, 1);
  });

  // Source: Rayleigh (1881), 1 - J0^2 - J1^2 at the first and second zero (1.21967 and 2.23313).
  it('of a disc holds 83.8 % within the first dark ring and 91.0 % within the second', () => {
    expect(Math.abs(within(airy, 1.21967) - 0.8378)).toBeLessThan(0.01);
    expect(Math.abs(within(airy, 2.23313) - 0.91)).toBeLessThan(0.01);
  });

  // Source: Born & Wolf, Principles of Optics (1959): the middle is pi/4 of its light per square wavelength f-number.
  it('of a disc is as bright in the middle as its area says', () => {
    // Where it is first kept it has fallen to 99 %, at a quarter to 86 %: (2 J1(x) / x)^2 with x = pi / 16 and pi / 4.
    const brightness = (row: number): number => airy.density[row * ANGLES]! / (Math.PI / 4);
    expect(Math.abs(brightness(0) - 0.9904)).toBeLessThan(0.01);
    expect(Math.abs(brightness(Math.round(Math.log(4) / STEP)) - 0.8553)).toBeLessThan(0.01);
  });

  // Source: symmetry of the Fourier transform: an even number of straight edges gives as many spikes, an odd one twice.
  it.each([5, 6, 7, 8, 9])('of %d blades has as many spikes as it should', async (count) => {
    const image = await imageOf(blades(count));
    const profile = Float64Array.from({ length: ANGLES }, (_, angle) => {
      let sum = 0;
      for (let row = rowAt(image, 25); row < rowAt(image, 80); row++)
        sum += image.density[row * ANGLES + angle]! * Math.exp(3 * row * STEP);
      return sum;
    });
    const threshold = 0.3 * Math.max(...profile);
    let spikes = 0;
    for (let angle = 0; angle < ANGLES; angle++)
      if (profile[angle]! > threshold && profile[(angle + ANGLES - 1) % ANGLES]! <= threshold) spikes++;
    expect(2 * spikes).toBe(count % 2 === 0 ? count : 2 * count);
  });

  // Source: the transform of an edge: along a spike the light of a strip of one width falls with the square, between
  // spikes with the fourth power; round the circle with the third (Born & Wolf 1959, asymptotically).
  it('falls off with the third power round the circle, for a disc and for blades', async () => {
    for (const image of [airy, await imageOf(blades(6))]) {
      const points = Array.from({ length: 90 }, (_, k): [number, number] => {
        const row = rowAt(image, 12) + k;
        return [Math.exp(image.first + row * STEP), ringMean(image, row)];
      });
      expect(slopeOf(points)).toBeGreaterThan(-3.15);
      expect(slopeOf(points)).toBeLessThan(-2.85);
    }
  });

  it('falls off with the square along a spike and with the fourth power between spikes', async () => {
    const image = await imageOf(blades(6));
    const peak = image.density.subarray(rowAt(image, 40) * ANGLES, (rowAt(image, 40) + 1) * ANGLES);
    const spike = peak.indexOf(Math.max(...peak));
    const along = (angle: number): number =>
      slopeOf(
        Array.from({ length: 100 }, (_, k) => {
          const row = rowAt(image, 10) + k;
          return [Math.exp(image.first + row * STEP), image.density[row * ANGLES + (angle % ANGLES)]!];
        }),
      );
    expect(along(spike)).toBeCloseTo(-2, 0);
    expect(along(spike + Math.round(ANGLES / 6))).toBeLessThan(-3.5);
    expect(Math.min(...slopes(image))).toBeLessThan(-3.5);
  });

  // Source: Lee & Mittra (1983), Fourier transform of a polygonal shape function: the sum over a polygon's edges.
  it.each([
    { blades: 6, rotation: 7 },
    { blades: 5, rotation: 13 },
    { blades: 9, rotation: 31 },
  ])('of $blades blades turned by $rotation degrees has no spikes but its own', async (turned) => {
    const shape = { ...turned, curvature: 0 };
    const corners = pupilOutline(shape).filter(([x, y]) => Math.hypot(x, y) > 1 - 1e-9);
    const intensity = (u: number, v: number): number => {
      let [re, im] = [0, 0];
      corners.forEach(([ax, ay], k) => {
        const [bx, by] = corners[(k + 1) % corners.length]!;
        const along = (u * (bx - ax) + v * (by - ay)) / 2;
        const flux = (u * (by - ay) - v * (bx - ax)) * (Math.abs(along) < 1e-9 ? 1 : Math.sin(along) / along);
        const phase = (u * (ax + bx) + v * (ay + by)) / 2;
        re += flux * Math.sin(phase);
        im += flux * Math.cos(phase);
      });
      return (re * re + im * im) / (u * u + v * v) ** 2;
    };
    const image = await diffraction(pupilAmplitude(shape, CLEAN, 512), { kernel });
    for (const distance of [40, 90, 120, 160, 200]) {
      const row = rowAt(image, distance);
      // Each cell is the mean over its area, in units where a cycle across the unit disc is pi.
      const exact = Float64Array.from({ length: ANGLES }, (_, angle) => {
        let sum = 0;
        for (let i = 0; i < 64; i++) {
          const r = Math.PI * Math.exp(image.first + (row + ((i % 16) + 0.5) / 16 - 0.5) * STEP);
          const direction = (Math.PI * (angle + (Math.floor(i / 16) + 0.5) / 4)) / ANGLES - Math.PI / 2;
          sum += intensity(r * Math.cos(direction), r * Math.sin(direction)) / 64;
        }
        return sum / (4 * Math.PI * pupilArea(shape));
      });
      const spike = Math.max(...exact);
      const found = image.density.subarray(row * ANGLES, (row + 1) * ANGLES);
      // Fringes run over into the cells beside them.
      const isOpen = (angle: number): boolean =>
        Array.from({ length: 13 }, (_, k) => exact[(angle + k - 6 + ANGLES) % ANGLES]!).every(
          (value) => value < 0.001 * spike,
        );
      const excess = found.map((value, angle) => (isOpen(angle) ? value - exact[angle]! : 0));
      expect(Math.max(...excess) / spike).toBeLessThan(0.0005);
      expect(Math.abs(Math.max(...found) / spike - 1)).toBeLessThan(0.15);
    }
  });

  // Source: Babinet's principle: a speck scatters as a hole of its size would; its halo holds about the covered share.
  // Source: a lattice is a grating in two directions, whose orders lie at wavelength over pitch (Fraunhofer; Goodman 1968).
  it('of dust on a lattice has spots about it, and of scattered dust none', async () => {
    const image = async (arrangement: (typeof ARRANGEMENTS)[number]): Promise<number> => {
      const made = await imageOf(DISC, { dust: { amount: 0.2, size: 0.02, arrangement, seed: 2 } });
      // How far the brightest angle of a ring stands out of the ring, at the ring where it does so most.
      let most = 0;
      for (let row = rowAt(made, 4); row < rowAt(made, 40); row++) {
        const ring = made.density.subarray(row * ANGLES, (row + 1) * ANGLES);
        most = Math.max(most, Math.max(...ring) / ringMean(made, row));
      }
      return most;
    };
    const scattered = await image('random');
    for (const arrangement of ['square', 'hexagonal'] as const)
      expect(await image(arrangement)).toBeGreaterThan(3 * scattered);
  });

  it('of a dusty pupil has a halo of about the share that dust covers', async () => {
    const dust = { amount: 0.04, size: 0.02, arrangement: 'random' as const, seed: 3 };
    const clean = 1 - within(airy, 10);
    const dusty = 1 - within(await imageOf(DISC, { dust }), 10);
    expect(dusty - clean).toBeGreaterThan(0.5 * dust.amount);
    expect(dusty - clean).toBeLessThan(1.5 * dust.amount);
  });

  // Source: Simpson (1953), the halo of radial fibres: its inner edge lies at their number over pi (from memory).
  it('of a ring of fibres has a halo that begins at their number over pi', async () => {
    const count = 120;
    const image = await imageOf(DISC, { ring: { count, width: 0.08 } });
    const excess = (distance: number): number =>
      ringMean(image, rowAt(image, distance)) / ringMean(airy, rowAt(airy, distance));
    expect(excess((0.75 * count) / Math.PI)).toBeLessThan(3);
    expect(excess((1.1 * count) / Math.PI)).toBeGreaterThan(8);
  });

  it('of a scratch is a streak at a right angle to it', async () => {
    const scratches = {
      ...CLEAN.scratches,
      count: 1,
      width: 0.01,
      length: 0.8,
      arrangement: 'parallel' as const,
    };
    const image = await imageOf(DISC, { scratches });
    const row = rowAt(image, 20) * ANGLES;
    const profile = image.density.subarray(row, row + ANGLES);
    const brightest = profile.indexOf(Math.max(...profile));
    const across = profile[(brightest + ANGLES / 2) % ANGLES]!;
    expect(profile[brightest]! / across).toBeGreaterThan(5);
  });
});

describe('the mask of a pupil', () => {
  it.each([DISC, blades(5), { blades: 7, curvature: 0.5, rotation: 20 }])(
    'covers the area of %j',
    (shape) => {
      const mask = pupilMask(shape, CLEAN, 128);
      const covered = mask.reduce((sum, value) => sum + value, 0) / (128 * 128);
      expect((covered * 4) / Math.PI).toBeCloseTo(pupilArea(shape), 3);
    },
  );

  it('loses what an obstruction, dust and scratches cover, the same for the same seed', () => {
    const sum = (marks: Partial<PupilMarks>): number =>
      pupilMask(DISC, { ...CLEAN, ...marks }, 256).reduce((a, b) => a + b, 0);
    const whole = sum({});
    expect(sum({ obstruction: 0.5 }) / whole).toBeCloseTo(0.75, 2);
    const dust = { amount: 0.05, size: 0.02, arrangement: 'random' as const, seed: 7 };
    expect(sum({ dust }) / whole).toBeGreaterThan(0.93);
    expect(sum({ dust }) / whole).toBeLessThan(0.97);
    expect(sum({ dust })).toBe(sum({ dust }));
    expect(sum({ dust })).not.toBe(sum({ dust: { ...dust, seed: 8 } }));
    for (const arrangement of ARRANGEMENTS)
      expect(Math.abs(sum({ dust: { ...dust, size: 0.015, arrangement } }) / whole - 0.95)).toBeLessThan(
        0.012,
      );
    for (const arrangement of ARRANGEMENTS)
      expect(sum({ scratches: { ...CLEAN.scratches, count: 30, arrangement } })).toBeLessThan(whole);
  });
});

describe('white light', () => {
  // Source: CIE 15:2004: daylight is the white of Rec.709 (ITU-R BT.709-6).
  it('is white in sum, over wavelengths and over the image', async () => {
    const samples = spectralSamples(STEP);
    for (let c = 0; c < 3; c++)
      expect(samples.reduce((sum, { weight }) => sum + weight[c]!, 0)).toBeCloseTo(1, 12);
    const light = (await whiteOf(await imageOf(blades(6)))).map((image) => within(image, 100));
    for (const value of light) expect(Math.abs(value - light[1]!)).toBeLessThan(0.01);
  });

  it('reaches farther in red than in blue', async () => {
    const [red, , blue] = await whiteOf(await imageOf(DISC));
    const middle = (image: LogPolarPsf): number => {
      let row = 0;
      while (within(image, Math.exp(image.first + row * STEP)) < 0.5) row++;
      return row;
    };
    expect((middle(red!) - middle(blue!)) * STEP).toBeGreaterThan(0.15);
  });

  it('keeps its light when it is softened', async () => {
    const image = await imageOf(blades(5));
    const soft = await angularBlur(image, 0.2, { kernel });
    const far = rowAt(image, 13.6);
    expect(ringMean(soft, far)).toBeCloseTo(ringMean(image, far), 9);
    const row = (of: LogPolarPsf): Float32Array => of.density.subarray(far * ANGLES, (far + 1) * ANGLES);
    expect(Math.max(...row(soft))).toBeLessThan(0.6 * Math.max(...row(image)));
  });
});
