import { converter } from 'culori';
import { ContentCache } from '../../light/cache';
import { evaluate, type Evaluation } from '../../bench/evaluate';
import { makePlate, type Plate } from '../../light/plate';
import { SettingError } from '../../errors';
import { addChannel, emptyPicture, type Picture } from '../../image/picture';
import type { Role } from '../../image/roles';
import { kernelsOn } from '../../kernels';
import { serialRunner } from '../../jobs';
import { assignSetting, defaultLook, setSetting, type Look } from '../../look/look';
import type { Mask } from '../../settings/mask';
import { clampFireflies, despike } from './clean';
import { liftHighlights } from './prepare';
import { componentsOf } from './sum';

const toHsv = converter('hsv');
const [WIDTH, HEIGHT] = [24, 16];
const COUNT = WIDTH * HEIGHT;
type Fill = (i: number, c: number) => number;

function plateOf(
  layers: Record<string, Fill>,
  change: Partial<Picture> = {},
  roles?: Record<string, Role>,
): Plate {
  const picture: Picture = { ...emptyPicture(WIDTH, HEIGHT), ...change };
  for (const [layer, fill] of Object.entries(layers))
    (layer === 'A' ? ['A'] : ['R', 'G', 'B']).forEach((name, c) =>
      addChannel(
        picture,
        layer && layer !== 'A' ? `${layer}.${name}` : name,
        'float',
        Float32Array.from({ length: COUNT }, (_, i) => fill(i, c)),
      ),
    );
  return makePlate('p', 'test.exr', picture, roles);
}

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

function run(plate: Plate, look: Look, scale = 1, others: Record<string, Plate> = {}): Promise<Evaluation> {
  const context = {
    plate,
    cache: new ContentCache(1e8),
    kernels: kernelsOn(serialRunner),
    backdrop: (id: string) => others[id],
  };
  return evaluate(look, context, { scale, behind: 'plate' });
}

const red = async (...all: Parameters<typeof run>): Promise<Float32Array> =>
  (await run(...all)).light.total[0];

const diffuse: Fill = (i, c) => 0.1 + (i % 7) * 0.03 + c * 0.01;
const specular: Fill = (i) => (i % 5) * 0.2;
const emission: Fill = (i) => (i === 100 ? 900 : 0);
const layered = (): Plate =>
  plateOf({
    '': (i, c) => Math.fround(Math.fround(diffuse(i, c)) + Math.fround(specular(i, c))) + emission(i, c),
    diffuse,
    specular,
    emission,
    diffuse_albedo: () => 0.8,
  });

