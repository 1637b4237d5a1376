import * as culori from 'culori';
import fc from 'fast-check';
import { evaluate, type Evaluation } from '../../bench/evaluate';
import { evaluateRegion } from '../../bench/evaluate-region';
import { addChannel, emptyPicture } from '../../image/picture';
import { placePlane } from '../../image/place-plane';
import { serialRunner } from '../../jobs';
import { kernelsOn } from '../../kernels';
import { ContentCache } from '../../light/cache';
import { distanceAt, readDepth } from '../../light/distances';
import { spreadOverEdges } from '../../light/elements';
import { maskAt, mattesOf } from '../../light/mask';
import { cutRegion } from '../../light/region';
import { emptyElement, makePlate, stackPlates, type Plate } from '../../light/plate';
import { assignSetting, defaultLook, type Look } from '../../look/look';
import { resolveLights } from '../ghosts/lights';
import { isCutBy } from './queries';
import { preparedPass } from './run';

/** A colour as the library has it: not multiplied by its alpha. */
interface CuloriRgb {
  mode: 'rgb';
  r: number;
  g: number;
  b: number;
  alpha?: number;
}
// Its types leave this function out.
const { blend } = culori as unknown as {
  blend: (colours: readonly CuloriRgb[], how: string, mode: 'rgb') => CuloriRgb;
};

const [WIDTH, HEIGHT] = [32, 20];
const COUNT = WIDTH * HEIGHT;
const kernels = kernelsOn(serialRunner);
type Fill = (x: number, y: number, c: number) => number;
type Layers = Readonly<Record<string, Fill>>;

const plane = (fill: Fill, c = 0, width = WIDTH, height = HEIGHT): Float32Array =>
  Float32Array.from({ length: width * height }, (_, i) => fill(i % width, Math.floor(i / width), c));

/** A render: `''` is its beauty, `A` and `Z` single channels, all else layers of colour. */
function render(name: string, layers: Layers, width = WIDTH, height = HEIGHT): Plate {
  const picture = emptyPicture(width, height);
  for (const [layer, fill] of Object.entries(layers)) {
    const channels = ['A', 'Z'].includes(layer) || layer.startsWith('matte') ? [layer] : ['R', 'G', 'B'];
    channels.forEach((channel, c) =>
      addChannel(
        picture,
        channel === layer ? layer : layer ? `${layer}.${channel}` : channel,
        'float',
        plane(fill, c, width, height),
      ),
    );
  }
  return makePlate(name, `${name}.exr`, picture);
}

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());
const contextOf = (plate: Plate) => ({ plate, cache: new ContentCache(1e8), kernels });
const run = (plate: Plate, look: Look, behind: 'plate' | 'focus' = 'plate', scale = 1): Promise<Evaluation> =>
  evaluate(look, contextOf(plate), { scale, behind });
const stack = (...plates: Plate[]): Plate => stackPlates(plates[0]!, plates);

const ground: Fill = (x, y, c) => 0.1 + 0.02 * ((x + 2 * y + c) % 20);
const cover: Fill = (x, y) => Math.min(1, Math.max(0, 1.2 - Math.hypot(x - 15, y - 9) / 7));
const hero: Fill = (x, y, c) => cover(x, y, 0) * (0.2 + 0.1 * c + 0.01 * x);
const set = (): Plate => render('set', { '': ground, Z: () => 8 });
const figure = (): Plate => render('hero', { '': hero, A: cover, Z: (x, y) => (cover(x, y, 0) > 0 ? 3 : 0) });

