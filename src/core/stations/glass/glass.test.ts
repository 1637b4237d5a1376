import { evaluate, type Evaluation } from '../../bench/evaluate';
import { evaluateRegion } from '../../bench/evaluate-region';
import { addChannel, emptyPicture, type Picture } from '../../image/picture';
import { addPlanes, type Rgb } from '../../image/rgb';
import { serialRunner } from '../../jobs';
import { kernelsOn } from '../../kernels';
import { ContentCache } from '../../light/cache';
import { makePlate, type Plate } from '../../light/plate';
import { assignSetting, defaultLook, type Look } from '../../look/look';
import { LENSES } from './starting-points';
import { realityCheck } from '../../look/reality';
import { applyGlass } from '../../look/starting-point';
import { glassQueries } from './queries';
import { seenPlaces } from './place';
import { bentAside } from './scene';

const kernels = kernelsOn(serialRunner);
type Paint = (x: number, y: number, c: number) => number;

function plateOf(width: number, height: number, layers: Record<string, Paint>, id = 'p'): Plate {
  const picture: Picture = emptyPicture(width, height);
  for (const [name, paint] of Object.entries(layers)) {
    const channels =
      name.includes('.') || name === 'Z' ? [name] : ['R', 'G', 'B'].map((c) => (name ? `${name}.${c}` : c));
    channels.forEach((channel, c) => {
      const samples = Float32Array.from({ length: width * height }, (_, i) =>
        paint(i % width, Math.floor(i / width), c),
      );
      addChannel(picture, channel, 'float', samples);
    });
  }
  return makePlate(id, 'test.exr', picture);
}

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());
const contextFor = (plate: Plate) => ({ plate, cache: new ContentCache(1e9), kernels });
const run = (plate: Plate, look: Look, more: object = {}, scale = 1): Promise<Evaluation> =>
  evaluate(look, { ...contextFor(plate), ...more }, { scale });

/** Mean column of a channel, from a row range. */
function centroid(plane: Float32Array, width: number, row: number): number {
  let [sum, at] = [0, 0];
  for (let x = 0; x < width; x++) {
    sum += plane[row * width + x]!;
    at += x * plane[row * width + x]!;
  }
  return at / sum;
}

describe('lateral colour', () => {
  const [W, H] = [240, 96];
  // A vertical line near the right edge, on the axis' height: its images lie apart along the row.
  const X = 200;
  const line = plateOf(W, H, { '': (x) => (x === X ? 4 : 0.02) });
  const half = Math.hypot(W, H) / 2;

  it('parts red from blue by as much as is asked for, red outside', async () => {
    const { light } = await run(line, lookOf('glass.lateral=0.05'));
    const row = H / 2;
    const at = light.total.map((plane) =>
      centroid(
        plane.map((v) => v - 0.02),
        W,
        row,
      ),
    );
    expect(at[0]!).toBeGreaterThan(at[1]! + 0.5);
    expect(at[1]!).toBeGreaterThan(at[2]! + 0.5);
    // Source: F and C lie 0.05 heights apart in the corner, and in proportion here. The mean wavelengths of red and blue light
    // under D65 (about 605 and 460 nm) lie by Cauchy's formula about 1.3 to 1.5 times as far apart.
    const asked = 0.05 * H * ((X + 0.5 - W / 2) / half);
    const ratio = (at[0]! - at[2]!) / asked;
    expect(ratio).toBeGreaterThan(0.9);
    expect(ratio).toBeLessThan(1.5);
  });

  it('shows no copies even where it is absurd, and white stays white in sum', async () => {
    const { light } = await run(line, lookOf('glass.lateral=0.1'));
    const row = light.total[1].subarray((H / 2) * W, (H / 2 + 1) * W);
    // One hill: it rises to its top and falls from there.
    const top = row.indexOf(Math.max(...row));
    for (let x = top + 1; x < W - 8 && row[x]! > 0.06; x++) expect(row[x]!).toBeLessThan(row[x - 1]! + 0.02);
    for (let x = top - 1; x > 0 && row[x]! > 0.06; x--) expect(row[x]!).toBeLessThan(row[x + 1]! + 0.02);
    const sums = light.total.map((plane) => plane.reduce((sum, value) => sum + value - 0.02, 0));
    // Each wavelength's picture is a little larger or smaller, its line as much wider.
    for (const sum of sums) expect(Math.abs(sum / sums[1]! - 1)).toBeLessThan(0.1);
  });

  it('leaves the middle, turns its sides with its sign, and is nothing by default', async () => {
    const still = plateOf(W, H, { '': (x, y) => (x === 120 && y === 48 ? 9 : 0.1) });
    const { light } = await run(still, lookOf('glass.lateral=0.002'));
    expect(light.total[0][48 * W + 120]!).toBeGreaterThan(8.8);
    const { light: turned } = await run(line, lookOf('glass.lateral=-0.05'));
    const at = turned.total.map((plane) =>
      centroid(
        plane.map((v) => v - 0.02),
        W,
        H / 2,
      ),
    );
    expect(at[0]!).toBeLessThan(at[2]!);
    const { light: bare } = await run(line, defaultLook());
    bare.total.forEach((plane, c) => expect(plane).toBe(line.picture.channels.get('RGB'[c]!)!.samples));
  });

  it('follows the Abbe number when the glass drives it', async () => {
    const spread = async (...settings: string[]): Promise<number> => {
      const { between } = await glassQueries.glassCurves(lookOf(...settings), {}, {
        plate: () => line,
        cache: new ContentCache(1e8),
      } as never);
      return between.lateral;
    };
    expect(await spread('glass.lateral=0.0007')).toBeCloseTo(0.0007, 9);
    const [crown, flint] = [
      await spread('glass.drive=glass', 'glass.abbe=60'),
      await spread('glass.drive=glass', 'glass.abbe=30'),
    ];
    expect(flint / crown).toBeCloseTo(2, 6);
    expect(Math.abs(await spread('glass.fromLens=true'))).toBeGreaterThan(1e-5);
    expect(await spread('glass.fromLens=true', 'glass.bend.lateral=0')).toBeCloseTo(0, 12);
  });
});