describe('the sum of the passes', () => {
  // Common practice: diffuse + specular + transmission + emission + indirect add up to the beauty.
  it('is the beauty when nothing is set', async () => {
    const plate = layered();
    expect(componentsOf(plate, []).map(({ name }) => name)).toEqual(['diffuse', 'specular', 'emission']);
    const [beauty, sum] = [await red(plate, lookOf()), await red(plate, lookOf('plate.source=sum'))];
    sum.forEach((value, i) =>
      expect(Math.abs(value - beauty[i]!)).toBeLessThan(1e-4 * Math.max(1, beauty[i]!)),
    );
  });

  it('leaves out what is off, keeps what is solo, and takes gain and tint', async () => {
    const plate = layered();
    const off = await red(plate, lookOf('plate.source=sum', 'plate.passes.specular.on=false'));
    expect(off[4]).toBeCloseTo(diffuse(4, 0), 6);
    const solo = await red(plate, lookOf('plate.source=sum', 'plate.passes.emission.solo=true'));
    expect([solo[4], solo[100]]).toEqual([0, 900]);
    const look = lookOf(
      'plate.source=sum',
      'plate.passes.diffuse.gain=1',
      'plate.passes.diffuse.tint=#ff0000',
    );
    const { light } = await run(plate, look);
    expect(light.total[0][4]).toBeCloseTo(2 * diffuse(4, 0) + specular(4, 0), 5);
    expect(light.total[1][4]).toBeCloseTo(specular(4, 1), 5);
    const none = ['diffuse', 'specular', 'emission'].map((name) => `plate.passes.${name}.on=false`);
    expect(Math.max(...(await red(plate, lookOf('plate.source=sum', ...none), 0.5)))).toBe(0);
  });

  it('screens a pass over what is under it, in the order that is asked for', async () => {
    const plate = layered();
    const screened = await red(plate, lookOf('plate.source=sum', 'plate.passes.specular.mode=screen'));
    const [a, b] = [Math.fround(diffuse(4, 0)), Math.fround(specular(4, 0))];
    expect(screened[4]).toBeCloseTo(a + b - a * b, 6);
    // Under everything there is nothing to be screened over.
    const first = lookOf('plate.source=sum', 'plate.passes.specular.mode=screen', 'plate.order=specular');
    expect((await red(plate, first))[4]).toBeCloseTo(a + b, 6);
    expect(componentsOf(plate, ['emission', 'nothing', 'specular']).map(({ name }) => name)).toEqual([
      'emission',
      'specular',
      'diffuse',
    ]);
  });

  it('takes levels and a curve for each pass', async () => {
    const plate = layered();
    const look = lookOf(
      'plate.source=sum',
      'plate.passes.diffuse.outHigh=0.5',
      'plate.passes.specular.curve=0:1',
      'plate.passes.emission.on=false',
    );
    expect((await red(plate, look))[4]).toBeCloseTo(diffuse(4, 0) / 2 + 2 * specular(4, 0), 4);
  });

  it('follows roles that were corrected, and says what to do when no pass adds up', async () => {
    const plate = plateOf({ '': () => 1, puddle: () => 0.25 }, {}, { puddle: 'specular' });
    expect((await red(plate, lookOf('plate.source=sum')))[0]).toBe(0.25);
    const bare = plateOf({ '': () => 1, puddle: () => 0.25 });
    await expect(run(bare, lookOf('plate.source=sum'))).rejects.toThrow(SettingError);
    await expect(run(bare, lookOf('plate.source=sum'))).rejects.toThrow(/no passes that add up/);
  });
});

describe('clean-up', () => {
  const spiky: Fill = (i) => (i === 60 || i === 61 ? 40 : 0.1 + (i % 3) * 0.01);

  it('takes lone spikes down to the median of their neighbours, and nothing else', async () => {
    const plate = plateOf({ '': spiky });
    const { light, cleaned } = await run(plate, lookOf('plate.despike=5'));
    expect(cleaned).toMatchObject({ despiked: 2, clamped: 0 });
    expect(light.total[0][60]).toBeLessThan(0.13);
    const untouched = light.total[0].filter((value, i) => value === Math.fround(spiky(i, 0)));
    expect(untouched).toHaveLength(COUNT - 2);
    expect([...cleaned!.touched].filter(Boolean)).toEqual([1, 1]);
  });

  // By definition: more than k times the median of the 3 x 3 pixels, computed here by sorting.
  it('agrees with a median that is computed the long way', () => {
    const plane = Float32Array.from(
      { length: COUNT },
      (_, i) => ((i * 7919) % 101) / 10 + ((i * 31) % 17 === 0 ? 60 : 0),
    );
    const { places } = despike([plane, plane, plane], WIDTH, HEIGHT, 3);
    const wanted: number[] = [];
    for (let i = 0; i < COUNT; i++) {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      const around: number[] = [];
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const column = Math.min(WIDTH - 1, Math.max(0, x + dx));
          around.push(plane[Math.min(HEIGHT - 1, Math.max(0, y + dy)) * WIDTH + column]!);
        }
      if (plane[i]! > 3 * around.sort((a, b) => a - b)[4]!) wanted.push(i);
    }
    expect(places).toEqual(wanted);
    expect(wanted.length).toBeGreaterThan(5);
  });

  it('never touches what the emission pass brings', async () => {
    const plate = plateOf({ '': (i) => 0.2 + (i === 100 ? 900 : i === 200 ? 50 : 0), emission });
    const { light, cleaned } = await run(plate, lookOf('plate.despike=4'));
    expect(cleaned!.despiked).toBe(1);
    expect(light.total[0][100]).toBeCloseTo(900.2, 3);
    expect(light.total[0][200]).toBeCloseTo(0.2, 5);
    const summed = await run(layered(), lookOf('plate.source=sum', 'plate.despike=100'));
    expect(summed.light.total[0][100]).toBeGreaterThan(900);
  });

  it('clamps by the brightest channel and keeps the colour', async () => {
    const rgb = [Float32Array.of(50, 1), Float32Array.of(25, 2), Float32Array.of(0, 3)] as const;
    const { rgb: out, places } = clampFireflies(rgb, 25);
    expect(out.map((plane) => [...plane])).toEqual([
      [25, 1],
      [12.5, 2],
      [0, 3],
    ]);
    expect(places).toEqual([0]);
    const { cleaned } = await run(layered(), lookOf('plate.clamp=25'));
    expect(cleaned).toMatchObject({ clamped: 1, despiked: 0 });
  });

  it('counts at full size whatever the scale, and a draft shows what is left', async () => {
    const plate = plateOf({ '': spiky });
    const half = await run(plate, lookOf('plate.despike=5'), 0.5);
    expect(half.cleaned!.despiked).toBe(2);
    expect(Math.max(...half.light.total[0])).toBeLessThan(0.13);
    expect((await run(plate, lookOf(), 0.5)).cleaned).toBeUndefined();
  });
});

