import { ContentCache } from '../../light/cache';
import { evaluate } from '../../bench/evaluate';
import type { Rgb } from '../../image/rgb';
import { makePlate, type Plate } from '../../light/plate';
import { addChannel, emptyPicture } from '../../image/picture';
import type { Disc } from '../../kernels/scatter';
import { kernelsOn } from '../../kernels';
import { serialRunner } from '../../jobs';
import { assignSetting, defaultLook, type Look } from '../../look/look';
import { depthWarnings, endThrough } from '../../light/depth';
import { depthHistogram, depthPicture, distanceAt, readDepth, shareAt } from '../../light/distances';
import { barrelShare } from './barrel';
import { cellOf, DiscSet, type DiscShape } from './discs';
import { pupilMask } from '../../optics/pupil-mask';
import { blurRadius } from './radius';
import { differences } from './textured-disc';

const [WIDTH, HEIGHT] = [96, 72];
const COUNT = WIDTH * HEIGHT;
const MIDDLE = (HEIGHT / 2) * WIDTH + WIDTH / 2;
type Fill = (x: number, y: number) => number;

function plateOf(light: Fill, distance: Fill | null, channel = 'depth.Z'): Plate {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const plane = (fill: Fill): Float32Array =>
    Float32Array.from({ length: COUNT }, (_, i) => fill(i % WIDTH, Math.floor(i / WIDTH)));
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', plane(light));
  if (distance) addChannel(picture, channel, 'float', plane(distance));
  return makePlate('p', 'test.exr', picture);
}

/** A lens whose far discs have about the radius that is asked for, in pixels, focused at 2 m. */
const lensOf = (radius: number, ...settings: string[]): Look =>
  [
    'focus.on=true',
    'camera.focalLength=50',
    'camera.focusDistance=2',
    'focus.limit=0.25',
    `camera.fStop=${(50 * 50 * WIDTH) / (2 * radius * 36 * 2000)}`,
    ...settings,
  ].reduce(assignSetting, defaultLook());

async function through(plate: Plate, look: Look, scale = 1): Promise<Rgb> {
  const context = { plate, cache: new ContentCache(1e8), kernels: kernelsOn(serialRunner) };
  return (await evaluate(look, context, { scale, behind: 'focus' })).light.total;
}

const sum = (plane: Float32Array): number => plane.reduce((total, value) => total + value, 0);
const FAR = 1e6;

describe('a mask of the pupil in colour', () => {
  /** Open to red on the left, to blue on the right, to green everywhere. */
  const half = (from: (u: number) => number): Float32Array =>
    Float32Array.from({ length: 256 }, (_, i) => from(((i % 16) + 0.5) / 16));
  const planes = [half((u) => (u < 0.5 ? 1 : 0)), half(() => 1), half((u) => (u < 0.5 ? 0 : 1))];
  const mask = { key: 'm', width: 16, height: 16, plane: planes[1]!, channels: planes };

  it('gives each colour its own part of the disc, all of its light in it, and leaves alone what is in focus', async () => {
    const plate = plateOf(
      (x, y) => (x === 48 && y === 36 ? 5000 : 0.1),
      () => FAR,
    );
    const context = {
      plate,
      cache: new ContentCache(1e8),
      kernels: kernelsOn(serialRunner),
      image: () => mask,
    };
    const render = async (...settings: string[]): Promise<Rgb> =>
      (await evaluate(lensOf(12, 'pupil.mask=m', ...settings), context, { scale: 1, behind: 'focus' })).light
        .total;
    const [red, green, blue] = await render();
    const side = (plane: Float32Array, sign: -1 | 1): number =>
      plane.reduce((all, value, i) => (sign * ((i % WIDTH) - 48) > 1 ? all + value - 0.1 : all), 0);
    expect(side(red, -1)).toBeGreaterThan(20 * Math.abs(side(red, 1)));
    expect(side(blue, 1)).toBeGreaterThan(20 * Math.abs(side(blue, -1)));
    expect(side(green, 1) / side(green, -1)).toBeCloseTo(1, 1);
    for (const plane of [red, blue]) expect(sum(plane) / sum(green)).toBeCloseTo(1, 2);
    // Before the focus the pupil's image stands on its head.
    expect(blurRadius(lensOf(12), plate, 1, 1)).toBeLessThan(0);
    const sharp = await render('camera.focusDistance=100000');
    sharp.forEach((plane, c) => expect(plane).toEqual(sharp[(c + 1) % 3]));
  });
});