describe('elements laid over each other', () => {
  const middle = (x: number, y: number): CuloriRgb => {
    const a = cover(x, y, 0);
    const of = (c: number): number => (a > 0 ? hero(x, y, c) / a : 0);
    return { mode: 'rgb', r: of(0), g: of(1), b: of(2), alpha: a };
  };
  const behind = (x: number, y: number, alpha: number): CuloriRgb => ({
    mode: 'rgb',
    r: ground(x, y, 0),
    g: ground(x, y, 1),
    b: ground(x, y, 2),
    alpha,
  });

  // Source: culori 4, a general-purpose colour library, which blends as W3C, Compositing and Blending Level 1 (2015), has it.
  it.each([
    ['over', 'normal', 'associated'],
    ['over', 'normal', 'unassociated'],
    ['screen', 'screen', 'associated'],
    ['screen', 'screen', 'unassociated'],
    ['multiply', 'multiply', 'associated'],
  ] as const)('are the same by %s as a colour library has it by %s, %s', async (mode, theirs, alpha) => {
    for (const base of [1, 0.6]) {
      const lower = render('set', { '': (x, y, c) => base * ground(x, y, c), A: () => base });
      const loose: Fill = (x, y, c) => (cover(x, y, 0) > 0 ? hero(x, y, c) / cover(x, y, 0) : 0);
      const upper = render('hero', { '': alpha === 'associated' ? hero : loose, A: cover });
      const look = lookOf(`elements[1].mode=${mode}`, `elements[1].alpha=${alpha}`);
      const { light } = await run(stack(lower, upper), look);
      for (let i = 0; i < COUNT; i++) {
        const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
        const wanted = blend([behind(x, y, base), middle(x, y)], theirs, 'rgb');
        const whole = wanted.alpha ?? 1;
        [wanted.r, wanted.g, wanted.b].forEach((value, c) =>
          expect(Math.abs(light.total[c]![i]! - value * whole)).toBeLessThan(1e-6),
        );
        expect(Math.abs((light.alpha?.[i] ?? 1) - whole)).toBeLessThan(1e-6);
      }
    }
  });

  it('adds light and covers nothing, and leaves lamps under a screen as they are', async () => {
    const lamps = render('lamps', { '': (x) => (x === 9 ? 40 : 0.5), A: () => 0.3 });
    const added = await run(stack(set(), lamps), lookOf('elements[1].mode=add'));
    expect(added.light.total[0][9]).toBeCloseTo(ground(9, 0, 0) + 40, 4);
    const screened = await run(
      stack(lamps, set()),
      lookOf('elements[1].mode=screen', 'elements[0].alpha=associated'),
    );
    expect(screened.light.total[0][9]).toBe(40);
  });

  // Common practice: opacity multiplies light and alpha alike, and what is not there changes nothing.
  it('takes opacity and order as they are meant, whatever they are', async () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    await fc.assert(
      fc.asyncProperty(
        share,
        share,
        fc.constantFrom('over', 'add', 'screen', 'multiply'),
        async (a, b, mode) => {
          const flat = (name: string, value: number, alpha: number): Plate =>
            render(name, { '': () => value * alpha, A: () => alpha });
          const three = [flat('one', 0.4, 1), flat('two', 0.7, a), flat('three', 0.2, b)] as const;
          const red = async (plate: Plate, ...settings: string[]): Promise<number> =>
            (await run(plate, lookOf(...settings))).light.total[0][0]!;
          const two = await red(stack(three[0], three[1]), `elements[1].mode=${mode}`);
          // Off and nothing of it are the same.
          const off = await red(stack(...three), `elements[1].mode=${mode}`, 'elements[2].on=false');
          const none = await red(stack(...three), `elements[1].mode=${mode}`, 'elements[2].opacity=0');
          expect(off).toBe(two);
          expect(none).toBeCloseTo(two, 6);
          // Opacity is the same as a render that had so much less of it.
          const less = await red(stack(three[0], flat('less', 0.7, a * b)), `elements[1].mode=${mode}`);
          const thin = await red(
            stack(three[0], three[1]),
            `elements[1].mode=${mode}`,
            `elements[1].opacity=${b}`,
          );
          expect(thin).toBeCloseTo(less, 5);
          // Lights that add up do so in any order.
          const sums = ['elements[1].mode=add', 'elements[2].mode=add'];
          const forth = await red(stack(three[0], three[1], three[2]), ...sums);
          expect(await red(stack(three[0], three[2], three[1]), ...sums)).toBeCloseTo(forth, 5);
        },
      ),
      { numRuns: 20 },
    );
  });

  it('joins edges that one has cut out of the other', async () => {
    const flag = render('flag', {
      '': (x, y, c) => (1 - cover(x, y, 0)) * (0.6 - 0.1 * c),
      A: (x, y) => 1 - cover(x, y, 0),
    });
    const whole = stack(flag, render('hero', { '': (x, y) => cover(x, y, 0) * 0.6, A: cover }));
    const doubled = (await run(whole, lookOf())).light;
    const joined = (await run(whole, lookOf('elements[1].heldOut=true'))).light;
    // Both are 0.6 in red: so is the mixture, if nothing of it is missing.
    expect(Math.min(...joined.total[0])).toBeGreaterThan(0.599);
    expect(Math.min(...joined.alpha!)).toBeGreaterThan(0.999);
    expect(Math.min(...doubled.total[0])).toBeLessThan(0.5);
    const [a, b] = [plane(cover), plane((x, y) => 1 - cover(x, y, 0))];
    expect(isCutBy(a, b)).toBe(true);
    expect(
      isCutBy(
        a,
        plane(() => 0.5),
      ),
    ).toBe(false);
  });

  it('goes by depth where it is asked to', async () => {
    const wall = render('wall', { '': () => 1, Z: (x) => (x < 10 ? 2 : 6) });
    const board = render('board', { '': () => 0.25, A: () => 1, Z: () => 4 });
    const byOrder = await run(stack(wall, board), lookOf());
    expect([byOrder.light.total[0][5], byOrder.light.total[0][20]]).toEqual([0.25, 0.25]);
    const look = lookOf('elements[1].byDepth=true');
    const { light } = await run(stack(wall, board), look);
    expect([light.total[0][5], light.total[0][20]]).toEqual([1, 0.25]);
    expect(distanceAt(stack(wall, board), look, 20, 3)).toBeCloseTo(4, 5);
    const all = readDepth(stack(wall, board), look);
    expect(all[5]).toBeCloseTo(2, 5);
    for (const x of [5, 9, 10, 20])
      expect(distanceAt(stack(wall, board), look, x, 0)).toBeCloseTo(all[x]!, 5);
  });

  it('lies where it is moved to, pixel for pixel by whole ones, and keeps its light when it is made smaller', async () => {
    const dot = render('dot', {
      '': (x, y) => Number(x === 16 && y === 10),
      A: (x, y) => Number(x === 16 && y === 10),
    });
    const black = render('black', { '': () => 0 });
    const moved = await run(stack(black, dot), lookOf('elements[1].x=0.125', 'elements[1].y=-0.1'));
    expect(moved.light.total[0].indexOf(1)).toBe(8 * WIDTH + 20);
    const large = plane(() => 1, 0, 64, 40);
    const small = placePlane(
      large,
      { width: 64, height: 40 },
      { width: WIDTH, height: HEIGHT },
      { x: 0.5, y: 0.5, step: 2 },
    );
    expect(Math.max(...small)).toBeCloseTo(1, 6);
    const half = await run(stack(black, dot), lookOf('elements[1].scale=2'));
    expect(half.light.total[0].reduce((sum, value) => sum + value, 0)).toBeCloseTo(4, 4);
    const other = render('other', { '': () => 0.5, A: () => 1 }, 16, 10);
    const within = (await run(stack(black, other), lookOf())).light.total[0];
    expect(within.filter((value) => value > 0)).toHaveLength(160);
  });

  it('has nothing where an element has no such frame', async () => {
    const base = set();
    const { light } = await run(stack(base, emptyElement('e', 'dust', base)), lookOf());
    expect(light.total[0]).toEqual(plane(ground));
  });
});

