import { evaluate, type Evaluation } from '../../bench/evaluate';
import { evaluateRegion } from '../../bench/evaluate-region';
import { readExr } from '../../formats/exr/read';
import { addChannel, channelFloats, emptyPicture, type Picture } from '../../image/picture';
import { addPlanes } from '../../image/rgb';
import { readChromaticities } from '../../image/chromaticities';
import { serialRunner } from '../../jobs';
import { kernelsOn } from '../../kernels';
import { ContentCache } from '../../light/cache';
import { makePlate, type Plate } from '../../light/plate';
import { assignSetting, defaultLook, type Look } from '../../look/look';
import { realityCheck } from '../../look/reality';
import { applyFilm } from '../../look/starting-point';
import { radialTotal } from '../../optics/radial';
import { print } from '../../print/print';
import { plateUnderLook } from '../plate/primaries';
import { halationProfile } from './halation';
import { filmView } from './run';
import { FILMS } from './starting-points';

const kernels = kernelsOn(serialRunner);
type Paint = (x: number, y: number, c: number) => number;

function plateOf(width: number, height: number, paint: Paint, mattes: Record<string, Paint> = {}): Plate {
  const picture: Picture = emptyPicture(width, height);
  const add = (name: string, c: number, own: Paint): void =>
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: width * height }, (_, i) => own(i % width, Math.floor(i / width), c)),
    );
  ['R', 'G', 'B'].forEach((name, c) => add(name, c, paint));
  for (const [name, own] of Object.entries(mattes)) add(name, 0, own);
  return makePlate('p', 'test.exr', picture);
}

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());
const contextFor = (plate: Plate) => ({ plate, cache: new ContentCache(1e9), kernels });
const run = (plate: Plate, look: Look, more: object = {}, scale = 1): Promise<Evaluation> =>
  evaluate(look, { ...contextFor(plate), ...more }, { scale });

const scene = plateOf(
  96,
  64,
  (x, y, c) => ((x - 70) ** 2 + (y - 20) ** 2 < 6 ? 400 : 0.05 + (0.4 * ((x * (c + 1) + y) % 17)) / 17),
  { 'matte.left': (x) => (x < 48 ? 1 : 0) },
);
const ALL = [
  'veil.bloom.amount=0.05',
  'film.halation.amount=0.02',
  'film.exposure=-0.4',
  'film.temperature=4800',
  'film.tint=8',
  'film.contrast=1.3',
  'film.lift=0.01',
  'film.gamma=1.1',
  'film.gain=1.2',
  'film.curve=-4:-4.5, 0:0.2, 4:3.5',
  'film.curves.red=-6:-5.8, 2:2.2',
  'film.hues.blue.saturation=0.6',
  'film.saturation=1.3',
  'film.grain.amount=0.02',
  'film.sharpen.amount=0.6',
];