describe('distortion and vignetting', () => {
  const blot = plateOf(161, 91, { '': (x, y) => Math.exp(-((x - 140) ** 2 + (y - 45) ** 2) / 12) });

  // Source: Brown 1966: a point at r comes to lie at r (1 + k1 r^2), r in half diagonals.
  it('move points by the law', async () => {
    const { light } = await run(blot, lookOf('glass.k1=-0.2'));
    const half = Math.hypot(161, 91) / 2;
    const from = 140.5 - 80.5;
    const wanted = 80.5 + from * (1 - 0.2 * (from / half) ** 2);
    const row = light.total[1].subarray(45 * 161, 46 * 161);
    const top = row.indexOf(Math.max(...row));
    // The top between pixels, by the parabola through three.
    const [a, b, c] = [row[top - 1]!, row[top]!, row[top + 1]!].map(Math.log) as [number, number, number];
    expect(Math.abs(top + 0.5 + (a - c) / (2 * (a - 2 * b + c)) - wanted)).toBeLessThan(0.05);
  });

  it.each([
    ['k1=-0.2', 'k2=0.05', 'fill=true'],
    ['k1=0.15', 'k2=0', 'fill=false'],
    ['shake.x=0.08', 'shake.y=-0.05', 'shake.roll=7'],
    ['k1=-0.1', 'shake.roll=-4', 'shake.enlarge=0.1'],
  ])('tell where a place of the plate is seen, and back (%s, %s, %s)', async (...settings) => {
    const look = lookOf(...settings.map((setting) => `glass.${setting}`));
    const places = seenPlaces(look, { width: 161, height: 91 })!;
    const spot = plateOf(161, 91, { '': (x, y) => Math.exp(-((x - 120) ** 2 + (y - 65) ** 2) / 12) });
    const { light } = await run(spot, look);
    const top = light.total[1].indexOf(Math.max(...light.total[1]));
    const [u, v] = places.toSeen([120.5 / 161, 65.5 / 91]);
    expect(Math.abs((top % 161) + 0.5 - 161 * u)).toBeLessThan(0.6);
    expect(Math.abs(Math.floor(top / 161) + 0.5 - 91 * v)).toBeLessThan(0.6);
    for (const place of [
      [0.1, 0.9],
      [0.5, 0.5],
      [0.97, 0.4],
    ] as const)
      places.toPlate(places.toSeen(place)).forEach((value, c) => expect(value).toBeCloseTo(place[c]!, 9));
    expect(seenPlaces(defaultLook(), { width: 161, height: 91 })).toBeUndefined();
  });

  // Source: a turn of the picture about its middle by a quarter of a right angle, and a shift, by hand.
  it('move and turn the picture as a camera that shakes, and bring overscan into the frame', async () => {
    const dot = (x: number, y: number) =>
      plateOf(161, 91, { '': (u, v) => Math.exp(-((u - x) ** 2 + (v - y) ** 2) / 12) });
    const topOf = async (plate: Plate, ...settings: string[]): Promise<number[]> => {
      const { light } = await run(plate, lookOf(...settings.map((setting) => `glass.shake.${setting}`)));
      const top = light.total[1].indexOf(Math.max(...light.total[1]));
      return [top % 161, Math.floor(top / 161)];
    };
    expect(await topOf(dot(100, 45), 'x=0.1', 'y=0.2')).toEqual([109, 63]);
    // Clockwise: what is to the right of the middle goes down.
    expect(await topOf(dot(110, 45), 'roll=30')).toEqual([106, 60]);
    expect(await topOf(dot(110, 45), 'roll=30', 'enlarge=0.2', 'x=-0.1')).toEqual([102, 63]);

    const wide = plateOf(161, 91, { '': (x) => (x < 20 ? 5 : 0.2) });
    const framed = { ...wide, frame: { x: 20, y: 10, width: 121, height: 71 } };
    const { light } = await run(framed, lookOf('glass.shake.x=0.1'));
    expect(light.total[1][45 * 161 + 22]).toBeCloseTo(5, 1);
    const { light: still } = await run(framed, lookOf());
    expect(still.total[1][45 * 161 + 22]).toBeCloseTo(0.2, 6);
  });

  it('darken corners by the fourth power of the cosine, and the same in every part of the light', async () => {
    const flat = plateOf(96, 54, { '': () => 0.5 });
    const { light } = await run(flat, lookOf('glass.vignette.natural=1', 'camera.focalLength=24'));
    const radius = (Math.hypot(47.5, 26.5) * 36) / 96;
    // Source: the cosine of the field angle to the fourth (textbook).
    const wanted = Math.cos(Math.atan(radius / 24)) ** 4;
    expect(light.total[0][0]! / 0.5).toBeCloseTo(wanted, 3);
    expect(light.total[0][27 * 96 + 48]! / 0.5).toBeCloseTo(1, 3);
  });

  it('of the barrel fades as the lens is stopped down', async () => {
    const flat = plateOf(96, 54, { '': () => 1 });
    const corner = async (fStop: number): Promise<number> =>
      (await run(flat, lookOf('glass.vignette.optical=0.8', `camera.fStop=${fStop}`))).light.total[1][0]!;
    expect(await corner(2)).toBeLessThan(0.6);
    expect(await corner(4)).toBeGreaterThan(await corner(2.8));
    expect(await corner(8)).toBeGreaterThan(0.95);
    expect(await corner(11)).toBe(1);
  });

  it('are linear: plate and separations sum to the final, to the bit', async () => {
    const lamps = plateOf(80, 60, { '': (x, y) => ((x - 60) ** 2 + (y - 12) ** 2 < 9 ? 300 : 0.1) });
    const look = lookOf(
      'glass.lateral=0.01',
      'glass.k1=0.1',
      'glass.vignette.natural=1',
      'veil.bloom.amount=0.1',
      'veil.spikes.amount=0.1',
    );
    const { light } = await run(lamps, look, { separate: true, draft: true });
    expect(light.separations.map(({ name }) => name)).toEqual(['veil.bloom', 'veil.spikes']);
    light.total.forEach((plane, c) => {
      const sum = light.separations.reduce((all, { rgb }) => addPlanes(all, rgb[c]!), light.base[c]!);
      expect(plane).toEqual(sum);
    });
    const { light: whole } = await run(lamps, look, { totalOnly: true, draft: true });
    whole.total.forEach((plane, c) =>
      plane.forEach((value, i) =>
        expect(Math.abs(value - light.total[c]![i]!)).toBeLessThan(2e-3 * (1 + value)),
      ),
    );
  });

  it.each([
    ['still', []],
    [
      'shaken',
      ['glass.shake.x=0.05', 'glass.shake.y=-0.08', 'glass.shake.roll=2', 'glass.shake.enlarge=0.05'],
    ],
  ])('are the same at half size and in a region, %s', async (_, shake) => {
    const smooth = plateOf(192, 128, { '': (x, y, c) => 1 + 0.5 * Math.sin(x / 9 + c) * Math.cos(y / 11) });
    const look = lookOf(
      'glass.lateral=0.01',
      'glass.k1=0.08',
      'glass.vignette.amount=0.6',
      'glass.vignette.natural=1',
      ...shake,
    );
    const [full, small] = [(await run(smooth, look)).light, (await run(smooth, look, {}, 0.5)).light];
    for (let y = 8; y < 56; y += 5)
      for (let x = 8; x < 88; x += 7) {
        const mean = [0, 1, 192, 193].reduce(
          (sum, k) => sum + full.total[0][2 * y * 192 + 2 * x + k]! / 4,
          0,
        );
        expect(Math.abs(small.total[0][y * 96 + x]! - mean)).toBeLessThan(0.02);
      }
    const region = { x: 120, y: 70, width: 40, height: 30 };
    const part = await evaluateRegion(look, contextFor(smooth), region);
    for (let y = 0; y < 30; y += 4)
      for (let x = 0; x < 40; x += 3)
        expect(Math.abs(part.total[2][y * 40 + x]! - full.total[2][(y + 70) * 192 + x + 120]!)).toBeLessThan(
          2e-3,
        );
  });

  it('by a traced lens dims the corners as its edges do', async () => {
    const flat = plateOf(96, 64, { '': () => 1 });
    const corner = async (...more: string[]): Promise<number> =>
      (await run(flat, lookOf('glass.fromLens=true', 'camera.fStop=2', ...more))).light.total[1][0]!;
    expect(await corner()).toBeLessThan(0.7);
    expect(await corner('glass.bend.vignette=0')).toBeCloseTo(1, 5);
    expect(await corner('camera.focalLength=85')).toBeGreaterThan(await corner());
  });
});

