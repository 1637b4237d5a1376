import fc from 'fast-check';
import { CancelledError, SettingError } from '../errors';
import { floatsToHalves } from '../image/half';
import { addChannel, emptyPicture, type Picture, type SampleType } from '../image/picture';
import type { ConvolutionKernel } from '../kernels/convolution';
import { referenceConvolution } from '../kernels/convolution/reference';
import { kernelsOn } from '../kernels';
import { wasmDiffraction } from '../kernels/diffraction/wasm';
import { serialRunner } from '../jobs';
import { assignSetting, defaultLook, type Look } from '../look/look';
import { pointSpread } from '../stations/veil/point-spread';
import { feedWeight } from '../stations/veil/feed';
import { LUMINANCE } from '../color/primaries';
import { ContentCache } from '../light/cache';
import { evaluate, type Evaluation } from './evaluate';
import type { Rgb } from '../image/rgb';
import type { Light } from '../light/light';
import { makePlate, type Plate } from '../light/plate';
import { cutRegion } from '../light/region';
import type { StationContext } from '../light/station';

type Paint = (x: number, y: number, channel: number) => number;

function plateOf(
  width: number,
  height: number,
  layers: Record<string, Paint>,
  type: SampleType = 'float',
): Plate {
  const picture: Picture = emptyPicture(width, height);
  for (const [layer, paint] of Object.entries(layers)) {
    ['R', 'G', 'B'].forEach((name, c) => {
      const samples = Float32Array.from({ length: width * height }, (_, i) =>
        paint(i % width, Math.floor(i / width), c),
      );
      addChannel(
        picture,
        layer ? `${layer}.${name}` : name,
        type,
        type === 'half' ? floatsToHalves(samples) : samples,
      );
    });
  }
  return makePlate('p', 'test.exr', picture);
}

const diffraction = wasmDiffraction(serialRunner);
const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

function contextFor(
  plate: Plate,
  convolution: ConvolutionKernel = referenceConvolution(serialRunner),
  cache = new ContentCache(1e9),
): StationContext {
  return { plate, cache, kernels: { ...kernelsOn(serialRunner), convolution } };
}

const run = (
  plate: Plate,
  look: Look,
  { scale = 1, ...more }: Partial<StationContext> & { scale?: number } = {},
): Promise<Evaluation> => evaluate(look, { ...contextFor(plate), ...more }, { scale });

const sum = (plane: Float32Array): number => plane.reduce((total, value) => total + value, 0);
const luminance = (rgb: Rgb): number =>
  rgb.reduce((total, plane, c) => total + LUMINANCE[c]! * sum(plane), 0);

/** A night scene in small: dim ground, a few lamps of thousands. */
const night: Paint = (x, y, c) => {
  const lamp =
    (x - 20) ** 2 + (y - 12) ** 2 < 6
      ? 2500
      : (x - 51) ** 2 + (y - 30) ** 2 < 3
        ? 700 * (c === 0 ? 1 : 0.2)
        : 0;
  return lamp + 0.02 + 0.004 * ((x * 7 + y * 13 + c * 3) % 17);
};

const BLOOM = ['veil.bloom.amount=0.05', 'veil.bloom.radius=0.02'];

const largestDifference = (a: Float32Array, b: Float32Array): number =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i]!)), 0);

describe('a default look', () => {
  it('changes nothing, and gives the very planes back', async () => {
    const plate = plateOf(64, 40, { '': night });
    const { light, accounts } = await run(plate, defaultLook());
    light.total.forEach((plane, c) => expect(plane).toBe(plate.picture.channels.get('RGB'[c]!)!.samples));
    expect(light.separations).toEqual([]);
    expect(accounts).toEqual({});
  });

  it('clamps what is not finite', async () => {
    const plate = plateOf(3, 1, { '': (x) => [NaN, Infinity, -Infinity][x]! });
    const { light } = await run(plate, defaultLook());
    expect([...light.total[0]]).toEqual([0, 65504, -65504]);
  });
});