describe('correction of an element', () => {
  it('changes that element alone, as it would be changed by itself', async () => {
    const both = stack(set(), figure());
    const { light } = await run(both, lookOf('elements[1].exposure=1', 'elements[1].saturation=1'));
    for (const i of [0, 9 * WIDTH + 15, 9 * WIDTH + 20]) {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      const wanted = 2 * hero(x, y, 0) + (1 - cover(x, y, 0)) * ground(x, y, 0);
      expect(light.total[0][i]).toBeCloseTo(wanted, 5);
    }
  });

  // By definition: colours are divided by alpha before a curve and multiplied after it, or edges would be bent twice.
  it.each([
    ['contrast=2', (v: number) => 0.18 * (v / 0.18) ** 2],
    ['offset=0.1', (v: number) => v + 0.1],
    ['curve=0:1', (v: number) => 2 * v],
    ['levels.outHigh=0.5', (v: number) => v / 2],
    ['levels.gamma=2', (v: number) => Math.sqrt(v)],
    ['corrections[0].exposure=1', (v: number) => 2 * v],
  ])('by %s is that of its colours', async (setting, change) => {
    const even = render('even', { '': (x, y) => 0.3 * cover(x, y, 0), A: cover });
    const black = render('black', { '': () => 0 });
    const { light } = await run(stack(black, even), lookOf(`elements[1].${setting}`));
    for (let i = 0; i < COUNT; i += 7)
      expect(light.total[0][i]).toBeCloseTo(
        change(Math.fround(0.3)) * cover(i % WIDTH, Math.floor(i / WIDTH), 0),
        4,
      );
  });

  it('stays within its mask, which may be another element', async () => {
    const [base, top] = [set(), figure()];
    const look = lookOf('elements[0].exposure=1', 'elements[0].mask=hero', 'elements[1].on=true');
    const corner = (await run(stack(base, top), look)).light.total[0];
    expect(corner[0]).toBeCloseTo(ground(0, 0, 0), 6);
    const seen = (await run(stack(base, top), lookOf('elements[0].exposure=1'))).light.total[0];
    expect(seen[0]).toBeCloseTo(2 * ground(0, 0, 0), 6);
    await expect(
      run(stack(base, top), lookOf('elements[0].exposure=1', 'elements[0].mask=nobody')),
    ).rejects.toThrow(/there is no mask nobody/);
  });

  it('works on a plate of one render as well', async () => {
    const { light } = await run(set(), lookOf('elements[0].exposure=1', 'elements[0].opacity=0.5'));
    expect(light.total[0][7]).toBeCloseTo(ground(7, 0, 0), 5);
    expect(light.alpha![7]).toBeCloseTo(0.5, 6);
  });
});

