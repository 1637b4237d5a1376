import { filmView } from '../stations/film/run';
import { PNG } from 'pngjs';
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
import { print, type PrintFormat, type Printed } from './print';

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