describe('the veil', () => {
  const point = (width: number, height: number, px: number, py: number, value = 1000): Plate =>
    plateOf(width, height, { '': (x, y) => (x === px && y === py ? value : 0) });

  it('makes of an isolated point the kernel itself', async () => {
    const side = 96;
    const look = lookOf('veil.bloom.amount=0.4', 'veil.bloom.radius=0.01', 'veil.feed.threshold=0');
    const { light } = await run(point(side, side, side / 2, side / 2), look);
    const kernel = await pointSpread(look, { width: side, height: side }, { diffraction });
    light.total.forEach((plane, c) => {
      for (let i = 0; i < plane.length; i++)
        expect(Math.abs(plane[i]! - 1000 * kernel.rgb[c]![i]!)).toBeLessThan(2e-5 * (1 + plane[i]!));
    });
  });

  it('keeps the energy to 1e-4: what is not in the picture has left the frame, and is told', async () => {
    for (const [px, py] of [
      [40, 40],
      [0, 0],
      [79, 3],
    ] as const) {
      const { light, accounts } = await run(
        point(80, 80, px, py),
        lookOf(
          'veil.bloom.amount=0.5',
          'veil.bloom.falloff=3',
          'veil.bloom.radius=0.004',
          'veil.feed.threshold=0',
        ),
      );
      const { moved, lostOutsideFrame: left } = accounts.veil!;
      expect(moved).toBeCloseTo(0.5, 6);
      expect(Math.abs(luminance(light.total) / 1000 + left - 1)).toBeLessThan(1e-4);
    }
  });

  it('keeps a steep bloom in the frame to 1e-4', async () => {
    const { light } = await run(
      point(160, 160, 80, 80),
      lookOf(
        'veil.bloom.amount=1',
        'veil.bloom.falloff=4',
        'veil.bloom.radius=0.003',
        'veil.feed.threshold=0',
      ),
    );
    expect(Math.abs(sum(light.total[1]) / 1000 - 1)).toBeLessThan(1e-4);
  });

  it('never wraps round: a lamp at one edge is dimmest at the other', async () => {
    const { light } = await run(point(64, 48, 0, 24), lookOf(...BLOOM, 'veil.feed.threshold=0'));
    const row = light.total[0].subarray(24 * 64, 25 * 64);
    for (let x = 2; x < 64; x++) expect(row[x]!).toBeLessThan(row[x - 1]!);
  });

  it('is shift invariant', async () => {
    const look = lookOf(...BLOOM, 'veil.feed.threshold=0');
    const a = await run(point(60, 40, 20, 15), look);
    const b = await run(point(60, 40, 27, 19), look);
    for (let y = 0; y < 30; y++) {
      for (let x = 0; x < 50; x++)
        expect(b.light.total[1][(y + 4) * 60 + x + 7]!).toBeCloseTo(a.light.total[1][y * 60 + x]!, 3);
    }
  });

  it('plate plus separations is the final, to the bit', async () => {
    const plate = plateOf(64, 40, { '': night });
    for (const settings of [
      BLOOM,
      [...BLOOM, 'veil.mode=add'],
      [...BLOOM, 'film.exposure=0.37', 'plate.exposure=-0.6', 'veil.bloom.tint=3200'],
    ]) {
      const { light } = await run(plate, lookOf(...settings));
      expect(light.separations.map(({ name }) => name)).toEqual(['veil.bloom']);
      light.total.forEach((plane, c) => {
        const together = light.base[c]!.map((value, i) => value + light.separations[0]!.rgb[c]![i]!);
        expect(plane).toEqual(together);
      });
    }
  });

  it('takes light from the source when energy is kept, and none when it is added', async () => {
    const plate = plateOf(64, 40, { '': night });
    const [keep, add] = await Promise.all([
      run(plate, lookOf(...BLOOM)),
      run(plate, lookOf(...BLOOM, 'veil.mode=add')),
    ]);
    const lamp = 12 * 64 + 20;
    expect(keep.light.total[1][lamp]!).toBeLessThan(2500);
    expect(add.light.total[1][lamp]!).toBeGreaterThan(2500);
    expect(keep.accounts.veil!.gain).toBeLessThanOrEqual(1);
    expect(luminance(add.light.total) / luminance(add.light.base)).toBeCloseTo(add.accounts.veil!.gain, 5);
    for (const plane of keep.light.total) expect(Math.min(...plane)).toBeGreaterThanOrEqual(0);
  });

  it('is linear in its amount', async () => {
    const plate = plateOf(48, 32, { '': night });
    const [one, three] = await Promise.all([
      run(plate, lookOf('veil.bloom.amount=0.1')),
      run(plate, lookOf('veil.bloom.amount=0.3')),
    ]);
    const [a, b] = [one, three].map((result) => result.light.separations[0]!.rgb[0]) as [
      Float32Array,
      Float32Array,
    ];
    for (let i = 0; i < a.length; i++) expect(b[i]!).toBeCloseTo(3 * a[i]!, 3);
  });

  it('a tint colours the bloom and leaves its luminance', async () => {
    const plate = plateOf(64, 64, { '': (x, y) => (x === 32 && y === 32 ? 1000 : 0) });
    const [plain, warm] = await Promise.all([
      run(plate, lookOf(...BLOOM)),
      run(plate, lookOf(...BLOOM, 'veil.bloom.tint=2800')),
    ]);
    expect(luminance(warm.light.total) / luminance(plain.light.total)).toBeCloseTo(1, 5);
    const at = 32 * 64 + 40;
    expect(warm.light.total[0][at]!).toBeGreaterThan(1.5 * warm.light.total[2][at]!);
  });

  it('any colour and saturation leave the luminance, and parts of different saturation go their own ways', async () => {
    const lamp = [1000, 400, 100];
    const plate = plateOf(64, 64, { '': (x, y, c) => (x === 32 && y === 32 ? lamp[c]! : 0) });
    const settings = [...BLOOM, 'veil.diffusion.amount=0.1', 'veil.diffusion.feed.own=false'];
    const spreads = async (...more: string[]): Promise<Light> =>
      (await run(plate, lookOf(...settings, ...more))).light;
    const plain = await spreads();
    const at = 32 * 64 + 40;
    const ratio = ({ total }: Light): number => total[0][at]! / total[2][at]!;
    expect(ratio(plain)).toBeCloseTo(10, 3);
    const grey = await spreads('veil.bloom.saturation=0', 'veil.diffusion.saturation=0');
    expect(ratio(grey)).toBeCloseTo(1, 4);
    expect(luminance(grey.total) / luminance(plain.total)).toBeCloseTo(1, 5);
    const mixed = await spreads('veil.bloom.saturation=0');
    expect(ratio(mixed)).toBeGreaterThan(1.02);
    expect(ratio(mixed)).toBeLessThan(9);
    const purple = await spreads('veil.bloom.tintColour=#8020e0', 'veil.diffusion.tintColour=#8020e0');
    expect(ratio(purple)).toBeLessThan(5);
    const white = plateOf(64, 64, { '': (x, y) => (x === 32 && y === 32 ? 1000 : 0) });
    const [before, after] = await Promise.all([
      run(white, lookOf(...settings)),
      run(white, lookOf(...settings, 'veil.bloom.tintColour=#8020e0', 'veil.bloom.saturation=0.5')),
    ]);
    expect(luminance(after.light.total) / luminance(before.light.total)).toBeCloseTo(1, 5);
  });

  it('switched off passes the light on untouched', async () => {
    const { light } = await run(plateOf(16, 16, { '': night }), lookOf(...BLOOM, 'veil.on=false'));
    expect(light.separations).toEqual([]);
    expect(light.total).toBe(light.base);
  });
});