describe('preparation', () => {
  const flat = (value: number): Plate => plateOf({ '': (_, c) => value * (1 + c * 0.5) });

  it.each([
    ['plate.exposure=1', 0.18, 0.36],
    ['plate.contrast=2', 0.36, 0.72],
    ['plate.curve=0:1', 0.18, 0.36],
    ['plate.curve=-2:-2,0:0.5,2:2', 0.18, 0.18 * 2 ** 0.5],
    ['plate.levels.outHigh=0.5', 0.3, 0.15],
  ])('%s takes %d to %d', async (setting, light, wanted) => {
    expect((await red(flat(light), lookOf(setting)))[0]).toBeCloseTo(wanted, 5);
  });

  it('leaves the very bits alone when nothing is set', async () => {
    const plate = layered();
    const { light } = await run(plate, lookOf());
    expect(light.total[0]).toEqual(plate.picture.channels.get('R')!.samples);
  });

  it('saturates highlights alone, and keeps their luminance', async () => {
    const bright = (await run(flat(4), lookOf('plate.highlightSaturation=0'))).light.total;
    expect(bright[0][0]).toBeCloseTo(bright[2][0]!, 5);
    const dim = (await run(flat(0.1), lookOf('plate.highlightSaturation=0'))).light.total;
    expect(dim[0][0]).toBeCloseTo(0.1, 6);
    const own = 0.2126 * 4 + 0.7152 * 6 + 0.0722 * 8;
    expect(bright[0][0]).toBeCloseTo(own, 4);
  });

  it('saturates without driving a channel below zero', async () => {
    const plate = plateOf({ '': (i, c) => [4, 0.2 + i / 100, 0.05][c]! });
    const { light } = await run(plate, lookOf('plate.highlightSaturation=3'));
    for (const plane of light.total) expect(Math.min(...plane)).toBeGreaterThanOrEqual(-1e-6);
  });

  it('lifts what is clipped at white, and rises without a step', () => {
    const plane = Float32Array.from({ length: 200 }, (_, i) => i / 160);
    const [out] = liftHighlights([plane, plane, plane], 4);
    expect(out[100]).toBe(plane[100]);
    expect(out[160]).toBeCloseTo(16, 4);
    for (let i = 1; i < 200; i++) expect(out[i]!).toBeGreaterThan(out[i - 1]!);
  });

  it('lays the light over a colour or over another plate, by its alpha', async () => {
    const plate = plateOf({ '': () => 0.2, A: (i) => (i < 12 ? 0.25 : 1) });
    const { light } = await run(plate, lookOf('plate.background=#ffffff'));
    expect(light.total[0][0]).toBeCloseTo(0.2 + 0.75, 6);
    expect(light.total[0][20]).toBeCloseTo(0.2, 6);
    expect(light.alpha).toBeUndefined();
    const sky = plateOf({ '': () => 2 });
    const over = await red(plate, lookOf('plate.background=plate:sky'), 1, { sky });
    expect(over[0]).toBeCloseTo(0.2 + 0.75 * 2, 5);
    await expect(run(plate, lookOf('plate.background=plate:gone'))).rejects.toThrow(/not at hand/);
  });

  it('brings a file’s primaries to those of the bench, and only colour', async () => {
    const values = [0.708, 0.292, 0.17, 0.797, 0.131, 0.046, 0.3127, 0.329];
    const bytes = new Uint8Array(Float32Array.from(values).buffer);
    const attributes = new Map([['chromaticities', { type: 'chromaticities', bytes }]]);
    const plate = plateOf({ '': (_, c) => (c === 0 ? 1 : 0) }, { attributes });
    const { light } = await run(plate, lookOf());
    // Source: ITU-R BT.2087-0: BT.2020 red in BT.709 primaries is about 1.6605, -0.1246, -0.0182.
    [1.6605, -0.1246, -0.0182].forEach((value, c) => expect(light.total[c as 0][0]).toBeCloseTo(value, 3));
  });
});