describe('the barrel', () => {
  // Source: the area that two equal circles have in common (geometry): (2 acos(d / 2) - d sqrt(1 - d^2 / 4)) / pi of one.
  it.each([0, 0.3, 0.7, 1])('lets through what two circles have in common, moved by %d', (distance) => {
    const share = barrelShare({
      pupil: { blades: 0, curvature: 1, rotation: 0 },
      obstruction: 0,
      catsEye: 1,
    });
    const lens = (2 * Math.acos(distance / 2) - distance * Math.sqrt(1 - distance ** 2 / 4)) / Math.PI;
    for (const [u, v] of [
      [distance, 0],
      [0, -distance],
      [distance * Math.SQRT1_2, distance * Math.SQRT1_2],
    ] as const)
      expect(share(u, v)).toBeCloseTo(lens, 2);
  });

  it('takes light from the corners when it is asked to, in focus and out of it', async () => {
    const even = () => 1;
    for (const distance of [2, FAR]) {
      const kept = await through(
        plateOf(even, () => distance),
        lensOf(6, 'focus.catsEye=1'),
      );
      const cut = await through(
        plateOf(even, () => distance),
        lensOf(6, 'focus.catsEye=1', 'focus.catsEyeDims=true'),
      );
      expect(kept[1][0]).toBeCloseTo(1, 4);
      expect(cut[1][0]).toBeGreaterThan(0.39);
      expect(cut[1][0]).toBeLessThan(0.5);
      expect(cut[1][MIDDLE]).toBeGreaterThan(0.94);
    }
  });
});

