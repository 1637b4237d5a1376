import { filmView } from '../stations/film/run';
import { PNG } from 'pngjs';
import sharp from 'sharp';
import { fromArrayBuffer } from 'geotiff';
import { viewOf } from '../color/view';
import { ContentCache } from '../light/cache';
import { evaluate } from '../bench/evaluate';
import { makePlate, type Plate } from '../light/plate';
import { cutRegion } from '../light/region';
import type { Rectangle } from '../image/rectangle';
import { encodeSrgb } from '../color/srgb';
import { readExr } from '../formats/exr/read';
import { writePng } from '../formats/png/write';
import { floatsToHalves } from '../image/half';
import { addChannel, channelFloats, emptyPicture, type Picture, type SampleType } from '../image/picture';
import { kernelsOn } from '../kernels';
import { serialRunner } from '../jobs';
import { assignSetting, defaultLook } from '../look/look';
import { fileName } from './file-name';
import type { PrintAlpha } from './alpha';
import { lookForPrint, print, type PrintFormat, type Printed, type PrintJob } from './print';

const [WIDTH, HEIGHT] = [24, 16];

function plateOf(type: SampleType, alpha = false): Plate {
  const picture = emptyPicture(WIDTH, HEIGHT);
  picture.dataWindow = { xMin: 100, yMin: -7, xMax: 100 + WIDTH - 1, yMax: -7 + HEIGHT - 1 };
  // Two pixels of overscan on every side.
  picture.displayWindow = { xMin: 102, yMin: -5, xMax: 97 + WIDTH, yMax: HEIGHT - 10 };
  picture.attributes.set('owner', { type: 'string', bytes: new TextEncoder().encode('nobody') });
  picture.attributes.set('preview', { type: 'preview', bytes: new Uint8Array(8) });
  const add = (name: string, value: (i: number) => number): void => {
    const floats = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i));
    addChannel(picture, name, type, type === 'half' ? floatsToHalves(floats) : floats);
  };
  ['R', 'G', 'B'].forEach((name, c) =>
    add(name, (i) => (i === 200 ? 900 : 0.001 * ((i * 37 + c * 11) % 997))),
  );
  if (alpha) add('A', (i) => (i % 3) / 2);
  return makePlate('p', 'night.exr', picture);
}

async function printed(
  plate: Plate,
  format: PrintFormat,
  settings: string[] = [],
  region?: Rectangle,
): Promise<Printed> {
  const look = settings.reduce(assignSetting, defaultLook());
  const { light } = await evaluate(
    look,
    { plate, cache: new ContentCache(1e8), kernels: kernelsOn(serialRunner) },
    { scale: 1 },
  );
  const view = filmView(look, {});
  return print({ plate, view, light: region ? cutRegion(light, region) : light, format, region });
}

const exr = (samples: 'plate' | 'half' | 'float', separations = false): PrintFormat => ({
  kind: 'exr',
  samples,
  separations,
});
const back = async (...all: Parameters<typeof printed>): Promise<Picture> =>
  readExr((await printed(...all)).bytes);

describe('printing OpenEXR', () => {
  it.each(['half', 'float'] as const)(
    'of a %s plate under a default look gives the beauty back bit for bit',
    async (type) => {
      const plate = plateOf(type, true);
      const picture = await back(plate, exr('plate'));
      expect([...picture.channels.keys()]).toEqual(['A', 'B', 'G', 'R']);
      for (const [name, channel] of picture.channels) {
        expect(channel.type).toBe(type);
        expect(channel.samples).toEqual(plate.picture.channels.get(name)!.samples);
      }
      expect(picture.dataWindow).toEqual(plate.picture.dataWindow);
      expect(picture.displayWindow).toEqual(plate.picture.displayWindow);
    },
  );

  it('carries the attributes, but no outdated preview', async () => {
    const { attributes } = await back(plateOf('half'), exr('plate'));
    expect(new TextDecoder().decode(attributes.get('owner')!.bytes)).toBe('nobody');
    expect(attributes.has('preview')).toBe(false);
  });

  it('with separations adds up to the final exactly, in float', async () => {
    const { channels } = await back(plateOf('float'), exr('float', true), [
      'veil.bloom.amount=0.1',
      'film.exposure=0.3',
    ]);
    expect([...channels.keys()].sort()).toEqual(
      ['B', 'G', 'R', 'plate.B', 'plate.G', 'plate.R', 'veil.bloom.B', 'veil.bloom.G', 'veil.bloom.R'].sort(),
    );
    for (const name of ['R', 'G', 'B']) {
      const [base, bloom] = ['plate', 'veil.bloom'].map(
        (layer) => channels.get(`${layer}.${name}`)!.samples as Float32Array,
      ) as [Float32Array, Float32Array];
      expect(channels.get(name)!.samples).toEqual(base.map((value, i) => value + bloom[i]!));
    }
  });

  it('takes the sample type it is told, and says what a half could not hold', async () => {
    const plate = plateOf('float');
    expect((await back(plate, exr('half'))).channels.get('R')!.type).toBe('half');
    const { bytes, warnings } = await printed(plate, exr('half'), ['film.exposure=9']);
    expect(warnings[0]).toMatch(/^3 samples were brighter/);
    expect(Math.max(...channelFloats((await readExr(bytes)).channels.get('R')!))).toBe(65504);
  });

  it('keeps the place of a region in the picture', async () => {
    const region = { x: 4, y: 2, width: 9, height: 5 };
    const picture = await back(plateOf('half'), exr('plate'), [], region);
    expect(picture.dataWindow).toEqual({ xMin: 104, yMin: -5, xMax: 112, yMax: -1 });
    expect(picture.displayWindow).toEqual(plateOf('half').picture.displayWindow);
  });

  it('is not touched by the view', async () => {
    const [plain, filmic] = await Promise.all([
      printed(plateOf('half'), exr('plate')),
      printed(plateOf('half'), exr('plate'), ['film.view=filmic']),
    ]);
    expect(filmic.bytes).toEqual(plain.bytes);
  });
});