describe('passes, mattes and lights over elements', () => {
  const passes = (): Plate =>
    render('hero', {
      '': hero,
      emission: (x, y, c) => 0.5 * hero(x, y, c),
      A: cover,
      'matte.cloak': () => 1,
    });
  const lamps = (): Plate =>
    render('set', {
      '': ground,
      emission: (x) => (x === 15 || x === 30 ? 5 : 0),
      'matte.sky': () => 1,
      Z: () => 8,
    });

  it('gives what is seen of a pass: of all that have it, or of one alone', async () => {
    const context = contextOf(stack(lamps(), passes()));
    const at = 9 * WIDTH + 15;
    const red = async (name: string): Promise<Float32Array> =>
      (await preparedPass(context, name, 'veil.feed.pass', lookOf(), 1)).total[0];
    expect((await red('set:emission'))[at]).toBeCloseTo(5 * (1 - cover(15, 9, 0)), 5);
    expect((await red('set:emission'))[9 * WIDTH + 30]).toBeCloseTo(5, 5);
    expect((await red('hero:emission'))[at]).toBeCloseTo(0.5 * hero(15, 9, 0), 5);
    expect((await red('emission'))[at]).toBeCloseTo(0.5 * hero(15, 9, 0), 5);
    expect((await red('hero'))[at]).toBeCloseTo(hero(15, 9, 0), 5);
    await expect(red('hero:steam')).rejects.toThrow(/has no pass hero:steam/);
  });

  it('covers passes and mattes by depth where elements go by it', async () => {
    const wall = render('wall', { '': () => 1, emission: () => 1, Z: (x) => (x < 10 ? 2 : 6) });
    const board = render('board', { '': () => 0.25, emission: () => 0.25, A: () => 1, Z: () => 4 });
    const context = contextOf(stack(wall, board));
    const look = lookOf('elements[1].byDepth=true');
    for (const [name, near, far] of [
      ['wall:emission', 1, 0],
      ['board:emission', 0, 0.25],
      ['emission', 1, 0.25],
    ] as const) {
      const [red] = (await preparedPass(context, name, 'veil.feed.pass', look, 1)).total;
      expect([red[5], red[20]]).toEqual([near, far]);
    }
    const matte = await maskAt(look, 'board', 'plate.mask', context.plate, 1, context.cache);
    expect([matte![5], matte![20]]).toEqual([0, 1]);
    // Another unit of the depth is another picture.
    const nearer = lookOf('elements[1].byDepth=true', 'elements[1].distance=1');
    const [moved] = (await preparedPass(context, 'wall:emission', 'veil.feed.pass', nearer, 1)).total;
    expect([moved[5], moved[20]]).toEqual([0, 0]);
  });

  it('has mattes of all elements, each of them, and each as a whole', () => {
    expect(mattesOf(stack(lamps(), passes()))).toEqual(
      expect.arrayContaining([
        'matte.sky',
        'matte.cloak',
        'set',
        'hero',
        'set:matte.sky',
        'hero:matte.cloak',
      ]),
    );
  });

  // By definition: what is in front lets through what its alpha leaves.
  it('lets a light through smoke by its alpha, and says how far what is seen lies', async () => {
    const smoke = render('smoke', { '': () => 0.02, A: () => 0.3 });
    const plate = stack(set(), smoke);
    const light = [
      'ghosts.on=true',
      'ghosts.lights[0].x=0.5',
      'ghosts.lights[0].distance=6',
      'ghosts.lights[0].size=0.3',
      'ghosts.lights[0].coveredBy=depth',
    ];
    const seenAt = async (...settings: string[]): Promise<number> =>
      (await resolveLights(lookOf(...light, ...settings), contextOf(plate)))[0]!.visibility;
    expect(await seenAt('elements[1].distance=2')).toBeCloseTo(0.7, 5);
    expect(await seenAt('elements[1].distance=7')).toBeCloseTo(1, 5);
    expect(await seenAt('elements[1].distance=2', 'elements[1].opacity=0.5')).toBeCloseTo(0.85, 5);
    expect(readDepth(plate, lookOf('elements[1].distance=2'))[0]).toBeCloseTo(8, 5);
  });

  it('carries the distances of a surface on over its soft edge', () => {
    const [alpha, width] = [Float32Array.of(0, 0, 0.4, 1, 1, 1), 6];
    const spread = spreadOverEdges(Float32Array.of(0, 900, 900, 3, 3.1, 3.2), alpha, width);
    expect([...spread]).toEqual([3, 3, 3, 3, 3.1, 3.2].map(Math.fround));
  });
});