describe('the feed', () => {
  it('goes over smoothly about the threshold, by the knee in stops', () => {
    expect(feedWeight(1, 2, 0)).toBe(0);
    expect(feedWeight(2, 2, 0)).toBe(1);
    expect(feedWeight(1, 2, 1)).toBe(0);
    expect(feedWeight(4, 2, 1)).toBe(1);
    expect(feedWeight(2, 2, 1)).toBeCloseTo(0.5, 12);
    expect(feedWeight(-1, 0, 0)).toBe(0);
    expect(feedWeight(0.001, 0, 2)).toBe(1);
    fc.assert(
      fc.property(
        fc.double({ min: 1e-4, max: 1e4, noNaN: true }),
        fc.double({ min: 0, max: 4, noNaN: true }),
        (brightness, knee) => {
          const weight = feedWeight(brightness, 1.5, knee);
          expect(weight).toBeGreaterThanOrEqual(0);
          expect(weight).toBeLessThanOrEqual(1);
          expect(feedWeight(brightness * 1.1, 1.5, knee)).toBeGreaterThanOrEqual(weight);
        },
      ),
    );
  });

  it('tells its share of pixels and of light', async () => {
    const plate = plateOf(10, 10, { '': (x, y) => (x === 0 && y < 5 ? 9 : 1) });
    const { feeds } = await run(plate, lookOf('veil.feed.threshold=4', 'veil.feed.knee=0'));
    expect(feeds.veil!.pixels).toBeCloseTo(0.05, 12);
    expect(feeds.veil!.light).toBeCloseTo(45 / 140, 6);
  });

  it('by brightness catches a blue lamp that luminance misses', async () => {
    const plate = plateOf(4, 4, { '': (x, _, c) => (x === 0 && c === 2 ? 8 : 0.1) });
    const share = async (measure: string): Promise<number> =>
      (await run(plate, lookOf('veil.feed.threshold=4', 'veil.feed.knee=0', `veil.feed.measure=${measure}`)))
        .feeds.veil!.pixels;
    expect(await share('brightest')).toBeCloseTo(0.25, 12);
    expect(await share('luminance')).toBe(0);
  });

  it('from a pass takes that pass only, and never more than the picture has', async () => {
    const plate = plateOf(32, 32, {
      '': (x, y) => (x === 4 && y === 4 ? 100 : x === 20 ? 50 : 0.1),
      emission: (x, y) => (x === 4 && y === 4 ? 400 : 0),
    });
    const { light, feeds } = await run(plate, lookOf('veil.bloom.amount=1', 'veil.feed.pass=emission'));
    expect(feeds.veil!.pixels).toBeCloseTo(1 / 1024, 12);
    const taken = light.separations[0]!.rgb[0];
    expect(taken[4 * 32 + 4]!).toBeGreaterThanOrEqual(-100);
    expect(taken[4 * 32 + 20]!).toBeGreaterThanOrEqual(0);
  });

  it('follows the exposure of the plate', async () => {
    const plate = plateOf(8, 8, { '': () => 1 });
    const share = async (stops: number): Promise<number> =>
      (await run(plate, lookOf('veil.feed.threshold=2', 'veil.feed.knee=0', `plate.exposure=${stops}`))).feeds
        .veil!.pixels;
    expect([await share(0), await share(1)]).toEqual([0, 1]);
  });
});