describe('printing PNG', () => {
  // Source: pngjs 7, another PNG library, reads what was written; the values are those of IEC 61966-2-1.
  it('of 8 bits holds the sRGB values of the picture', async () => {
    const plate = plateOf('float');
    const { data, width, height } = PNG.sync.read(
      Buffer.from((await printed(plate, { kind: 'png', bits: 8 })).bytes),
    );
    // The frame alone, without its overscan.
    expect([width, height]).toEqual([WIDTH - 4, HEIGHT - 4]);
    ['R', 'G', 'B'].forEach((name, c) => {
      const samples = plate.picture.channels.get(name)!.samples as Float32Array;
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const value = Math.min(1, samples[(y + 2) * WIDTH + x + 2]!);
          expect(data[(y * width + x) * 4 + c]).toBe(Math.round(encodeSrgb(value) * 255));
        }
    });
  });

  it('of 16 bits holds finer steps', async () => {
    const bytes = Buffer.from(
      (await printed(plateOf('float'), { kind: 'png', bits: 16 }, ['film.view=clip'])).bytes,
    );
    const { depth } = PNG.sync.read(bytes) as unknown as { depth: number };
    expect(depth).toBe(16);
    const { data } = PNG.sync.read(bytes, { skipRescale: true } as never) as unknown as { data: Uint16Array };
    const samples = plateOf('float').picture.channels.get('G')!.samples as Float32Array;
    const columns = WIDTH - 4;
    for (let i = 0; i < columns * (HEIGHT - 4); i++) {
      const value = samples[(Math.floor(i / columns) + 2) * WIDTH + (i % columns) + 2]!;
      expect(data[i * 4 + 1]).toBe(Math.round(Math.min(1, value) * 65535));
    }
  });

  it('rounds to the nearest step', () => {
    const { data } = PNG.sync.read(
      Buffer.from(writePng(Float32Array.of(0.499 / 255, 0.501 / 255, 1), 1, 1, 8)),
    );
    expect([...data.subarray(0, 3)]).toEqual([0, 1, 255]);
  });
});

describe('file names', () => {
  const parts = {
    shot: 'Quay at night',
    plate: 'quay.v2.exr',
    width: 1280,
    height: 720,
    date: new Date(2026, 0, 5, 7, 8, 9),
  };

  it.each([
    ['{shot}_{plate}', 'Quay_at_night_quay.v2.exr'],
    ['{plate}-{size}-{date}-{time}', 'quay.v2-1280x720-2026-01-05-070809.exr'],
    ['a/b\\c:d*e', 'a-b-c-d-e.exr'],
    ['../../{shot}', 'Quay_at_night.exr'],
    ['{nonsense}', '{nonsense}.exr'],
    ['   ', '_.exr'],
    ['', 'print.exr'],
    ['...', 'print.exr'],
  ])('%s becomes %s', (pattern, name) => {
    expect(fileName(pattern, parts, 'exr')).toBe(name);
  });
});