describe('Film', () => {
  it('with nothing set gives the very light back', async () => {
    const { light } = await run(scene, defaultLook());
    light.total.forEach((plane, c) => expect(plane).toBe(scene.picture.channels.get('RGB'[c]!)!.samples));
  });

  it('keeps what is linear in every part and the rest in a separation: together they are the final', async () => {
    const { light } = await run(scene, lookOf(...ALL), { separate: true });
    expect(light.separations.map(({ name }) => name)).toEqual(['veil.bloom', 'film.halation', 'film']);
    light.total.forEach((plane, c) =>
      expect(plane).toEqual(
        light.separations.reduce((sum, { rgb }) => addPlanes(sum, rgb[c]!), light.base[c]!),
      ),
    );
    const { light: whole } = await run(scene, lookOf(...ALL), { totalOnly: true });
    whole.total.forEach((plane, c) =>
      plane.forEach((value, i) =>
        expect(Math.abs(value - light.total[c]![i]!)).toBeLessThan(1e-4 * (1 + value)),
      ),
    );
  });

  it('prints parts that add up to the final it prints, and the light before it', async () => {
    const look = lookOf(...ALL);
    const { light } = await run(scene, look, { separate: true });
    const format = { kind: 'exr', samples: 'float', separations: true } as const;
    const { bytes } = await print({ plate: scene, view: filmView(look, {}), light, format });
    const { channels } = await readExr(bytes);
    const plane = (name: string): Float32Array => channelFloats(channels.get(name)!);
    for (const c of ['R', 'G', 'B']) {
      const parts = ['plate', 'veil.bloom', 'film.halation', 'film'].map((name) => plane(`${name}.${c}`));
      plane(c).forEach((value, i) => {
        const sum = parts.reduce((all, part) => all + part[i]!, 0);
        expect(Math.abs(sum - value)).toBeLessThan(1e-5 * Math.max(Math.abs(value), parts[0]![i]!) + 1e-9);
      });
    }
    const before = (await evaluate(look, contextFor(scene), { scale: 1, behind: 'glass' })).light;
    expect(before.separations.map(({ name }) => name)).toEqual(['veil.bloom']);
  });

  // Source: the classical formula (gain (x + lift (1 - x)))^(1/gamma), and contrast about 0.18 in log2 (common practice).
  it('grades by its formulas', async () => {
    const grey = plateOf(8, 8, () => 0.5);
    const value = async (...settings: string[]): Promise<number> =>
      (await run(grey, lookOf(...settings))).light.total[1][0]!;
    expect(await value('film.contrast=1.5')).toBeCloseTo(0.18 * (0.5 / 0.18) ** 1.5, 5);
    expect(await value('film.lift=0.1', 'film.gain=1.5', 'film.gamma=2')).toBeCloseTo(
      Math.sqrt(1.5 * (0.5 + 0.1 * 0.5)),
      5,
    );
    expect(await value('film.exposure=1', 'film.curve=-2:-2, 0:0.5, 4:4')).toBeGreaterThan(1);
  });

  it('holds every part to its mask, a matte of the plate as well', async () => {
    for (const [part, setting] of [
      ['exposure', 'film.exposure=1'],
      ['balance', 'film.temperature=3000'],
      ['contrast', 'film.contrast=2'],
      ['tone', 'film.gain=2'],
      ['curve', 'film.curve=-4:-3, 4:4'],
      ['colour', 'film.saturation=0.2'],
      ['grain', 'film.grain.amount=0.1'],
      ['sharpen', 'film.sharpen.amount=3'],
    ] as const) {
      const { light } = await run(
        scene,
        lookOf(setting, 'film.sharpen.radius=0.02', `film.within.${part}=matte.left`),
      );
      const source = channelFloats(scene.picture.channels.get('R')!);
      let changed = 0;
      light.total[0].forEach((value, i) => {
        if (i % 96 >= 48) expect(value).toBe(source[i]);
        else if (value !== source[i]) changed++;
      });
      expect(changed).toBeGreaterThan(1000);
    }
  });

  it('moves its masks with the distortion of the glass', async () => {
    const look = lookOf('film.gain=3', 'film.within.tone=matte.left', 'glass.k1=0.3');
    const flat = plateOf(96, 64, () => 0.2, { 'matte.left': (x) => (x < 24 ? 1 : 0) });
    const { light } = await run(flat, look);
    const row = light.total[1].subarray(32 * 96, 33 * 96);
    // Source: Brown 1966: the edge at 24 px, 24 from the axis at 48, comes to lie at 24 (1 + 0.3 (24 / 57.7)^2) from it.
    const edge = row.findIndex((value) => value < 0.4);
    expect(Math.abs(edge - (48 - 24 * (1 + 0.3 * (24 / 57.69) ** 2)))).toBeLessThan(1);
  });
});

describe('halation', () => {
  // Source: Fresnel 1823: beyond the critical angle of a base of index 1.5 (41.8 degrees) all light goes back, just within it
  // far less; straight back goes ((1.5 - 1) / 2.5)^2 = 4 %.
  it('is a ring where the base begins to throw all light back', () => {
    expect(halationProfile(0, 100)).toBeCloseTo(0.04, 6);
    expect(halationProfile(101, 100)).toBeGreaterThan(2 * halationProfile(95, 100));
    expect(halationProfile(200, 100)).toBeLessThan(halationProfile(101, 100));
  });

  it('adds its share of the fed light, red, about a lamp alone', async () => {
    const lamp = plateOf(200, 150, (x, y) => (x === 100 && y === 75 ? 1000 : 0.1));
    const { light } = await run(
      lamp,
      lookOf('film.halation.amount=0.1', 'film.halation.tint=#ffffff', 'film.halation.radius=300'),
    );
    const { rgb } = light.separations[0]!;
    const sum = rgb[1].reduce((all, value) => all + value, 0);
    expect(sum / 100).toBeGreaterThan(0.85);
    expect(sum / 100).toBeLessThan(1.05);
    const { light: red } = await run(lamp, lookOf('film.halation.amount=0.1'));
    const at = 75 * 200 + 102;
    expect(red.separations[0]!.rgb[0][at]!).toBeGreaterThan(5 * red.separations[0]!.rgb[2][at]!);
    expect(radialTotal((r) => halationProfile(r, 5), 0.05, 40)).toBeGreaterThan(0);
  });
});