describe('spikes', () => {
  const lamp: Paint = (x, y) => (x === 48 && y === 30 ? 5000 : 0.01);
  const plate = plateOf(96, 60, { '': lamp });
  // The pattern is kept between runs, and computed at the size that drafts have.
  const quick = { draft: true, cache: new ContentCache(1e9) };
  const SPIKES = ['veil.spikes.amount=0.2', 'veil.spikes.size=100', 'pupil.blades=6', 'camera.fStop=8'];

  it('are a separation beside the bloom, and all parts add up to the final', async () => {
    const { light } = await run(plate, lookOf(...BLOOM, ...SPIKES), { ...quick, separate: true });
    expect(light.separations.map(({ name }) => name)).toEqual(['veil.bloom', 'veil.spikes']);
    for (let c = 0; c < 3; c++) {
      const whole = light.separations.reduce(
        (total, { rgb }) => total.map((value, i) => value + rgb[c as 0]![i]!),
        light.base[c as 0],
      );
      expect(whole).toEqual(light.total[c as 0]);
    }
  });

  it('keep the energy: what is missing left the frame, and the account tells it', async () => {
    const { light, accounts } = await run(plate, lookOf(...BLOOM, ...SPIKES), quick);
    const { moved, lostOutsideFrame: left, gain } = accounts.veil!;
    expect(moved).toBeCloseTo(0.25, 2);
    expect(left).toBeGreaterThan(0);
    expect(left).toBeLessThan(moved);
    expect(luminance(light.total) / luminance(light.base)).toBeCloseTo(gain, 4);
  });

  it('of white light are white in sum, though coloured everywhere', async () => {
    const { light } = await run(plate, lookOf(...SPIKES, 'veil.spikes.size=30'), quick);
    const [r, g, b] = light.separations[0]!.rgb;
    // What is missing from a channel left the frame: of every colour about as much.
    const missing = [r, g, b].map((plane) => -sum(plane) / (0.2 * 5000));
    for (const share of missing) {
      expect(share).toBeGreaterThan(0);
      expect(share).toBeLessThan(0.2);
      expect(Math.abs(share - missing[1]!)).toBeLessThan(0.05);
    }
    let colour = 0;
    for (let i = 0; i < r.length; i++) colour = Math.max(colour, Math.abs(r[i]! - b[i]!) / (g[i]! + 1e-3));
    expect(colour).toBeGreaterThan(0.1);
  });

  // Source: Fourier symmetry: the spikes of six blades lie every 60 degrees and turn with the pupil.
  it('turn with the pupil', async () => {
    const along = async (rotation: number, degrees: number): Promise<number> => {
      const look = lookOf(...SPIKES, `pupil.rotation=${rotation}`, 'veil.spikes.softness=0');
      const { light } = await run(plate, look, quick);
      const angle = (degrees * Math.PI) / 180;
      let total = 0;
      for (let r = 10; r < 25; r++) {
        const [x, y] = [Math.round(48 + r * Math.cos(angle)), Math.round(30 + r * Math.sin(angle))];
        total += light.separations[0]!.rgb[1][y * 96 + x]!;
      }
      return total;
    };
    // A corner points up, so that edges face 30 degrees to the side, and level is one of them.
    const [spike, gap] = [await along(0, 0), await along(0, 30)];
    const [turnedSpike, turnedGap] = [await along(30, 0), await along(30, 30)];
    expect(spike / gap).toBeGreaterThan(4);
    expect(turnedGap / turnedSpike).toBeGreaterThan(4);
  });

  it('follow the f-stop and leave the light alone without an amount', async () => {
    const spread = async (fStop: number): Promise<number> => {
      const { light } = await run(
        plate,
        lookOf(...SPIKES, 'veil.spikes.size=4', `camera.fStop=${fStop}`),
        quick,
      );
      // Light that stays in the lamp's own pixel.
      return light.separations[0]!.rgb[1][30 * 96 + 48]!;
    };
    expect(await spread(2)).toBeGreaterThan(await spread(16));
    const { light } = await run(plate, lookOf('veil.spikes.amount=0', 'pupil.dust.amount=0.1'), quick);
    expect(light.separations).toEqual([]);
  });
});