describe('a region of several elements', () => {
  // By definition: a part is that part of the whole. What comes from afar apart, to which the small picture is an approximation.
  it.each([
    ['laid over each other', []],
    ['in other primaries', ['elements[1].primaries=acescg', 'elements[0].primaries=rec2020']],
    ['moved', ['elements[1].x=0.1', 'elements[1].scale=1.5']],
    ['through the lens', ['focus.on=true', 'camera.focusDistance=8', 'camera.fStop=2']],
  ])('is that of the whole, %s', async (_, settings) => {
    const look = lookOf('veil.on=false', ...settings);
    // So large that what is computed about the region does not hold all of the picture.
    const [width, height] = [240, 150];
    const region = { x: 90, y: 60, width: 31, height: 17 };
    const wide: Fill = (x, y) => cover(x / 8, y / 8, 0);
    const plate = stack(
      render('set', { '': ground, Z: () => 8 }, width, height),
      render(
        'hero',
        { '': (x, y, c) => wide(x, y, 0) * (0.3 + 0.1 * c), A: wide, Z: () => 3 },
        width,
        height,
      ),
    );
    const { light } = await evaluate(look, contextOf(plate), { scale: 1 });
    const part = await evaluateRegion(look, contextOf(plate), region);
    const whole = cutRegion(light, region);
    part.total.forEach((own, c) =>
      own.forEach((value, i) => expect(Math.abs(value - whole.total[c]![i]!)).toBeLessThan(1e-3)),
    );
  });
});

describe('focus over elements', () => {
  const settings = ['focus.on=true', 'camera.fStop=1.4', 'camera.focusDistance=8', 'camera.focalLength=85'];

  it('keeps what is in focus to the bit, and spreads alpha with colour', async () => {
    const sharp = lookOf(
      'focus.on=true',
      'camera.fStop=22',
      'camera.focalLength=20',
      'camera.focusDistance=5',
    );
    const both = stack(set(), figure());
    const [before, after] = [await run(both, sharp), await run(both, sharp, 'focus')];
    expect(after.light.total).toEqual(before.light.total);
    const white = stack(
      render('clear', { '': () => 0, A: () => 0, Z: () => 8 }),
      render('hero', { '': cover, A: cover, Z: () => 3 }),
    );
    const { light } = await run(white, lookOf(...settings), 'focus');
    light.alpha!.forEach((value, i) => expect(Math.abs(value - light.total[0][i]!)).toBeLessThan(2e-3));
  });

  // The thin lens: behind a blurred edge the sharp ground shows by what the edge leaves open, also what it hid.
  it('shows behind a blurred element what is really there', async () => {
    const striped = render('set', { '': (x) => (x % 4 < 2 ? 1 : 0), Z: () => 8 });
    const dark = render('dark', { '': () => 0, A: (x) => (x > 13 && x < 19 ? 1 : 0), Z: () => 3 });
    const open = render('open', { '': () => 0, A: (x) => (x > 13 && x < 19 ? 1 : 0), Z: () => 3 });
    const { light } = await run(stack(striped, dark), lookOf(...settings), 'focus');
    const cleared = stack(render('clear', { '': () => 0, A: () => 0, Z: () => 8 }), open);
    const alpha = (await run(cleared, lookOf(...settings), 'focus')).light.alpha!;
    for (let i = 8 * WIDTH; i < 9 * WIDTH; i++) {
      const wanted = (i % 4 < 2 ? 1 : 0) * (1 - alpha[i]!);
      // Gaps of discs are closed from 94 % of coverage on.
      expect(Math.abs(light.total[0][i]! - wanted)).toBeLessThan(0.035);
    }
  });

  it('needs depth of some element, or a typed distance, and says so', async () => {
    const [flat, card] = [render('flat', { '': ground }), render('card', { '': hero, A: cover })];
    await expect(run(stack(flat, card), lookOf(...settings), 'focus')).rejects.toThrow(/has no depth/);
    const { light } = await run(stack(flat, card), lookOf(...settings, 'elements[1].distance=2'), 'focus');
    expect(light.total[0].every(Number.isFinite)).toBe(true);
  });
});