describe('axial colour', () => {
  const [W, H] = [96, 64];
  /** An edge at a distance, focused elsewhere: mean brightness of a channel just outside it. */
  const fringe = async (distance: number): Promise<number> => {
    const plate = plateOf(W, H, { '': (x) => (x < W / 2 ? 1 : 0), Z: () => distance }, `d${distance}`);
    const look = lookOf(
      'focus.on=true',
      'camera.focalLength=85',
      'camera.fStop=1.4',
      'camera.focusDistance=4',
      'glass.axial=0.005',
    );
    const { light } = await run(plate, look);
    const at = (plane: Float32Array): number => {
      let sum = 0;
      for (let x = W / 2; x < W - 4; x++) sum += plane[(H / 2) * W + x]!;
      return sum;
    };
    return at(light.total[0]) - at(light.total[2]);
  };

  // Source: blue is focused nearer than red by an uncorrected lens, so that behind the focus blue is spread wider and before
  // it red (Born & Wolf 1959, 4.7; common practice: fringes change sides).
  it('fringes in blue behind the focus and in red before it', async () => {
    expect(await fringe(12)).toBeLessThan(-0.02);
    expect(await fringe(2)).toBeGreaterThan(0.02);
  });

  it('keeps white white where nothing is out of focus by itself', async () => {
    const plate = plateOf(W, H, { '': () => 0.6, Z: () => 4 });
    const { light } = await run(plate, lookOf('focus.on=true', 'glass.axial=0.01', 'camera.focusDistance=4'));
    for (const plane of light.total) for (const value of plane) expect(value).toBeCloseTo(0.6, 4);
  });
});