describe('alpha of flat files', () => {
  const png = { kind: 'png', bits: 16 } as const;
  const tiff = (samples: '16' | 'float') => ({ kind: 'tiff', samples }) as const;
  /** A plate with soft alpha and light beyond it: a glow over nothing at 200. */
  const plate = plateOf('float', true);
  const withAlpha = async (format: PrintFormat, alpha: PrintAlpha, change: Partial<PrintJob> = {}) => {
    const context = { plate, cache: new ContentCache(1e8), kernels: kernelsOn(serialRunner) };
    const { light } = await evaluate(defaultLook(), context, { scale: 1 });
    return print({ plate, view: viewOf('srgb'), light, format, alpha, ...change });
  };
  const inside = cutRegion(
    {
      width: WIDTH,
      height: HEIGHT,
      scale: 1,
      key: '',
      separations: [],
      alpha: channelFloats(plate.picture.channels.get('A')!),
      base: plate.beauty.channels.slice(0, 3).map(({ channel }) => channelFloats(channel)) as never,
      total: ['R', 'G', 'B'].map((name) => channelFloats(plate.picture.channels.get(name)!)) as never,
    },
    { x: 2, y: 2, width: WIDTH - 4, height: HEIGHT - 4 },
  );

  // Source: PNG specification (W3C 2003), 6.2: alpha is not associated; over black, colour times alpha is seen. Read by sharp,
  // a general-purpose library.
  it('over black give the picture without alpha, which is nowhere less than that of the plate', async () => {
    const [plain, soft] = [
      await sharp((await withAlpha(png, 'none')).bytes)
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer(),
      await sharp((await withAlpha(png, 'unassociated')).bytes)
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer(),
    ].map((buffer) => new Uint16Array(buffer.buffer, buffer.byteOffset, buffer.length / 2));
    expect(soft!.length / 4).toBe(plain!.length / 3);
    for (let i = 0; i < soft!.length / 4; i++) {
      const cover = soft![4 * i + 3]! / 65535;
      expect(cover).toBeGreaterThanOrEqual(inside.alpha![i]! - 1e-4);
      for (let c = 0; c < 3; c++)
        expect(Math.abs(soft![4 * i + c]! * cover - plain![3 * i + c]!)).toBeLessThan(1.5);
    }
  });

  it.each(['associated', 'unassociated'] as const)(
    'in a TIFF of floats are %s, as it says, and the light is whole',
    async (alpha) => {
      const { bytes } = await withAlpha(tiff('float'), alpha);
      const image = await (await fromArrayBuffer(bytes.buffer)).getImage();
      // Source: TIFF 6.0, section 18: ExtraSamples 1 is associated alpha, 2 is not. Read by geotiff, a general-purpose library.
      const extra = [image.fileDirectory.getValue('ExtraSamples') as number | ArrayLike<number>].flatMap(
        (one) => (typeof one === 'number' ? one : [...Array.from(one)]),
      );
      expect(extra).toEqual([alpha === 'associated' ? 1 : 2]);
      const values = (await image.readRasters({ interleave: true })) as unknown as Float32Array;
      for (let i = 0; i < inside.alpha!.length; i++) {
        const cover = values[4 * i + 3]!;
        expect(Math.abs(cover - inside.alpha![i]!)).toBeLessThanOrEqual(1 / 1024);
        for (let c = 0; c < 3; c++) {
          const light = inside.total[c]![i]!;
          const value = values[4 * i + c]! * (alpha === 'associated' ? 1 : cover);
          expect(Math.abs(value - light)).toBeLessThanOrEqual(1e-6 * light);
        }
      }
    },
  );

  it('are refused where the format has none', async () => {
    await expect(withAlpha(png, 'associated')).rejects.toThrow(/PNG holds unassociated alpha alone/);
    await expect(withAlpha({ kind: 'hdr' }, 'unassociated')).rejects.toThrow(/hold no alpha/);
  });

  it('go with a background only if that is printed', () => {
    const look = assignSetting(
      assignSetting(defaultLook(), 'plate.background=#336699'),
      'plate.backgroundPrinted=false',
    );
    expect(lookForPrint(look).plate.background).toBe('none');
    expect(lookForPrint(assignSetting(look, 'plate.backgroundPrinted=true')).plate.background).toBe(
      '#336699',
    );
  });
});

describe('a print of another size', () => {
  const sized = async (format: PrintFormat, width: number): Promise<Printed> => {
    const plate = plateOf('float', true);
    const context = { plate, cache: new ContentCache(1e8), kernels: kernelsOn(serialRunner) };
    const { light } = await evaluate(
      assignSetting(defaultLook(), 'veil.bloom.amount=0.1'),
      { ...context, separate: true },
      { scale: 1 },
    );
    return print({ plate, view: viewOf('srgb'), light, format, width });
  };

  it('keeps the mean of light and never goes below zero beside a lamp; its parts still sum', async () => {
    const picture = await readExr((await sized(exr('float', true), 10)).bytes);
    expect([picture.width, picture.height]).toEqual([12, 8]);
    const plane = (name: string): Float32Array => channelFloats(picture.channels.get(name)!);
    expect(Math.min(...plane('R'))).toBeGreaterThanOrEqual(0);
    plane('R').forEach((value, i) => {
      const sum = plane('plate.R')[i]! + plane('veil.bloom.R')[i]!;
      expect(Math.abs(sum - value)).toBeLessThan(1e-5 * (1 + value));
    });
    const full = await readExr((await sized(exr('float'), 20)).bytes);
    const mean = (all: Float32Array): number => all.reduce((sum, value) => sum + value, 0) / all.length;
    // The tent weighs pixels at the edge a little more than those within.
    expect(mean(plane('R')) / mean(channelFloats(full.channels.get('R')!))).toBeCloseTo(1, 1);
  });

  it('has the frame’s shape, and says when it is enlarged', async () => {
    const small = await sized({ kind: 'png', bits: 8 }, 7);
    const { width, height } = PNG.sync.read(Buffer.from(small.bytes));
    expect([width, height]).toEqual([7, 4]);
    expect(small.warnings).toEqual([]);
    expect((await sized({ kind: 'png', bits: 8 }, 30)).warnings[0]).toMatch(/enlarged 1\.50 times/);
  });
});