describe('a blur disc', () => {
  const pupil = { blades: 0, curvature: 0, rotation: 0 };
  const shape = { pupil, obstruction: 0, squeeze: 1, rim: 0, catsEye: 0 };
  /** The disc of a signed radius at a place in the field. */
  const discOf = (of: Partial<DiscShape>, radius: number, u = 0): Disc => {
    const set = new DiscSet({ ...shape, ...of });
    const [x, y] = of.catsEye ? [cellOf(u), cellOf(0)] : [0, 0];
    return set.disc(set.stepOf(Math.abs(radius)), radius < 0 ? 'before' : 'behind', x, y);
  };
  /** Coverage per pixel of a disc, by place. */
  function coverage({ reach, rows, dx, weight }: Disc): { x: number; y: number; value: number }[] {
    return Array.from({ length: 2 * reach + 1 }, (_, row) => {
      let run = 0;
      let k = rows[row]!;
      return Array.from({ length: 2 * reach + 2 }, (__, column) => {
        const x = column - reach;
        while (k < rows[row + 1]! && dx[k] === x) run += weight[k++]!;
        return { x, y: row - reach, value: run };
      });
    }).flat();
  }
  const moment = (disc: Disc, of: (x: number, y: number) => number): number =>
    coverage(disc).reduce((total, { x, y, value }) => total + value * of(x, y), 0);

  it.each([1, 2.5, 7, 15.9, 24, 60])(
    'of radius %d keeps its energy, its middle and its variance',
    (radius) => {
      const kernel = discOf({}, radius);
      expect(moment(kernel, () => 1)).toBeCloseTo(1, 5);
      expect(moment(kernel, (x) => x)).toBeCloseTo(0, 3);
      expect(moment(kernel, (_, y) => y)).toBeCloseTo(0, 3);
      // By geometry: the mean square distance of a disc's points from its middle is half its radius squared.
      const spread = moment(kernel, (x, y) => x * x + y * y);
      expect(Math.abs(spread / ((radius * radius) / 2) - 1)).toBeLessThan(radius < 2 ? 0.2 : 0.02);
    },
  );

  it('of many blades has the shape of the aperture, on its head before the focus', () => {
    const triangle = { pupil: { blades: 3, curvature: 0, rotation: 0 } };
    // The triangle's corner points up behind the focus: its widest row lies low.
    const widest = (kernel: Disc): number => {
      const rows = new Map<number, number>();
      for (const { y, value } of coverage(kernel)) rows.set(y, (rows.get(y) ?? 0) + value);
      return [...rows].sort((a, b) => b[1] - a[1])[0]![0];
    };
    expect(widest(discOf(triangle, 12))).toBeGreaterThan(3);
    expect(widest(discOf(triangle, -12))).toBeLessThan(-3);
  });

  // Source: geometry of a ring: the mean square distance is half the sum of both radii's squares.
  it.each([0, 6])('of a mirror lens with %d blades is a ring', (blades) => {
    const ring = discOf({ obstruction: 0.5, pupil: { ...pupil, blades } }, 20);
    expect(moment(ring, () => 1)).toBeCloseTo(1, 5);
    const inside = coverage(ring).filter(({ x, y }) => Math.hypot(x, y) < 9);
    for (const { value } of inside) expect(Math.abs(value)).toBeLessThan(1e-7);
    expect(Math.min(...coverage(ring).map(({ value }) => value))).toBeGreaterThan(-1e-7);
    if (blades === 0)
      expect(moment(ring, (x, y) => x * x + y * y) / ((20 ** 2 + 10 ** 2) / 2)).toBeCloseTo(1, 1);
    // More than the blades leave open cannot be held back.
    const most = discOf({ obstruction: 0.9, pupil: { ...pupil, blades } }, 20);
    expect(Math.min(...coverage(most).map(({ value }) => value))).toBeGreaterThan(-1e-6);
  });

  /** A pupil open in its upper half alone, and one that is open throughout. */
  const half = { size: 64, plane: Float32Array.from({ length: 64 * 64 }, (_, i) => (i < 32 * 64 ? 1 : 0)) };
  const open = { size: 192, plane: pupilMask(pupil, defaultLook().pupil, 192) };

  it('shows what lies in the pupil, on its head before the focus', () => {
    for (const side of [1, -1] as const) {
      const disc = discOf({ marks: half }, side * 20);
      expect(moment(disc, () => 1)).toBeCloseTo(1, 5);
      // The middle of the upper half lies a quarter of the square's height up.
      expect(moment(disc, (_, y) => y)).toBeCloseTo(-side * 10, 0);
    }
  });

  it('of an open pupil is the plain disc, however it is drawn', () => {
    const [drawn, plain] = [coverage(discOf({ marks: open }, 24)), coverage(discOf({}, 24))];
    const most = Math.max(...plain.map(({ value }) => value));
    plain.forEach(({ value }, i) => expect(Math.abs(drawn[i]!.value - value)).toBeLessThan(0.1 * most));
    // What is small shows no marks.
    expect(discOf({ marks: open }, 3)).toEqual(discOf({}, 3));
  });

  it('with marks is cut by the barrel and weighted towards its rim as one without', () => {
    for (const more of [{ catsEye: 0.8 }, { rim: 0.7 }, { squeeze: 0.5 }]) {
      const [drawn, plain] = [discOf({ ...more, marks: open }, 20, 1), discOf(more, 20, 1)];
      for (const power of [(x: number) => x, (x: number) => x * x, (_: number, y: number) => y * y])
        expect(Math.abs(moment(drawn, power) - moment(plain, power))).toBeLessThan(
          0.03 * (1 + Math.abs(moment(plain, power))),
        );
    }
  });

  it('puts off what cannot be seen, and leaves nothing over', () => {
    const grid = Float64Array.from([0, 1, 1.01, 1.02, 1.03, 1, 0, 0]);
    differences(grid, 8, 0.025);
    expect([...grid].map((value) => Number(value.toFixed(4)))).toEqual([0, 1, 0, 0, 0.03, -0.03, -1, 0]);
  });

  // Source: the documented law 1 + rim (2 rho^2 - 1), by hand.
  it.each([0, 5, 6, 9])('is weighted towards its rim smoothly, with %d blades', (blades) => {
    const open = { pupil: { ...pupil, blades } };
    const [plain, weighted] = [coverage(discOf(open, 40)), coverage(discOf({ ...open, rim: 0.6 }, 40))];
    const whole = Math.max(...plain.map(({ value }) => value));
    const raw = plain.map(({ x, y, value }) => value * (1 + 0.6 * (2 * ((x * x + y * y) / 1600) - 1)));
    const total = sum(Float32Array.from(raw));
    weighted.forEach(({ value }, i) => {
      if (plain[i]!.value > 0.999 * whole)
        expect(Math.abs(value * total - raw[i]!) / whole).toBeLessThan(0.01);
    });
  });

  // Source: geometry of two circles of the pupil's size whose middles lie apart, a third of it held back in the middle.
  it('is cut by a barrel as large as the pupil, whatever is held back in its middle', () => {
    const [radius, cut] = [40, 0.8];
    const disc = coverage(discOf({ obstruction: 1 / 3, catsEye: cut }, radius, 1));
    const expected = disc.map(({ x, y }) => {
      const [u, v] = [x / radius, y / radius];
      const own = Math.hypot(u, v);
      return own < 1 && own > 1 / 3 && Math.hypot(u + cut, v) < 1 ? 1 : 0;
    });
    const area = expected.reduce((all: number, one) => all + one, 0);
    const misplaced = disc.reduce((all, { value }, i) => all + Math.abs(value - expected[i]! / area), 0) / 2;
    expect(misplaced).toBeLessThan(0.03);
  });

  it('is squeezed, has a rim that flips with the side, and is cut by the barrel', () => {
    const wide = discOf({ squeeze: 0.5 }, 10);
    const [across, down] = [moment(wide, (x) => x * x), moment(wide, (_, y) => y * y)];
    expect(across / down).toBeCloseTo(0.25, 1);
    const spread = (radius: number): number => moment(discOf({ rim: 0.8 }, radius), (x, y) => x * x + y * y);
    expect(spread(10)).toBeGreaterThan(55);
    expect(spread(-10)).toBeLessThan(45);
    expect(moment(discOf({ catsEye: 1 }, 10), (x) => x)).toBeCloseTo(0, 3);
    const about = (kernel: Disc): number => moment(kernel, (x) => x * x) - moment(kernel, (x) => x) ** 2;
    expect(about(discOf({ catsEye: 1 }, 10, 0.8))).toBeLessThan(about(discOf({ catsEye: 1 }, 10)) * 0.7);
    expect(moment(discOf({ catsEye: 1 }, 10, 0.8), () => 1)).toBeCloseTo(1, 5);
  });
});