describe('glass in the scene', () => {
  const [W, H] = [96, 72];
  const ball = (x: number, y: number): [number, number, boolean] => {
    const [u, v] = [(x - 47.5) / 24, (y - 35.5) / 24];
    return [u, v, u * u + v * v < 1];
  };
  const plate = plateOf(W, H, {
    '': (x, y) => (ball(x, y)[2] ? 0.1 + (x % 8 < 2 ? 0.8 : 0) : 0.3),
    transmission: (x, y) => (ball(x, y)[2] ? (x % 8 < 2 ? 0.8 : 0) : 0),
    'matte.ball': (x, y) => (ball(x, y)[2] ? 1 : 0),
    'N.X': (x, y) => (ball(x, y)[2] ? ball(x, y)[0] : 0),
    'N.Y': (x, y) => (ball(x, y)[2] ? -ball(x, y)[1] : 0),
    'N.Z': (x, y) => (ball(x, y)[2] ? Math.sqrt(1 - ball(x, y)[0] ** 2 - ball(x, y)[1] ** 2) : 1),
  });
  const glass = ['glass.scene.on=true', 'glass.scene.matte=matte.ball'];
  const parted = async (...settings: string[]): Promise<{ rgb: Rgb; total: Rgb }> => {
    const { light } = await run(plate, lookOf(...glass, ...settings));
    return { rgb: light.separations[0]!.rgb, total: light.total };
  };
  const colour = ({ rgb }: { rgb: Rgb }): number =>
    rgb[0].reduce((sum, value, i) => sum + Math.abs(value - rgb[2][i]!), 0);

  // Source: Snell 1621: with an index of 1 nothing is bent; at 45 degrees and 1.5 a ray turns by 45 - asin(sin 45 / 1.5).
  it('bends by the law of refraction', () => {
    expect(bentAside(1, 0.7)).toBeCloseTo(0, 12);
    const turned = Math.PI / 4 - Math.asin(Math.SQRT1_2 / 1.5);
    expect(Math.abs(bentAside(1.5, Math.SQRT1_2))).toBeCloseTo(Math.tan(turned), 9);
  });

  it('parts colours within its matte and changes nothing outside', async () => {
    const made = await parted('glass.scene.abbe=20');
    expect(colour(made)).toBeGreaterThan(5);
    for (let i = 0; i < W * H; i++)
      if (!ball(i % W, Math.floor(i / W))[2]) for (const plane of made.rgb) expect(plane[i]).toBe(0);
  });

  it('spreads more the lower the Abbe number and the longer the path', async () => {
    const [v55, v25, v5] = [
      colour(await parted('glass.scene.abbe=55')),
      colour(await parted('glass.scene.abbe=25')),
      colour(await parted('glass.scene.abbe=5')),
    ];
    expect(v25).toBeGreaterThan(1.3 * v55);
    expect(v5).toBeGreaterThan(1.3 * v25);
    expect(colour(await parted('glass.scene.amount=0.1'))).toBeLessThan(colour(await parted()));
  });

  it('of several pieces adds up, each by its matte', async () => {
    const { light } = await run(
      plate,
      lookOf(...glass, 'glass.pieces[0].on=true', 'glass.pieces[0].matte=matte.ball'),
    );
    const [one] = (await parted()).rgb;
    light.separations[0]!.rgb[0].forEach((value, i) => expect(value).toBeCloseTo(2 * one[i]!, 5));
  });

  it.each([
    ['glass.scene.matte=', /no matte/],
    ['glass.scene.matte=matte.boat', /there is no mask matte.boat/],
    ['glass.scene.pass=refraction', /no pass refraction/],
    ['glass.scene.normals=Q', /no normals called Q/],
  ])('says what is missing: %s', async (setting, words) => {
    await expect(run(plate, lookOf(...glass, setting))).rejects.toThrow(words);
  });
});

describe('starting points of the glass', () => {
  it('lie within what real lenses do, and leave glass in the scene', () => {
    const look = lookOf('glass.scene.on=true', 'focus.on=true');
    for (const point of LENSES) {
      const made = applyGlass(look, point);
      expect(realityCheck(made).filter(({ station }) => station === 'glass')).toEqual([]);
      expect(made.glass.scene.on).toBe(true);
      expect(made.glass).not.toEqual(look.glass);
    }
    expect(realityCheck(lookOf('glass.lateral=0.02')).map(({ path }) => path)).toContain('glass.lateral');
    expect(realityCheck(lookOf('glass.scene.abbe=3'))).toEqual([]);
  });
});
