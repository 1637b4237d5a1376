import { LUMINANCE } from '../../../color/primaries';
import { assignSetting, parseLook, type Look } from '../../../look/look';
import type { LogPolarPsf } from '../../../optics/log-polar-psf';
import { pointSpread } from '../point-spread';
import { wasmDiffraction } from '../../../kernels/diffraction/wasm';
import { serialRunner } from '../../../jobs';
import { diffraction } from '../../../optics/diffraction';
import { pupilAmplitude } from '../../../optics/pupil-mask';
import { halfKernel } from './pixel-kernel';
import { rasterizePsf } from '../../../optics/rasterize-psf';
import { pupilSource, spikeImages, spikeUnit } from './spikes';

const kernel = wasmDiffraction(serialRunner);
const lookWith = (...settings: string[]): Look =>
  settings.reduce((look, setting) => assignSetting(look, setting), parseLook({ version: 1 }));

describe('spikes on pixels', () => {
  const look = lookWith('pupil.blades=6', 'veil.spikes.size=20', 'camera.fStop=8', 'veil.spikes.amount=0.5');
  let images: LogPolarPsf[];
  beforeAll(async () => {
    images = await spikeImages(pupilSource(look), { kernel, size: 256 });
  });
  const [width, height] = [96, 54];

  it.each([0.02, 1, 12])(
    'hold all of the light, wherever it falls, at %d pixels a wavelength times f-number',
    async (unit) => {
      const laid = await rasterizePsf(images, { width, height, unit }, { kernel });
      laid.rows.forEach((rows, c) => {
        const columns = 2 * width - 1;
        let sum = 0;
        for (let i = 0; i < rows.length; i++) sum += i < columns ? rows[i]! : 2 * rows[i]!;
        expect(rows.every((value) => value >= 0)).toBe(true);
        expect(sum + laid.outside[c]!).toBeCloseTo(1, 4);
        expect(laid.outside[c]).toBeGreaterThan(0);
      });
    },
  );

  // Source: the similarity theorem (Goodman 1968): a pupil of half the width has an image of twice the width.
  it.each([0.5, 0.8, 1.25])('are as much wider as a pupil squeezed to %d is narrower', async (squeeze) => {
    const unit = 6;
    const plain = await rasterizePsf(images, { width: 240, height: 60, unit }, { kernel });
    const drawn = await rasterizePsf(images, { width: 240, height: 60, unit, squeeze }, { kernel });
    const columns = 2 * 240 - 1;
    const at = (rows: Float32Array, x: number, y: number): number => rows[y * columns + 239 + x]!;
    plain.rows.forEach((rows, c) => {
      const wide = drawn.rows[c]!;
      let sum = 0;
      for (let i = 0; i < wide.length; i++) sum += i < columns ? wide[i]! : 2 * wide[i]!;
      expect(sum + drawn.outside[c]!).toBeCloseTo(1, 4);
      // The mean over a pixel is over another part of the pattern: it differs a little.
      for (const [x, y] of [
        [20, 0],
        [20, 4],
        [-40, 8],
        [0, 5],
      ] as const)
        expect(Math.abs(at(wide, x / squeeze, y) / (squeeze * at(rows, x, y)) - 1)).toBeLessThan(0.1);
    });
  });

  // Source: Airy (1835), (2 J1(x) / x)^2 with x = pi r / (lambda N), by its series; a round pupil, one wavelength.
  it('have a smooth core of the right shape when they are much larger than pixels', async () => {
    const size = 256;
    const open = pupilAmplitude({ blades: 0, curvature: 1, rotation: 0 }, lookWith().pupil, size);
    const point = await diffraction(open, { kernel });
    const unit = 60;
    const { rows } = await rasterizePsf([point, point, point], { width: 64, height: 64, unit }, { kernel });
    const [columns, middle] = [2 * 64 - 1, 63];
    const airy = (r: number): number => {
      const q = ((Math.PI * r) / unit / 2) ** 2;
      const bessel = 1 - q / 2 + q ** 2 / 12 - q ** 3 / 144 + q ** 4 / 2880 - q ** 5 / 86400;
      return bessel ** 2;
    };
    for (const dx of [1, 2, 5, 15, 30, 50])
      expect(Math.abs(rows[0]![middle + dx]! / rows[0]![middle]! - airy(dx))).toBeLessThan(0.02);
    expect(rows[0]![columns + middle]! / rows[0]![middle]!).toBeCloseTo(1, 2);
  });

  // A spike is thinner than a pixel: what a pixel gets of it must not go by where its middle lies.
  it.each([0, 7, 19])('are not beaded, turned by %d degrees', async (rotation) => {
    const turned = await spikeImages(
      pupilSource(lookWith('pupil.blades=4', `pupil.rotation=${rotation}`, 'veil.spikes.softness=0')),
      {
        kernel,
        size: 256,
      },
    );
    const side = 80;
    const { rows } = await rasterizePsf(
      turned,
      { width: side, height: side, unit: 0.05 },
      {
        kernel,
      },
    );
    // The edges of a square on its corner face 45 degrees to the side: along that line, what lies across it.
    const angle = ((45 + rotation) * Math.PI) / 180;
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const along = Array.from({ length: 18 }, (_, k) => {
      const r = 20 + 2 * k;
      let sum = 0;
      for (let y = 0; y < side; y++)
        for (let x = 1 - side; x < side; x++) {
          const weight = Math.max(0, 1 - Math.abs(x * c + y * s - r) / 2);
          if (weight > 0 && Math.abs(y * c - x * s) < 4)
            sum += weight * rows[1]![y * (2 * side - 1) + side - 1 + x]!;
        }
      return sum * r * r;
    });
    const mean = along.reduce((a, b) => a + b) / along.length;
    for (const value of along) expect(Math.abs(value / mean - 1)).toBeLessThan(0.12);
  });

  it('of a mask in colour are those of what each colour sees of it, and white in sum', async () => {
    // Red passes an upright slit, blue a level one, green everywhere.
    const side = 64;
    const plane = (open: (x: number, y: number) => boolean): Float32Array =>
      Float32Array.from({ length: side * side }, (_, i) => (open(i % side, Math.floor(i / side)) ? 1 : 0));
    const slit = (at: number): boolean => at > 24 && at < 40;
    const channels = [plane(slit), plane(() => true), plane((_, y) => slit(y))];
    const image = { key: 'slits', width: side, height: side, plane: channels[1]!, channels };
    const source = pupilSource(lookWith('veil.spikes.softness=0'));
    const made = await spikeImages(source, { kernel, size: 256, image });
    const { rows } = await rasterizePsf(made, { width: 40, height: 40, unit: 1 }, { kernel });
    const at = (c: number, x: number, y: number): number => rows[c]![y * 79 + 39 + x]!;
    const along = (c: number, x: number, y: number): number =>
      Array.from({ length: 20 }, (_, k) => at(c, x * (k + 6), y * (k + 6))).reduce((a, b) => a + b);
    // A slit spreads light across itself.
    expect(along(0, 1, 0)).toBeGreaterThan(8 * along(0, 0, 1));
    expect(along(2, 0, 1)).toBeGreaterThan(8 * along(2, 1, 0));
    const all = rows.map((row) => row.reduce((sum, value, i) => sum + (i < 79 ? 1 : 2) * value, 0));
    for (const channel of all) expect(channel / all[1]!).toBeGreaterThan(0.9);
  });

  it('are the same turned half way round', async () => {
    const laid = await rasterizePsf(images, { width: 20, height: 10, unit: 2 }, { kernel });
    const { rows } = halfKernel(laid.rows[0]!, 20);
    const [below, above] = [new Float32Array(39), new Float32Array(39)];
    rows(4, below);
    rows(-4, above);
    expect([...above].reverse()).toEqual([...below]);
  });

  // Source: scale invariance of Fraunhofer diffraction (Goodman 1968): twice the f-number, twice the size.
  it('grow with the f-number and with the pixels of the frame', () => {
    const twice = lookWith('pupil.blades=6', 'veil.spikes.size=20', 'camera.fStop=16');
    expect(spikeUnit(twice, 20, 1920)).toBeCloseTo(2 * spikeUnit(look, 20, 1920), 9);
    expect(spikeUnit(look, 20, 3840)).toBeCloseTo(2 * spikeUnit(look, 20, 1920), 9);
    // Source: lambda N on a 36 mm sensor of 1920 pixels: 550 nm at f/8 is 4.4 micrometres, a pixel 18.75.
    expect(spikeUnit(look, 20, 1920)).toBeCloseTo((20 * 4.4) / 18.75, 3);
  });

  // The pattern at half the pixels is that of the whole, four pixels in one.
  it('look the same at half the size', async () => {
    const at = async (side: number, unit: number): Promise<(x: number, y: number) => number> => {
      const { rows } = await rasterizePsf(
        images,
        { width: side, height: side, unit },
        {
          kernel,
        },
      );
      return (x, y) => rows[1]![y * (2 * side - 1) + side - 1 + x]!;
    };
    const [large, small] = [await at(200, 4), await at(100, 2)];
    for (const [x, y] of [
      [20, 0],
      [0, 25],
      [18, 31],
      [-40, 12],
    ] as const) {
      let sum = 0;
      for (let v = 2 * y - 1; v <= 2 * y + 1; v++)
        for (let u = 2 * x - 1; u <= 2 * x + 1; u++)
          sum += large(u, Math.abs(v)) * (u === 2 * x ? 1 : 0.5) * (v === 2 * y ? 1 : 0.5);
      expect(small(x, y) / sum).toBeGreaterThan(0.7);
      expect(small(x, y) / sum).toBeLessThan(1.4);
    }
  });

  it('have no colour when none is asked for, and more when more is', async () => {
    const colour = async (saturation: number): Promise<number> => {
      const tinted = lookWith('pupil.blades=6', `veil.spikes.saturation=${saturation}`);
      const [r, g, b] = await spikeImages(pupilSource(tinted), { kernel, size: 128 });
      let sum = 0;
      r!.density.forEach((red, i) => {
        const y = LUMINANCE[0] * red + LUMINANCE[1] * g!.density[i]! + LUMINANCE[2] * b!.density[i]!;
        if (y > 0) sum += Math.abs(red - b!.density[i]!) / y;
      });
      return sum / r!.density.length;
    };
    expect(await colour(0)).toBeLessThan(1e-5);
    expect(await colour(1)).toBeGreaterThan(0.05);
    expect(await colour(0.5)).toBeLessThan(await colour(1));
  });

  it('go into the whole point-spread function, and stand alone as a part', async () => {
    const whole = await pointSpread(look, { width: 65, height: 65 }, { draft: true, diffraction: kernel });
    const part = await pointSpread(
      look,
      { width: 65, height: 65 },
      { draft: true, diffraction: kernel },
      'veil.spikes',
    );
    const middle = 32 * 65 + 32;
    whole.rgb.forEach((plane, c) => {
      expect(plane[middle]).toBeCloseTo(0.5 + 0.5 * part.rgb[c]![middle]!, 5);
      expect(plane[middle + 9]).toBeCloseTo(0.5 * part.rgb[c]![middle + 9]!, 6);
    });
    expect(whole.outside).toBeCloseTo(part.outside, 6);
  });
});