describe('Focus', () => {
  it('is off by default and gives the very light back', async () => {
    const plate = plateOf(
      (x) => x / 50,
      () => 9,
    );
    expect((await through(plate, defaultLook()))[0]).toBe((await through(plate, defaultLook()))[0]);
    expect((await through(plate, defaultLook()))[0]).toEqual(plate.picture.channels.get('R')!.samples);
  });

  it('leaves what is in focus bit by bit', async () => {
    const light: Fill = (x, y) => Math.fround(0.1 + ((x * 7 + y * 13) % 11) / 30);
    const all = await through(
      plateOf(light, () => 2),
      lensOf(12),
    );
    expect(all[0]).toEqual(
      Float32Array.from({ length: COUNT }, (_, i) => light(i % WIDTH, Math.floor(i / WIDTH))),
    );
    // And beside something that is blurred behind it, where no disc of the far surface may fall on it.
    const half = await through(
      plateOf(light, (x) => (x < 48 ? 2 : FAR)),
      lensOf(6),
    );
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < 46; x++) expect(half[0][y * WIDTH + x]).toBe(Math.fround(light(x, y)));
  });

  it.each([4, 9, 15])('spreads a lone lamp over a disc of radius %d and keeps its energy', async (radius) => {
    const plate = plateOf(
      (x, y) => (y * WIDTH + x === MIDDLE ? 1000 : 0),
      () => FAR,
    );
    const [red] = await through(plate, lensOf(radius));
    expect(Math.abs(sum(red) - 1000)).toBeLessThan(0.5);
    const inside = red.filter((value) => value > 0.5 * Math.max(...red)).length;
    expect(2 * Math.sqrt(inside / Math.PI)).toBeCloseTo(2 * radius, -0.3);
    // Flat inside: a uniform disc.
    expect(red[MIDDLE]).toBeCloseTo(1000 / (Math.PI * radius * radius), radius < 5 ? -0.5 : 0);
  });

  it('keeps flat light flat up to the borders, or darkens them if all is black beyond', async () => {
    const plate = plateOf(
      () => 0.5,
      () => FAR,
    );
    const [same] = await through(plate, lensOf(8));
    same.forEach((value) => expect(value).toBeCloseTo(0.5, 4));
    const [black] = await through(plate, lensOf(8, 'focus.edge=black'));
    expect(black[0]!).toBeLessThan(0.2);
    expect(black[MIDDLE]).toBeCloseTo(0.5, 4);
  });

  it('lets a near surface spread over what is sharp behind it, with the background coming through', async () => {
    // A near, dark bar before a bright wall in focus.
    const plate = plateOf(
      (x) => (x >= 40 && x < 56 ? 0.1 : 1),
      (x) => (x >= 40 && x < 56 ? 1 : 2),
    );
    const look = lensOf(6);
    expect(blurRadius(look, plate, 1, 1)).toBeCloseTo(-6, 1);
    const [red] = await through(plate, look);
    const row = red.subarray(MIDDLE - WIDTH / 2, MIDDLE + WIDTH / 2);
    // Outside the bar its blur darkens the wall, most at the edge; inside the wall shines through.
    expect(row[37]!).toBeLessThan(0.95);
    expect(row[37]!).toBeGreaterThan(row[39]!);
    expect(row[42]!).toBeGreaterThan(0.3);
    expect(row[30]).toBe(1);
    for (let x = 33; x < 47; x++) expect(row[x + 1]!).toBeLessThanOrEqual(row[x]! + 1e-3);
  });

  // Source: compositing algebra (Porter & Duff 1984): a card over its own colour is that colour everywhere.
  it.each(['same', 'black'] as const)(
    'spreads alpha with the colour that it covers with (edge %s)',
    async (edge) => {
      const inCard: Fill = (x, y) => (x > 30 && x < 60 && y > 20 && y < 50 ? 1 : 0);
      const plate = plateOf(
        (x, y) => 0.8 * inCard(x, y),
        (x, y) => (inCard(x, y) ? 5 : 8),
      );
      addChannel(
        plate.picture,
        'A',
        'float',
        Float32Array.from({ length: COUNT }, (_, i) => inCard(i % WIDTH, Math.floor(i / WIDTH))),
      );
      const whole = makePlate('p', 'card.exr', plate.picture);
      const context = { plate: whole, cache: new ContentCache(1e8), kernels: kernelsOn(serialRunner) };
      const { light } = await evaluate(lensOf(6, `focus.edge=${edge}`), context, {
        scale: 1,
        behind: 'focus',
      });
      for (let i = 0; i < COUNT; i++)
        expect(Math.abs(light.total[0][i]! + (1 - light.alpha![i]!) * 0.8 - 0.8)).toBeLessThan(0.01);
      expect(light.alpha!.some((value) => value > 0.1 && value < 0.9)).toBe(true);
    },
  );

  it('shows no halo where a sharp edge stands before a blurred wall of its own colour', async () => {
    const plate = plateOf(
      () => 0.4,
      (x) => (x < 48 ? 2 : FAR),
    );
    const [red] = await through(plate, lensOf(9));
    red.forEach((value) => expect(value).toBeCloseTo(0.4, 3));
  });

  it('moves by little when the focus does', async () => {
    const plate = plateOf(
      (x, y) => 0.2 + ((x * 31 + y * 17) % 23) / 40,
      (x, y) => 1.5 + x / 40 + (y > 40 ? 3 : 0),
    );
    const at = (distance: number): Promise<Rgb> =>
      through(plate, lensOf(8, `camera.focusDistance=${distance}`));
    let before = (await at(3))[0];
    for (const distance of [3.01, 3.02, 3.03]) {
      const [now] = await at(distance);
      let square = 0;
      now.forEach((value, i) => (square += (value - before[i]!) ** 2));
      expect(Math.sqrt(square / COUNT)).toBeLessThan(0.02);
      before = now;
    }
  });

  it('looks the same at half the size', async () => {
    const plate = plateOf(
      (x, y) => ((x - 30) ** 2 + (y - 30) ** 2 < 60 ? 5 : 0.1),
      () => FAR,
    );
    const [full, half] = [(await through(plate, lensOf(10)))[0], (await through(plate, lensOf(10), 0.5))[0]];
    let worst = 0;
    for (let y = 0; y < HEIGHT / 2; y++)
      for (let x = 0; x < WIDTH / 2; x++) {
        const at = 2 * y * WIDTH + 2 * x;
        const mean = (full[at]! + full[at + 1]! + full[at + WIDTH]! + full[at + WIDTH + 1]!) / 4;
        worst = Math.max(worst, Math.abs(mean - half[y * (WIDTH / 2) + x]!));
      }
    expect(worst).toBeLessThan(0.12);
  });
});