describe('grain', () => {
  const grey = plateOf(192, 128, () => 0.18);
  const look = lookOf('film.grain.amount=0.03', 'film.grain.size=400');
  const grain = async (plate: Plate, own = look, scale = 1): Promise<Float32Array> =>
    (await run(plate, own, {}, scale)).light.total[1];
  const deviation = (plane: Float32Array): number => {
    const mean = plane.reduce((sum, value) => sum + value, 0) / plane.length;
    return Math.sqrt(plane.reduce((sum, value) => sum + (value - mean) ** 2, 0) / plane.length) / mean;
  };

  it('has the asked strength at middle grey, whatever its size', async () => {
    for (const size of [10, 100, 400]) {
      const plane = await grain(grey, lookOf('film.grain.amount=0.03', `film.grain.size=${size}`));
      expect(deviation(plane) / 0.03).toBeGreaterThan(0.9);
      expect(deviation(plane) / 0.03).toBeLessThan(1.1);
    }
  });

  it('is another in every frame and seed, the same in the same one', async () => {
    const [a, b, c, d] = [
      await grain(grey),
      await grain({ ...grey, id: 'q' }),
      await grain({ ...grey, frameNumber: 2 }),
      await grain(grey, lookOf('film.grain.amount=0.03', 'film.grain.size=400', 'film.grain.seed=2')),
    ];
    expect(b).toEqual(a);
    expect(c).not.toEqual(a);
    expect(d).not.toEqual(a);
    expect(d).not.toEqual(c);
  });

  it('of a smaller picture is the mean of the large one, and of a region its own', async () => {
    const [full, small] = [await grain(grey), await grain(grey, look, 0.5)];
    for (let y = 0; y < 64; y += 5)
      for (let x = 0; x < 96; x += 7) {
        const mean = [0, 1, 192, 193].reduce((sum, k) => sum + full[2 * y * 192 + 2 * x + k]! / 4, 0);
        expect(small[y * 96 + x]!).toBeCloseTo(mean, 4);
      }
    const region = { x: 50, y: 30, width: 20, height: 16 };
    const part = await evaluateRegion(look, contextFor(grey), region);
    for (let y = 0; y < 16; y++)
      for (let x = 0; x < 20; x++)
        expect(part.total[1][y * 20 + x]!).toBeCloseTo(full[(y + 30) * 192 + x + 50]!, 6);
  });

  it('of one layer leaves greys grey', async () => {
    const { light } = await run(grey, lookOf('film.grain.amount=0.03', 'film.grain.mono=true'));
    expect(light.total[0]).toEqual(light.total[2]);
  });
});

describe('primaries of a plate and of a print', () => {
  const picture = (attributes: Picture['attributes'] = new Map()): Picture => {
    const made = { ...emptyPicture(4, 4), attributes };
    ['R', 'G', 'B'].forEach((name, c) =>
      addChannel(made, name, 'float', new Float32Array(16).fill([0.5, 0.3, 0.1][c]!)),
    );
    return made;
  };

  it('come back as they went in, when the print has those of the plate', async () => {
    const look = lookOf('plate.primaries=acescg', 'film.exposure=1');
    const plate = plateUnderLook(makePlate('p', 'a.exr', picture()), look);
    const { light } = await run(makePlate('p', 'a.exr', picture()), look);
    const format = { kind: 'exr', samples: 'float', separations: false } as const;
    const view = filmView(look, {});
    const { bytes } = await print({ plate, view, light, format, primaries: 'plate' });
    const { channels, attributes } = await readExr(bytes);
    [1, 0.6, 0.2].forEach((value, c) =>
      expect(channelFloats(channels.get('RGB'[c]!)!)[0]!).toBeCloseTo(value, 5),
    );
    expect(readChromaticities(attributes)!.green[0]).toBeCloseTo(0.165, 5);
    const inBench = await readExr((await print({ plate, view, light, format })).bytes);
    expect(channelFloats(inBench.channels.get('R')!)[0]!).not.toBeCloseTo(1, 2);
    expect(inBench.attributes.has('chromaticities')).toBe(false);
  });

  it('told by hand are kept apart from those of the file', async () => {
    const plate = makePlate('p', 'a.exr', picture());
    const context = contextFor(plate);
    const value = async (name: string): Promise<number> =>
      (await evaluate(lookOf(`plate.primaries=${name}`), context, { scale: 1 })).light.total[0][0]!;
    const values = [await value('file'), await value('rec2020'), await value('p3'), await value('file')];
    expect(values[0]).toBe(values[3]);
    expect(new Set(values).size).toBe(3);
  });
});

describe('films to start from', () => {
  it('lie within what real films do, and leave exposure and masks', () => {
    for (const point of FILMS) {
      const made = applyFilm(lookOf('film.exposure=0.7', 'film.within.grain=m'), point);
      expect(realityCheck(made).filter(({ station }) => station === 'film')).toEqual([]);
      expect([made.film.exposure, made.film.within.grain]).toEqual([0.7, 'm']);
      expect(made.film.view).toBe('filmic');
    }
    expect(realityCheck(lookOf('film.grain.amount=0.1')).map(({ path }) => path)).toEqual([
      'film.grain.amount',
    ]);
    expect(realityCheck(lookOf('film.grain.amount=0.1', 'film.grain.on=false'))).toEqual([]);
  });
});