describe('masks', () => {
  const ellipse = (change: object = {}): Mask['shapes'][number] =>
    ({
      kind: 'ellipse',
      centre: [0.5, 0.5],
      radii: [0.25, 0.25],
      rotation: 0,
      feather: 0,
      combine: 'add',
      invert: false,
      ...change,
    }) as Mask['shapes'][number];
  const withMask = (shapes: Mask['shapes'], invert = false): Look =>
    setSetting(lookOf('plate.exposure=1', 'plate.mask=m'), 'masks', [{ id: 'm', name: 'M', invert, shapes }]);
  /** By how much each pixel was brightened: 1 where the mask holds, 0 where not. */
  const coverage = async (look: Look, plate = plateOf({ '': () => 1 }), scale = 1): Promise<number[]> =>
    [...(await red(plate, look, scale))].map((value) => value - 1);
  const middle = (HEIGHT / 2) * WIDTH + WIDTH / 2;

  it('of an ellipse cover its area, whatever its turn', async () => {
    const area = (all: number[]): number => all.reduce((sum, value) => sum + value, 0);
    const wide = await coverage(withMask([ellipse({ radii: [0.4, 0.2] })]));
    // The area of an ellipse, in pixels of the frame's height.
    expect(area(wide)).toBeCloseTo(Math.PI * 0.4 * 0.2 * HEIGHT ** 2, -0.5);
    const turned = await coverage(withMask([ellipse({ radii: [0.4, 0.2], rotation: 90 })]));
    expect(Math.abs(area(turned) - area(wide))).toBeLessThan(1.5);
    expect([wide[middle], wide[0]]).toEqual([1, 0]);
  });

  it('feather evenly to both sides of the outline', async () => {
    const all = await coverage(withMask([ellipse({ feather: 0.3 })]));
    const edge = all[middle + 4]!;
    expect(edge).toBeGreaterThan(0.3);
    expect(edge).toBeLessThan(0.7);
    const row = all.slice(middle, middle + 9);
    for (let k = 1; k < row.length; k++) expect(row[k]!).toBeLessThanOrEqual(row[k - 1]!);
  });

  it('of a polygon and of a gradient', async () => {
    const points = [
      [0.25, 0.25],
      [0.75, 0.25],
      [0.75, 0.75],
      [0.25, 0.75],
    ];
    const square = { kind: 'polygon', points, feather: 0, combine: 'add', invert: false } as never;
    const all = await coverage(withMask([square]));
    expect(all.reduce((sum, value) => sum + value, 0)).toBeCloseTo(COUNT / 4, 0);
    const gradient = { kind: 'gradient', from: [0, 0], to: [0, 1], combine: 'add', invert: false } as never;
    const ramp = await coverage(withMask([gradient]));
    expect(ramp[0]).toBeGreaterThan(0.98);
    expect(ramp[COUNT - 1]).toBeLessThan(0.02);
    expect(ramp[middle - WIDTH / 2]! + ramp[middle - WIDTH]!).toBeCloseTo(1, 1);
  });

  it('are combined, inverted, and empty ones hold nothing back', async () => {
    const far = ellipse({ centre: [0.1, 0.5] });
    const [a, both, cut, none] = await Promise.all([
      coverage(withMask([ellipse()])),
      coverage(withMask([ellipse(), far])),
      coverage(withMask([ellipse(), ellipse({ combine: 'subtract' })])),
      coverage(withMask([ellipse(), { ...far, combine: 'intersect' }])),
    ]);
    const sum = (all: number[]): number => all.reduce((total, value) => total + value, 0);
    expect(sum(both)).toBeGreaterThan(sum(a) * 1.5);
    expect(sum(cut)).toBeLessThan(sum(a) * 0.1);
    expect(sum(none)).toBeLessThan(sum(a) * 0.1);
    expect(sum(await coverage(withMask([ellipse()], true)))).toBeCloseTo(COUNT - sum(a), 3);
    expect(sum(await coverage(withMask([ellipse({ invert: true })])))).toBeCloseTo(COUNT - sum(a), 3);
    expect(sum(await coverage(withMask([])))).toBe(COUNT);
  });

  it('of a matte are its coverage, or where it holds a number', async () => {
    const picture = { ...plateOf({ '': () => 1 }).picture };
    const id = Uint32Array.from({ length: COUNT }, (_, i) => (i < 48 ? 7 : 3));
    addChannel(picture, 'ids.id', 'uint', id);
    addChannel(
      picture,
      'matte.boat',
      'float',
      Float32Array.from({ length: COUNT }, (_, i) => (i === 5 ? 0.25 : 0)),
    );
    const plate = makePlate('p', 'test.exr', picture);
    const matte = (channel: string, value: number | null): Look =>
      withMask([{ kind: 'matte', channel, id: value, combine: 'add', invert: false }]);
    const seven = await coverage(matte('ids.id', 7), plate);
    expect(seven.filter((value) => value === 1)).toHaveLength(48);
    expect((await coverage(matte('matte.boat', null), plate))[5]).toBeCloseTo(0.25, 6);
    const half = await coverage(matte('ids.id', 7), plate, 0.5);
    expect(half.reduce((sum, value) => sum + value, 0)).toBeCloseTo(12, 5);
    await expect(coverage(matte('matte.gone', null), plate)).rejects.toThrow(/no channel matte\.gone/);
  });

  const byValue = (change: object): Mask['shapes'][number] =>
    ({
      kind: 'value',
      of: 'luminance',
      pass: 'beauty',
      from: 1,
      to: null,
      soft: 0,
      combine: 'add',
      invert: false,
      ...change,
    }) as Mask['shapes'][number];
  /** What a mask lets through of grey light that doubles from pixel to pixel of a row, from 2^-12 on. */
  const rising = (): Plate => plateOf({ '': (i) => 2 ** ((i % WIDTH) - 12) });
  const shares = async (shapes: Mask['shapes'], plate = rising(), more: string[] = []): Promise<number[]> => {
    const look = more.reduce(assignSetting, withMask(shapes));
    const { total, base } = (await run(plate, look)).light;
    expect(total).toBe(base);
    const before = (await run(plate, defaultLook())).light.total[0];
    return [...total[0].subarray(0, WIDTH)].map((value, i) => value / before[i]! - 1);
  };

  it('by luminance cover what lies between their ends and fade beyond them, in stops', async () => {
    const cover = await shares([byValue({ from: 2 ** -2, to: 2 ** 3, soft: 2 })]);
    cover.forEach((share, x) => {
      const stop = x - 12;
      if (stop >= -2 && stop <= 3) expect(share).toBeCloseTo(1, 5);
      // Half way of the fade.
      else if (stop === -3 || stop === 4) expect(share).toBeCloseTo(0.5, 5);
      else expect(share).toBeCloseTo(0, 5);
    });
    const open = await shares([byValue({ from: 1 })]);
    expect(open.map(Math.round)).toEqual(Array.from({ length: WIDTH }, (_, x) => (x >= 12 ? 1 : 0)));
    const both = await shares([byValue({ from: 1 }), byValue({ from: 64, combine: 'subtract' })]);
    expect(both.map(Math.round)).toEqual(open.map((share, x) => (x >= 18 ? 0 : Math.round(share))));
  });

  it('by one channel or hue go by those alone, of the pass that they name', async () => {
    const wheel = plateOf({
      '': (i, c) => 0.25 + 0.2 * Math.cos(((i % WIDTH) / WIDTH - c / 3) * 2 * Math.PI),
      emission: (i, c) => (c === 1 ? 4 : i % WIDTH),
    });
    const greens = await shares([byValue({ of: 'hue', from: 90, to: 150, soft: 0 })], wheel);
    const { base } = (await run(wheel, defaultLook())).light;
    // Source: hue by the hexagon (Smith 1978), as culori, a general-purpose library, has it.
    greens.forEach((share, i) => {
      const hue = toHsv({ mode: 'rgb', r: base[0][i]!, g: base[1][i]!, b: base[2][i]! }).h!;
      expect(share).toBeCloseTo(hue >= 90 && hue <= 150 ? 1 : 0, 5);
    });
    const reds = await shares([byValue({ of: 'hue', from: 330, to: 30, soft: 0 })], wheel);
    expect(reds[0]).toBeCloseTo(1, 5);
    expect(reds[WIDTH / 2]).toBeCloseTo(0, 5);
    const grey = await shares([byValue({ of: 'hue', from: 0, to: 359, soft: 180 })]);
    expect(Math.max(...grey)).toBeCloseTo(0, 5);
    const lit = await shares([byValue({ of: 'red', pass: 'emission', from: 10 })], wheel);
    expect(lit.map(Math.round)).toEqual(Array.from({ length: WIDTH }, (_, x) => (x >= 10 ? 1 : 0)));
    await expect(shares([byValue({ pass: 'gone' })], wheel)).rejects.toThrow(/no pass gone/);
  });

  it('by luminance go by the primaries that the plate is told to be in, at every station', async () => {
    // A red whose share of luminance is 0.21, 0.26 and 0.34 in the three sets of primaries.
    const plate = plateOf({ '': (i, c) => (c === 0 ? 0.65 : 0) });
    const lit = async (...settings: string[]): Promise<boolean> => {
      const shape = byValue({ from: 0.19 });
      const look = settings.reduce(
        assignSetting,
        setSetting(defaultLook(), 'masks', [{ id: 'm', name: 'M', invert: false, shapes: [shape] }]),
      );
      const context = { plate, cache: new ContentCache(1e8), kernels: kernelsOn(serialRunner) };
      const plain = await evaluate(assignSetting(look, 'film.exposure=0'), context, { scale: 1 });
      const { light } = await evaluate(look, context, { scale: 1 });
      return light.total[0][5]! > 1.5 * plain.light.total[0][5]!;
    };
    const film = ['film.exposure=1', 'film.within.exposure=m'];
    expect(await lit(...film, 'plate.primaries=rec709')).toBe(false);
    expect(await lit(...film, 'plate.primaries=rec2020')).toBe(false);
    expect(await lit(...film, 'plate.primaries=aces2065')).toBe(true);
  });

  it('by depth go by distances as they are read, whatever they are told anew', async () => {
    const { picture } = plateOf({ '': () => 1 });
    const z = Float32Array.from({ length: COUNT }, (_, i) => 1 + (i % WIDTH));
    addChannel(picture, 'Z', 'float', z);
    const plate = makePlate('p', 'test.exr', picture);
    const cache = new ContentCache(1e8);
    const covered = async (...more: string[]): Promise<number> => {
      const look = more.reduce(assignSetting, withMask([byValue({ of: 'depth', from: 5, to: 10 })]));
      const context = { plate, cache, kernels: kernelsOn(serialRunner) };
      const { light } = await evaluate(look, context, { scale: 1, behind: 'plate' });
      return light.total[0].filter((value) => value > 1.5).length / HEIGHT;
    };
    expect(await covered()).toBe(6);
    // The same numbers as feet: 16.4 to 32.8 of them are 5 to 10 m.
    expect(await covered('focus.depth.unit=ft')).toBe(8);
    await expect(shares([byValue({ of: 'depth' })])).rejects.toThrow(/no depth/);
  });

  it('hold the feed of the veil', async () => {
    const plate = plateOf({ '': () => 4 });
    const look = setSetting(
      lookOf('veil.feed.threshold=1', 'veil.feed.knee=0', 'veil.feed.mask=m'),
      'masks',
      [{ id: 'm', name: 'M', invert: false, shapes: [ellipse()] }],
    );
    const context = { plate, cache: new ContentCache(1e8), kernels: kernelsOn(serialRunner) };
    const { feeds } = await evaluate(look, context, { scale: 1 });
    expect(feeds.veil!.weight[middle]).toBe(1);
    expect(feeds.veil!.weight[0]).toBe(0);
    expect(feeds.veil!.light).toBeCloseTo((Math.PI * (0.25 * HEIGHT) ** 2) / COUNT, 1);
  });

  it('that do not exist are named', async () => {
    await expect(
      run(plateOf({ '': () => 1 }), lookOf('plate.exposure=1', 'plate.mask=nothing')),
    ).rejects.toThrow(/no mask nothing/);
  });
});