describe('distances', () => {
  const look = (...settings: string[]): Look =>
    settings.map((one) => `focus.depth.${one}`).reduce(assignSetting, defaultLook());
  const plate = (value: number): Plate =>
    plateOf(
      () => 1,
      () => value,
    );

  it.each([
    [[], 3, 3],
    [['unit=cm'], 250, 2.5],
    [['unit=ft'], 10, 3.048],
    [['reading=inverse'], 0.25, 4],
    [['reading=normalised', 'near=2', 'far=10'], 0.25, 4],
    [['reading=normalised', 'near=2', 'far=10', 'white=near'], 0.25, 8],
    [[], Infinity, 1e7],
    [['reading=inverse'], 0, 1e7],
  ] as const)('read as %j take %d to %d m', (settings, value, wanted) => {
    expect(readDepth(plate(value), look(...settings))[MIDDLE]).toBeCloseTo(wanted, 4);
    expect(distanceAt(plate(value), look(...settings), WIDTH / 2, HEIGHT / 2)).toBeCloseTo(wanted, 4);
  });

  it('of 0 and below are none: they are sky, and are counted', () => {
    const plate = plateOf(
      () => 1,
      (x) => (x < 4 ? 0 : x < 8 ? -3 : 2 + x),
    );
    const read = readDepth(plate, defaultLook());
    expect([read[0], read[5], read[8]]).toEqual([1e7, 1e7, 10]);
    expect(depthWarnings(plate, defaultLook()).join()).toMatch(/576 pixels\) is no distance/);
  });

  it('along the ray become those along the axis', () => {
    const along = look('reading=ray');
    const [corner, middle] = [readDepth(plate(10), along)[0]!, readDepth(plate(10), along)[MIDDLE]!];
    expect(middle).toBeCloseTo(10, 2);
    // By geometry: 35 mm on a frame of 36 mm by 27 mm.
    const [x, y] = [(18 * (WIDTH - 1)) / WIDTH, (13.5 * (HEIGHT - 1)) / HEIGHT];
    expect(corner).toBeCloseTo(10 / Math.hypot(1, x / 35, y / 35), 4);
  });

  it('are counted by decades', () => {
    const half = plateOf(
      () => 1,
      (x) => (x < WIDTH / 2 ? 2 : Infinity),
    );
    const { place, share, beyond } = depthHistogram(half, defaultLook());
    const at = share.findIndex((value) => value > 0);
    expect(share[at]).toBeCloseTo(0.5, 9);
    expect(Math.abs(place[at]! - Math.log10(2))).toBeLessThan(0.05);
    expect(beyond).toBeCloseTo(0.5, 9);
  });

  it('of a plate without depth are asked for in words', async () => {
    await expect(
      through(
        plateOf(() => 1, null),
        lensOf(8),
      ),
    ).rejects.toThrow(/test\.exr has no depth/);
    expect(
      depthWarnings(
        plateOf(() => 1, null),
        defaultLook(),
      ),
    ).toEqual(['there is no depth pass']);
    expect(distanceAt(plate(3), defaultLook(), -1, 0)).toBeUndefined();
  });

  it.each([
    [(): number => 4, {}, /every distance is the same/],
    [(x: number): number => (x % 9) + 1, {}, /only 9 distances: 8 bits band/],
    [(x: number, y: number): number => x - y * 3.7, {}, /negative/],
    [(x: number, y: number): number => (x * 97 + y) / 1e4, {}, /normalised or inverse/],
    [(x: number, y: number): number => (x * 97 + y) / 1e3, { reading: 'normalised' }, /beyond 0 to 1/],
    [(x: number, y: number): number => Math.min(60, 1 + x + y / 90), {}, /cut off at its greatest value/],
    [(x: number, y: number): number => Math.max(30, 1 + x + y / 90), {}, /cut off at its least value/],
    // Posts of two pixels before a wall, a mixed pixel at each side.
    [
      (x: number, y: number): number => [20, 20, 20, 20, 11, 2, 2, 2, 11][x % 9]! * (1 + y / 1e5),
      {},
      /anti-aliased/,
    ],
  ] as const)('that look wrong are spoken of (%#)', (fill, settings, message) => {
    const asked = look(...Object.entries(settings).map(([name, value]) => `${name}=${String(value)}`));
    expect(
      depthWarnings(
        plateOf(() => 1, fill),
        asked,
      ).join(),
    ).toMatch(message);
  });

  it('are not complained of when the sky stands alone and edges are hard', () => {
    const good = plateOf(
      () => 1,
      (x, y) => (y < 20 ? 10000 : x % 12 < 4 ? 2 + (y * 7 + x) / 997 : 9 + x / 89 + y / 9973),
    );
    expect(depthWarnings(good, defaultLook())).toEqual([]);
  });

  it('move the end of a normalised depth so that a known place lies where it is known to', () => {
    const ramp = plateOf(
      () => 1,
      (x) => x / 100,
    );
    const asked = look('reading=normalised', 'near=2', 'far=12');
    expect(shareAt(ramp, asked, 30, 0)).toBeCloseTo(0.3, 5);
    expect(shareAt(ramp, look(), 30, 0)).toBeUndefined();
    // At a share of 0.3 of the way: 0.7 near + 0.3 far, by the reading's definition.
    for (const end of ['near', 'far'] as const) {
      const moved = endThrough(end, 0.3, 6, asked.focus.depth)!;
      const { near, far }: { near: number; far: number } = { ...asked.focus.depth, [end]: moved };
      expect(0.7 * near + 0.3 * far).toBeCloseTo(6, 6);
    }
    expect(endThrough('far', 0, 6, asked.focus.depth)).toBeUndefined();
    expect(endThrough('near', 0.9, 1, asked.focus.depth)).toBeUndefined();
  });

  it('are shown as a picture, the nearest white', () => {
    const { width, height, pixels } = depthPicture(
      plateOf(
        () => 1,
        (x) => 1 + x,
      ),
      defaultLook(),
      48,
    );
    expect([width, height]).toEqual([48, 36]);
    expect(pixels[0]).toBeGreaterThan(240);
    expect(pixels[4 * 47]).toBeLessThan(10);
    expect(pixels[4 * 24]).toBeLessThan(pixels[4 * 10]!);
  });
});