describe('the bench', () => {
  const plate = plateOf(64, 40, { '': night, diffuse: () => 0.5 });

  it('takes another pass, and names those it has when one is missing', async () => {
    expect((await run(plate, lookOf('plate.pass=diffuse'))).light.total[0][0]).toBe(0.5);
    await expect(run(plate, lookOf('plate.pass=sheen'))).rejects.toThrow(SettingError);
    await expect(run(plate, lookOf('plate.pass=sheen'))).rejects.toMatchObject({
      where: 'elements[0].pass',
      todo: 'It has beauty, diffuse',
    });
  });

  it('exposes by powers of two', async () => {
    const { light } = await run(plate, lookOf('plate.exposure=2', 'film.exposure=-1'));
    light.total[0].forEach((value, i) =>
      expect(value).toBe(2 * (plate.picture.channels.get('R')!.samples as Float32Array)[i]!),
    );
  });

  it('can be looked at behind any station', async () => {
    const look = lookOf(...BLOOM, 'film.exposure=3');
    const behind = (station: 'plate' | 'veil' | 'film'): Promise<Evaluation> =>
      evaluate(look, contextFor(plate), { scale: 1, behind: station });
    const [atPlate, atVeil, atFilm] = await Promise.all([behind('plate'), behind('veil'), behind('film')]);
    expect(atPlate.light.separations).toEqual([]);
    expect(atVeil.light.separations).toHaveLength(1);
    expect(atFilm.light.total[0][99]!).toBeCloseTo(8 * atVeil.light.total[0][99]!, 5);
  });

  it('looks the same at half the scale', async () => {
    const large = plateOf(256, 144, { '': (x, y) => ((x - 127.5) ** 2 + (y - 71.5) ** 2 < 40 ? 800 : 0.05) });
    const look = lookOf('veil.bloom.amount=0.2', 'veil.bloom.radius=0.03');
    const [full, half] = await Promise.all([run(large, look), run(large, look, { scale: 0.5 })]);
    expect([half.light.width, half.light.height]).toEqual([128, 72]);
    for (const [x, y] of [
      [10, 10],
      [64, 10],
      [80, 36],
      [120, 60],
      [50, 40],
    ] as const) {
      const at = (u: number, v: number): number => full.light.total[0][(2 * y + v) * 256 + 2 * x + u]!;
      const mean = (at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4;
      expect(half.light.total[0][y * 128 + x]! / mean).toBeCloseTo(1, 2);
    }
    expect(half.accounts.veil!.moved).toBeCloseTo(full.accounts.veil!.moved, 3);
    expect(half.accounts.veil!.lostOutsideFrame).toBeCloseTo(full.accounts.veil!.lostOutsideFrame, 3);
  });

  it('computes only what a change touches', async () => {
    const counted = { prepare: 0, convolve: 0 };
    const inner = referenceConvolution(serialRunner);
    const convolution: ConvolutionKernel = {
      prepare: (...all) => (counted.prepare++, inner.prepare(...all)),
      transform: (...all) => inner.transform(...all),
      convolve: (...all) => (counted.convolve++, inner.convolve(...all)),
    };
    const context = contextFor(plate, convolution);
    const after = async (...settings: string[]): Promise<[number, number]> => {
      await evaluate(lookOf(...BLOOM, ...settings), context, { scale: 1 });
      return [counted.prepare, counted.convolve];
    };
    expect(await after()).toEqual([1, 1]);
    expect(await after('film.exposure=1')).toEqual([1, 1]);
    expect(await after('veil.bloom.amount=0.2')).toEqual([1, 1]);
    expect(await after('veil.bloom.tint=3000', 'veil.mode=add')).toEqual([1, 1]);
    expect(await after('veil.feed.threshold=3')).toEqual([1, 2]);
    expect(await after('veil.bloom.falloff=3')).toEqual([2, 3]);
    expect(await after('plate.exposure=1')).toEqual([2, 4]);
    expect(await after()).toEqual([2, 4]);
  });

  it('convolves a part whose amount varies once, beside all other parts', async () => {
    let convolved = 0;
    const inner = referenceConvolution(serialRunner);
    const convolution: ConvolutionKernel = {
      ...inner,
      prepare: (...all) => inner.prepare(...all),
      transform: (...all) => inner.transform(...all),
      convolve: (...all) => (convolved++, inner.convolve(...all)),
    };
    const context = { ...contextFor(plate, convolution), totalOnly: true, apart: ['veil.bloom'] };
    const settings = [...BLOOM, 'veil.halo.amount=0.01'];
    const finals: Rgb[] = [];
    for (const amount of [0.01, 0.02, 0.04, 0.08]) {
      const look = lookOf(...settings, `veil.bloom.amount=${amount}`);
      finals.push((await evaluate(look, context, { scale: 1, behind: 'veil' })).light.total);
    }
    // The bloom and the halo, each for the first amount alone.
    expect(convolved).toBe(2);
    const together = await evaluate(
      lookOf(...settings, 'veil.bloom.amount=0.08'),
      { ...contextFor(plate), totalOnly: true },
      { scale: 1, behind: 'veil' },
    );
    expect(largestDifference(finals[3]![0], together.light.total[0])).toBeLessThan(1e-3);
  });

  it('does not run a station again whose light and settings are the same', async () => {
    const context = contextFor(plate);
    const veilOf = async (...settings: string[]): Promise<Rgb> =>
      (await evaluate(lookOf(...BLOOM, ...settings), context, { scale: 1, behind: 'veil' })).light.total;
    const first = await veilOf();
    await evaluate(lookOf(...BLOOM, 'film.exposure=2'), context, { scale: 1 });
    expect(await veilOf('film.exposure=1', 'film.view=filmic')).toBe(first);
    expect(await veilOf('veil.bloom.tint=4000')).not.toBe(first);
  });

  it('cuts a region whose pixels are those of the whole', async () => {
    const { light } = await run(plate, lookOf(...BLOOM));
    const region = { x: 13, y: 5, width: 20, height: 11 };
    const cut = cutRegion(light, region);
    for (const [parts, whole] of [
      [cut.total, light.total],
      [cut.separations[0]!.rgb, light.separations[0]!.rgb],
      [cut.base, light.base],
    ] as const) {
      parts.forEach((part, c) => {
        for (let y = 0; y < 11; y++)
          for (let x = 0; x < 20; x++) expect(part[y * 20 + x]).toBe(whole[c]![(y + 5) * 64 + x + 13]);
      });
    }
    for (const bad of [
      { ...region, x: 50 },
      { ...region, y: -1 },
      { ...region, width: 0 },
      { ...region, x: 0.5 },
    ]) {
      expect(() => cutRegion(light, bad)).toThrow(SettingError);
    }
  });

  it('can be given up', async () => {
    const control = new AbortController();
    control.abort();
    await expect(
      evaluate(lookOf(...BLOOM), { ...contextFor(plate), signal: control.signal }, { scale: 1 }),
    ).rejects.toThrow(CancelledError);
  });

  it('needs a pass with light', () => {
    const picture = emptyPicture(1, 1);
    addChannel(picture, 'Z', 'float', new Float32Array(1));
    expect(() => makePlate('p', 'depth.exr', picture)).toThrow(/holds no colour/);
  });
});

describe('the cache', () => {
  it('keeps what was used last and forgets the rest', async () => {
    const cache = new ContentCache(30);
    const made: string[] = [];
    const take = (key: string): Promise<string> =>
      cache.getOrCompute(
        key,
        () => (made.push(key), key),
        () => 10,
      );
    for (const key of ['a', 'b', 'c', 'a', 'd', 'a', 'b']) expect(await take(key)).toBe(key);
    expect(made).toEqual(['a', 'b', 'c', 'd', 'b']);
    expect(cache.size).toBe(30);
    cache.drop('a');
    expect(cache.size).toBe(20);
  });

  it('does not keep what failed', async () => {
    const cache = new ContentCache(30);
    await expect(
      cache.getOrCompute(
        'a',
        () => Promise.reject(new Error('no')),
        () => 1,
      ),
    ).rejects.toThrow('no');
    expect(
      await cache.getOrCompute(
        'a',
        () => 5,
        () => 1,
      ),
    ).toBe(5);
  });
});

describe('the parts of the veil', () => {
  const plate = plateOf(72, 48, {
    '': (x, y, c) => (x === 20 && y === 20 ? [400, 200, 50][c]! : x === 60 && y === 40 ? 9 : 0.1),
  });
  const MANY = [
    'veil.bloom.amount=0.02',
    'veil.bloom.tint=3000',
    'veil.halo.amount=0.03',
    'veil.streak.amount=0.01',
    'veil.streak.tint=12000',
    'veil.stack[0].amount=0.02',
    'veil.stack[1].amount=0.02',
    'veil.stack[1].threshold=50',
    'veil.diffusion.amount=0.05',
    'veil.dirt.amount=0.01',
  ];

  it.each([[[]], [['veil.mode=add']]])(
    'give the same light whether they are computed at once or each by itself',
    async (more) => {
      const look = lookOf(...MANY, ...more);
      const [once, parted] = [await run(plate, look), await run(plate, look, { separate: true })];
      expect(once.light.separations.map(({ name }) => name)).toEqual([
        'veil.bloom+veil.stack[0]+veil.halo+veil.streaks[0]',
        'veil.stack[1]',
        'veil.diffusion',
        'veil.dirt',
      ]);
      expect(parted.light.separations.map(({ name }) => name)).toEqual([
        'veil.bloom',
        'veil.stack[0]',
        'veil.stack[1]',
        'veil.halo',
        'veil.streaks[0]',
        'veil.diffusion',
        'veil.dirt',
      ]);
      for (let c = 0; c < 3; c++)
        once.light.total[c]!.forEach((value, i) =>
          expect(Math.abs(value - parted.light.total[c]![i]!)).toBeLessThan(1e-5 * (1 + Math.abs(value))),
        );
      for (const key of ['moved', 'lostOutsideFrame', 'gain'] as const)
        expect(once.accounts.veil![key]).toBeCloseTo(parted.accounts.veil![key], 3);
    },
  );

  it('keep the energy together, but for what leaves the frame', async () => {
    const { light, accounts } = await run(plate, lookOf(...MANY));
    const before = luminance(light.base);
    const { lostOutsideFrame: left, gain } = accounts.veil!;
    expect(left).toBeGreaterThan(0);
    // Tints keep the luminance of white alone, and dirt that of an even light.
    expect(luminance(light.total) / before).toBeCloseTo(gain, 1);
  });

  it('cannot scatter more light than there is', async () => {
    const { light, accounts } = await run(
      plate,
      lookOf(
        'veil.bloom.amount=0.9',
        'veil.halo.amount=0.9',
        'veil.streak.amount=0.9',
        'veil.feed.threshold=0',
      ),
    );
    expect(accounts.veil!.moved).toBeCloseTo(1, 5);
    for (const plane of light.total) expect(plane.every((value) => value > -1e-4)).toBe(true);
  });

  it('do nothing when they are off, each with its own switch', async () => {
    const off = ['bloom', 'halo', 'streaks[0]', 'diffusion', 'dirt', 'stack[0]', 'stack[1]'];
    const { light } = await run(plate, lookOf(...MANY, ...off.map((name) => `veil.${name}.on=false`)));
    expect(light.separations).toEqual([]);
    expect(light.total).toEqual(light.base);
  });

  it('take a feed of their own in place of the common one', async () => {
    const look = lookOf('veil.halo.amount=0.1', 'veil.halo.feed.own=true', 'veil.halo.feed.threshold=100');
    const { feeds, light } = await run(plate, look);
    expect(feeds.veil!.pixels).toBeCloseTo(2 / (72 * 48), 9);
    expect(feeds['veil.halo']!.pixels).toBeCloseTo(1 / (72 * 48), 9);
    // The weaker lamp does not feed it, and so loses nothing.
    expect(light.separations[0]!.rgb[0]![40 * 72 + 60]).toBeGreaterThanOrEqual(0);
    expect(light.separations[0]!.rgb[0]![20 * 72 + 20]).toBeLessThan(-30);
  });

  it('of the layers take a pass, a mask and a ceiling of their own at their own threshold', async () => {
    const wide = ['veil.stack[0].amount=0.1', 'veil.stack[0].threshold=50', 'veil.feed.ceiling=60'];
    const [common, own] = await Promise.all(
      [[], ['veil.stack[0].feed.own=true']].map((more) => run(plate, lookOf(...wide, ...more))),
    );
    // The weaker lamp is under the threshold in both; the other is held by the common ceiling alone.
    expect(own!.feeds['veil.stack[0]']!.pixels).toBe(common!.feeds['veil.stack[0]']!.pixels);
    expect(own!.feeds['veil.stack[0]']!.light).toBeGreaterThan(1.5 * common!.feeds['veil.stack[0]']!.light);
    await expect(
      run(plate, lookOf(...wide, 'veil.stack[0].feed.own=true', 'veil.stack[0].feed.pass=glow')),
    ).rejects.toThrow(/glow/);
  });

  it('of a streak draw out more of what lies over the second threshold, and no more than there is', async () => {
    const streak = ['veil.streak.amount=0.05', 'veil.feed.knee=0'];
    const drawn = async (...more: string[]): Promise<number> => {
      const { accounts, light } = await run(plate, lookOf(...streak, ...more));
      return accounts.veil!.moved * luminance(light.base);
    };
    const plain = await drawn();
    // One lamp lies over 100, the other under it.
    const weak = await drawn('veil.streak.boost=4', 'veil.streak.boostAbove=5000');
    expect(weak / plain).toBeCloseTo(1, 4);
    const lamps = [await drawn('veil.feed.threshold=100'), plain - (await drawn('veil.feed.threshold=100'))];
    const boosted = await drawn('veil.streak.boost=4', 'veil.streak.boostAbove=100');
    expect(boosted / (4 * lamps[0]! + lamps[1]!)).toBeCloseTo(1, 4);
    const { light } = await run(
      plate,
      lookOf(
        'veil.streak.amount=0.5',
        'veil.streak.boost=64',
        'veil.streak.boostAbove=100',
        'veil.feed.threshold=0',
      ),
    );
    for (const channel of light.total) expect(channel.every((value) => value > -1e-4)).toBe(true);
  });

  it('show dirt where it lies, in the mean as much light as it catches', async () => {
    const white = plateOf(72, 48, { '': () => 1 });
    const look = lookOf(
      'veil.dirt.amount=0.2',
      'veil.feed.threshold=0',
      'veil.mode=add',
      'veil.dirt.reach=0.02',
    );
    const { light } = await run(white, look);
    const [plane] = light.separations[0]!.rgb;
    expect(Math.max(...plane) / Math.min(...plane)).toBeGreaterThan(3);
    expect(sum(plane) / plane.length).toBeGreaterThan(0.1);
    expect(sum(plane) / plane.length).toBeLessThan(0.2);
  });

  it('take masks and dirt from images, and tell which are missing', async () => {
    const image = (name: string) =>
      name === 'half.png' ? { key: 'h', width: 2, height: 1, plane: Float32Array.of(0, 1) } : undefined;
    const look = lookOf('veil.dirt.amount=0.5', 'veil.dirt.image=half.png', 'veil.mode=add');
    const { light } = await run(plate, look, { image });
    const [plane] = light.separations[0]!.rgb;
    expect(plane[20 * 72]).toBe(0);
    expect(plane[20 * 72 + 70]).toBeGreaterThan(0);
    await expect(
      run(plate, lookOf('veil.spikes.amount=0.5', 'pupil.mask=leaf.png'), { image }),
    ).rejects.toThrow('there is no image leaf.png');
  });
});

describe('the look of the veil', () => {
  const VEIL = [
    'veil.bloom.amount=0.03',
    'veil.halo.amount=0.02',
    'veil.streak.amount=0.02',
    'veil.streak.angle=25',
    'veil.diffusion.amount=0.1',
    'veil.stack[0].amount=0.02',
    'veil.stack[0].shape=gaussian',
    'veil.dirt.amount=0.02',
  ];

  it('is the same at half the scale, part by part', async () => {
    const lamp: Paint = (x, y) => (Math.hypot(x - 100, y - 70) < 6 ? 300 : 0.05);
    const plate = plateOf(256, 144, { '': lamp });
    const [full, half] = await Promise.all(
      [1, 0.5].map((scale) => run(plate, lookOf(...VEIL), { scale, separate: true })),
    );
    full!.light.separations.forEach(({ name, rgb }, part) => {
      const small = half!.light.separations[part]!;
      expect(small.name).toBe(name);
      let [error, all] = [0, 0];
      for (let y = 0; y < 72; y++)
        for (let x = 0; x < 128; x++) {
          const at = 2 * y * 256 + 2 * x;
          const mean = (rgb[1][at]! + rgb[1][at + 1]! + rgb[1][at + 256]! + rgb[1][at + 257]!) / 4;
          error += Math.abs(mean - small.rgb[1][y * 128 + x]!);
          all += Math.abs(mean);
        }
      expect([name, error / all < 0.12]).toEqual([name, true]);
    });
  });

  it('moves with the lamp', async () => {
    const at = async (px: number): Promise<Rgb> => {
      const plate = plateOf(96, 64, { '': (x, y) => (x === px && y === 30 ? 500 : 0) });
      return (await run(plate, lookOf(...VEIL.filter((one) => !one.includes('dirt'))))).light.total;
    };
    const [here, there] = [await at(40), await at(47)];
    for (let c = 0; c < 3; c++)
      for (let y = 0; y < 64; y += 7)
        for (let x = 0; x < 89; x += 5)
          expect(Math.abs(here[c as 0]![y * 96 + x]! - there[c as 0]![y * 96 + x + 7]!)).toBeLessThan(1e-3);
  });

  it('is linear in what feeds it', async () => {
    const plate = (gain: number): Plate =>
      plateOf(80, 60, { '': (x, y) => gain * ((x * 7 + y * 13) % 29 === 0 ? 100 : 0) });
    const look = lookOf(...VEIL, 'veil.feed.threshold=0', 'veil.stack[0].threshold=0');
    const [one, three] = [(await run(plate(1), look)).light.total, (await run(plate(3), look)).light.total];
    one.forEach((plane, c) =>
      plane.forEach((value, i) => expect(Math.abs(three[c]![i]! / 3 - value)).toBeLessThan(1e-3)),
    );
  });

  // Common practice: bloom happens in the lens, so that it lies over what stands in front of the lamp as well.
  it('wraps round what stands before the light, which cuts it', async () => {
    const bar = (x: number): boolean => x >= 38 && x <= 42;
    const window = (x: number, y: number): boolean => Math.abs(x - 40) < 20 && Math.abs(y - 30) < 12;
    const plate = plateOf(80, 60, { '': (x, y) => (window(x, y) && !bar(x) ? 200 : 0) });
    const { light } = await run(plate, lookOf('veil.bloom.amount=0.05', 'veil.bloom.radius=0.02'));
    const row = (x: number): number => light.total[1][30 * 80 + x]!;
    // Light lies over the bar, most at its edges; beside the window it is dimmer than between its panes.
    expect(row(40)).toBeGreaterThan(0.5);
    expect(row(38)).toBeGreaterThan(row(40));
    expect(row(40)).toBeGreaterThan(row(66));
  });

  it('has sharp coloured spikes on a small light, and soft pale ones on a large one', async () => {
    const spikes = async (radius: number): Promise<{ contrast: number; colour: number }> => {
      const plate = plateOf(160, 100, {
        '': (x, y) => (Math.hypot(x - 80, y - 50) <= radius ? 1e5 / (radius + 0.5) ** 2 : 0),
      });
      const look = lookOf(
        ...['veil.spikes.amount=0.3', 'veil.spikes.size=60', 'pupil.blades=6', 'camera.fStop=8'],
        'veil.spikes.softness=0',
      );
      const [r, g, b] = (await run(plate, look, { draft: true })).light.separations[0]!.rgb;
      // Round the light at forty pixels: how much it rises over its mean, and how far red and blue are apart.
      let [most, total, apart] = [0, 0, 0];
      for (let k = 0; k < 360; k++) {
        const angle = (k * Math.PI) / 180;
        const i = Math.round(50 + 40 * Math.sin(angle)) * 160 + Math.round(80 + 40 * Math.cos(angle));
        most = Math.max(most, g[i]!);
        total += g[i]!;
        apart += Math.abs(r[i]! - b[i]!);
      }
      return { contrast: most / (total / 360), colour: apart / total };
    };
    const [small, large] = [await spikes(0.4), await spikes(9)];
    expect(small.contrast).toBeGreaterThan(1.5 * large.contrast);
    expect(small.colour).toBeGreaterThan(large.colour);
  });

  it('darkens a soft copy towards the edge, or draws the edge on, as is chosen', async () => {
    const plate = plateOf(90, 60, { '': () => 0.5 });
    const soft = ['amount=0.4', 'radius=0.04', 'shape=gaussian'].map((part) => `veil.diffusion.${part}`);
    const corner = async (...more: string[]): Promise<number> =>
      (await run(plate, lookOf(...soft, ...more))).light.total[0][0]!;
    // A quarter of a Gaussian lies on the corner's side.
    expect(await corner()).toBeCloseTo(0.5 * (0.6 + 0.4 * 0.3), 1);
    expect(await corner('veil.edge=repeat')).toBeCloseTo(0.5, 5);
  });

  // Nothing wraps round: a lamp at one edge leaves the other one to its own tail.
  it('does not come back in at the other side', async () => {
    const plate = plateOf(120, 60, { '': (x, y) => (x === 1 && y === 30 ? 1000 : 0) });
    const { light } = await run(
      plate,
      lookOf('veil.bloom.amount=0.1', 'veil.streak.amount=0.1', 'veil.streak.length=0.2'),
    );
    const row = (x: number): number => light.total[0][30 * 120 + x]!;
    for (let x = 4; x < 119; x++) expect(row(x + 1)).toBeLessThanOrEqual(row(x));
    expect(row(119)).toBeLessThan(0.02 * row(10));
  });
});

describe('a feed from a single pass', () => {
  const [width, height] = [64, 48];
  const lamp: Paint = (x, y) => ((x - 40) ** 2 + (y - 24) ** 2 < 5 ? 900 : 0);
  const dim: Paint = () => 0.1;
  /** A plate with a lamp in its emission, all of it 9 m away. */
  function lampPlate(): Plate {
    const plate = plateOf(width, height, {
      '': (x, y, c) => lamp(x, y, c) + dim(x, y, c),
      diffuse: dim,
      emission: lamp,
    });
    addChannel(plate.picture, 'depth.Z', 'float', new Float32Array(width * height).fill(9));
    return makePlate('p', 'lamp.exr', plate.picture);
  }
  const fedBy = async (...settings: string[]): Promise<number> => {
    const look = lookOf('veil.bloom.amount=0.1', 'veil.feed.threshold=1', ...settings);
    return (await run(lampPlate(), look)).feeds['veil']!.light;
  };

  it('is seen through the lens as the picture is', async () => {
    const blurred = ['focus.on=true', 'camera.fStop=0.7', 'camera.focusDistance=1', 'focus.limit=0.2'];
    const [all, own] = [await fedBy(...blurred), await fedBy(...blurred, 'veil.feed.pass=emission')];
    expect(all).toBeGreaterThan(0.5);
    expect(own / all).toBeGreaterThan(0.97);
  });

  it('may be a sum of passes, each with its weight', async () => {
    const parts = (text: string): Promise<number> =>
      fedBy(`veil.feed.passes=${text}`, 'veil.feed.threshold=0');
    const [lamps, rest] = [await parts('emission'), await parts('diffuse')];
    expect(await parts('emission:0.5,diffuse:0.25')).toBeCloseTo(0.5 * lamps + 0.25 * rest, 6);
    // No more feeds than the picture holds.
    expect(await parts('emission:8')).toBeCloseTo(lamps, 3);
    await expect(parts('emission,glow')).rejects.toThrow(/glow/);
  });

  it('follows the settings that the pass has in the sum', async () => {
    const inSum = ['plate.source=sum', 'veil.feed.pass=emission'];
    const amount = async (...settings: string[]): Promise<number> => {
      const look = lookOf('veil.bloom.amount=0.1', 'veil.feed.threshold=1', ...inSum, ...settings);
      const { light, accounts } = await run(lampPlate(), look);
      return accounts.veil!.moved * luminance(light.base);
    };
    const plain = await amount();
    expect((await amount('plate.passes.emission.gain=3')) / plain).toBeCloseTo(8, 1);
    expect(await amount('plate.passes.emission.on=false')).toBe(0);
    expect(await amount('plate.passes.diffuse.solo=true')).toBe(0);
    expect(await amount('veil.feed.passes=emission', 'plate.passes.emission.on=false')).toBe(0);
  });
});
