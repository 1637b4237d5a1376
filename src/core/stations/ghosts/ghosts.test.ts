import { addChannel, emptyPicture } from '../../image/picture';
import { serialRunner } from '../../jobs';
import { kernelsOn } from '../../kernels';
import { ContentCache } from '../../light/cache';
import { makePlate, type Plate } from '../../light/plate';
import type { StationContext } from '../../light/station';
import { evaluate } from '../../bench/evaluate';
import { evaluateRegion } from '../../bench/evaluate-region';
import { assignSetting, defaultLook, type Look } from '../../look/look';
import { applyRemedies, realityCheck } from '../../look/reality';
import { applyFlare } from '../../look/starting-point';
import { airlight } from './air';
import { ghostsOfLens } from './lens';
import { coneShare, fieldTangents, projectPoint } from './light-place';
import { resolveLights } from './lights';
import { mirrorCopy } from './mirror';
import { discIntegral, shaftProfile } from './shafts';
import { FLARES } from './starting-points';

const kernels = kernelsOn(serialRunner);
const [WIDTH, HEIGHT] = [320, 180];

interface Scene {
  light?: (x: number, y: number) => number;
  depth?: (x: number, y: number) => number;
}

function plate({ light = () => 0.1, depth = () => 20 }: Scene = {}): Plate {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const plane = (at: (x: number, y: number) => number): Float32Array =>
    Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => at(i % WIDTH, Math.floor(i / WIDTH)));
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', plane(light));
  addChannel(picture, 'Z', 'float', plane(depth));
  return makePlate('p', 'test.exr', picture);
}

const lookOf = (...settings: string[]): Look =>
  ['ghosts.on=true', 'camera.focalLength=50', ...settings].reduce(assignSetting, defaultLook());

const contextOf = (one: Plate, more: Partial<StationContext> = {}): StationContext => ({
  plate: one,
  cache: new ContentCache(1e9),
  kernels,
  ...more,
});

const behind = async (look: Look, one: Plate, scale = 1, more: Partial<StationContext> = {}) =>
  (await evaluate(look, contextOf(one, more), { scale })).light;

const sum = (plane: Float32Array): number => plane.reduce((all, value) => all + value, 0);
const LAMP = ['ghosts.lights[0].x=0.7', 'ghosts.lights[0].y=0.35', 'ghosts.lights[0].gain=100000'];

describe('lights in space', () => {
  it('stand where a pinhole camera sees them: x = f X / -Z', () => {
    const { camera } = lookOf('camera.sensorWidth=36');
    const place = projectPoint({ px: 2, py: 1, pz: -10 }, camera, 16 / 9)!;
    // 50 mm and 36 mm: 2 m at 10 m lie 10 mm off the axis, 10 / 36 of the width.
    expect(place.x).toBeCloseTo(0.5 + 10 / 36, 10);
    expect(place.y).toBeCloseTo(0.5 - 5 / (36 / (16 / 9)), 10);
    expect(projectPoint({ px: 0, py: 0, pz: 3 }, camera, 1)).toBeUndefined();
    const { x, y } = fieldTangents(place, camera, 16 / 9);
    expect(x).toBeCloseTo(0.2, 10);
    expect(y).toBeCloseTo(-0.1, 10);
  });

  it('that are directed shine into their cone alone, and fade at its edge', () => {
    const share = (turn: number, cone = 60): number => coneShare({ cone, turn, tilt: 0 });
    expect(share(0)).toBe(1);
    expect(share(23)).toBe(1);
    expect(share(27)).toBeGreaterThan(0.3);
    expect(share(27)).toBeLessThan(0.7);
    expect(share(30)).toBeCloseTo(0, 6);
    expect(share(180, 360)).toBe(1);
    expect(coneShare({ cone: 60, turn: 20, tilt: 25 })).toBeLessThan(0.1);
  });
});

describe('lights found', () => {
  const lamps = plate({
    light: (x, y) => (Math.hypot(x - 80, y - 50) < 3 ? 200 : Math.hypot(x - 240, y - 120) < 2 ? 90 : 0.2),
  });

  it('are the brightest regions, with place, light, size and distance', async () => {
    const [first, second, ...more] = await resolveLights(
      lookOf('ghosts.find.on=true', 'ghosts.find.count=2'),
      contextOf(lamps),
    );
    expect(more).toEqual([]);
    expect(first!.x * WIDTH).toBeCloseTo(80.5, 1);
    expect(first!.y * HEIGHT).toBeCloseTo(50.5, 1);
    // 25 pixels lie within 3 of the middle.
    expect(first!.flux[0]).toBeCloseTo(25 * 200, 0);
    expect(first!.size).toBeCloseTo((2 * Math.sqrt(25 / Math.PI)) / HEIGHT, 5);
    expect(first!.distance).toBe(20);
    expect(second!.x * WIDTH).toBeCloseTo(240.5, 1);
  });

  it('shine less as they come down to the threshold, and do not pop', async () => {
    const light = async (threshold: number): Promise<number> => {
      const [found] = await resolveLights(
        lookOf('ghosts.find.on=true', `ghosts.find.threshold=${threshold}`),
        contextOf(lamps),
      );
      return found?.flux[0] ?? 0;
    };
    const lights = [];
    for (const threshold of [99, 140, 170, 190, 199]) lights.push(await light(threshold));
    expect(lights[0]).toBeCloseTo(5000, 0);
    for (let k = 1; k < lights.length; k++) expect(lights[k]).toBeLessThan(lights[k - 1]!);
    expect(lights.at(-1)).toBeLessThan(20);
  });
});

describe('a light that something nearer covers', () => {
  const wall = plate({ depth: (x) => (x < 160 ? 4 : 50) });
  const visibility = async (x: number, ...more: string[]): Promise<number> => {
    const look = lookOf(...LAMP, 'ghosts.lights[0].distance=20', 'ghosts.lights[0].size=0.05', ...more);
    const moved = assignSetting(look, `ghosts.lights[0].x=${x}`);
    return (await resolveLights(moved, contextOf(wall)))[0]!.visibility;
  };

  it('loses its flare bit by bit', async () => {
    const seen = [];
    for (let px = 150; px <= 170; px += 2) seen.push(await visibility(px / WIDTH));
    expect(seen[0]).toBe(0);
    expect(seen.at(-1)).toBe(1);
    for (let k = 1; k < seen.length; k++) {
      expect(seen[k]).toBeGreaterThanOrEqual(seen[k - 1]!);
      expect(seen[k]! - seen[k - 1]!).toBeLessThan(0.3);
    }
    // Half of the disc lies behind the edge.
    expect(await visibility(0.5)).toBeCloseTo(0.5, 1);
  });

  it('is seen whole outside the picture, nearer than the wall, or if nothing is to cover it', async () => {
    expect(await visibility(-0.3)).toBe(1);
    expect(await visibility(0.2, 'ghosts.lights[0].distance=3')).toBe(1);
    expect(await visibility(0.2, 'ghosts.lights[0].coveredBy=nothing')).toBe(1);
  });

  it('or where the picture is dark, if that is to cover it', async () => {
    const lamp = plate({ light: (x) => (x > 200 ? 100 : 0.1) });
    const seen = async (x: number): Promise<number> =>
      (
        await resolveLights(
          lookOf(`ghosts.lights[0].x=${x}`, 'ghosts.lights[0].coveredBy=picture'),
          contextOf(lamp),
        )
      )[0]!.visibility;
    expect(await seen(0.8)).toBe(1);
    expect(await seen(0.3)).toBe(0);
  });
});

describe('ghosts on the bench', () => {
  const dark = plate();

  it('are nothing without a light, to the bit', async () => {
    const before = await behind(defaultLook(), dark);
    for (const settings of [
      [],
      ['ghosts.find.on=true'],
      ['ghosts.lights[0].on=false'],
      [...LAMP, 'ghosts.amount=0'],
    ]) {
      const after = await behind(lookOf(...settings), dark);
      after.total.forEach((plane, c) => expect(plane).toEqual(before.total[c]));
    }
  });

  it('have the light that the surfaces reflect: sums go with amount, gain, pair and visibility', async () => {
    const added = async (...more: string[]): Promise<number> => {
      const { light, accounts } = await evaluate(
        lookOf(...LAMP, 'ghosts.coating=bare', 'ghosts.count=3', ...more),
        contextOf(dark),
        { scale: 1 },
      );
      const made = sum(light.separations[0]!.rgb[1]);
      expect(accounts.ghosts!.gain).toBeCloseTo(1 + accounts.ghosts!.moved, 12);
      return made;
    };
    const one = await added();
    expect(one).toBeGreaterThan(0);
    expect((await added('ghosts.amount=3')) / one).toBeCloseTo(3, 4);
    expect((await added('ghosts.lights[0].gain=200000')) / one).toBeCloseTo(2, 4);
    expect((await added('ghosts.lights[0].flare=0.5')) / one).toBeCloseTo(0.5, 4);
    // White stays white in sum: a tint changes colour, not brightness.
    const tinted = await added('ghosts.lights[0].tint=#ff8040');
    expect(tinted / one).toBeLessThan(1);
  });

  it('are soloed, switched off and weighted by name', async () => {
    const look = lookOf(...LAMP, 'ghosts.coating=bare', 'ghosts.count=3');
    const made = async (...more: string[]): Promise<number> =>
      sum((await behind(more.reduce(assignSetting, look), dark)).total[1]) - 0.1 * WIDTH * HEIGHT;
    const context = contextOf(dark);
    const { name } = (await ghostsOfLens(look, 20, context))[0]!;
    const all = await made();
    const solo = await made(`ghosts.pairs.${name}.solo=true`);
    expect(solo).toBeLessThan(all);
    expect((await made(`ghosts.pairs.${name}.solo=true`, `ghosts.pairs.${name}.gain=2`)) / solo).toBeCloseTo(
      2,
      2,
    );
    expect(Math.abs((await made(`ghosts.pairs.${name}.on=false`)) - all + solo) / all).toBeLessThan(0.01);
    expect(await made('ghosts.maxSize=0')).toBeCloseTo(0, 0);
  });

  it('look the same at half the size', async () => {
    const look = lookOf(...LAMP, 'ghosts.coating=bare');
    const [full, half] = [await behind(look, dark), await behind(look, dark, 0.5)];
    const [a, b] = [full.separations[0]!.rgb[1], half.separations[0]!.rgb[1]];
    const most = Math.max(...b);
    let worst = 0;
    for (let y = 0; y < 90; y++)
      for (let x = 0; x < 160; x++) {
        const at = 2 * y * WIDTH + 2 * x;
        const mean = (a[at]! + a[at + 1]! + a[at + WIDTH]! + a[at + WIDTH + 1]!) / 4;
        worst = Math.max(worst, Math.abs(mean - b[y * 160 + x]!) / most);
      }
    expect(worst).toBeLessThan(0.12);
  });

  it('come to a region by itself as to the whole', async () => {
    const look = lookOf(...LAMP, 'ghosts.coating=bare');
    const region = { x: 40, y: 60, width: 120, height: 80 };
    const whole = await behind(look, dark);
    const part = await evaluateRegion(look, contextOf(dark), region);
    for (let y = 0; y < region.height; y += 7)
      for (let x = 0; x < region.width; x += 5) {
        const there = whole.total[1][(y + region.y) * WIDTH + x + region.x]!;
        expect(Math.abs(part.total[1][y * region.width + x]! - there)).toBeLessThan(2e-3 * (there + 0.01));
      }
  });

  it('are separations, one for all lights or one a light, that add up to the final', async () => {
    const two = [...LAMP, 'ghosts.lights[1].x=0.2', 'ghosts.lights[1].gain=5000'];
    const names = async (...more: string[]): Promise<string[]> => {
      const light = await behind(lookOf(...two, 'ghosts.shafts.amount=0.1', ...more), dark, 1, {
        separate: true,
      });
      const all = light.separations.reduce(
        (plane, { rgb }) => plane.map((v, i) => Math.fround(v + rgb[1][i]!)),
        light.base[1],
      );
      expect(all).toEqual(light.total[1]);
      return light.separations.map(({ name }) => name);
    };
    expect(await names()).toEqual(['ghosts.flare', 'ghosts.shafts']);
    expect(await names('ghosts.perLight=true')).toEqual([
      'ghosts.lights[0]',
      'ghosts.lights[1]',
      'ghosts.shafts',
    ]);
  });

  it('are told of when too many lights have them, and the faintest give way', () => {
    const lights = [0, 1, 2, 3, 4].map((k) => `ghosts.lights[${k}].gain=${1000 + 10 * k}`);
    const look = lookOf(...lights);
    const [finding, ...more] = realityCheck(look).filter(({ path }) => path.startsWith('ghosts'));
    expect(more).toEqual([]);
    expect(finding).toMatchObject({ value: '5 lights', band: 'up to 3', station: 'ghosts' });
    const mended = applyRemedies(look, [finding!]);
    expect(mended.ghosts.lights.map(({ flare }) => flare)).toEqual([0, 0, 1, 1, 1]);
    expect(realityCheck(mended).filter(({ path }) => path.startsWith('ghosts'))).toEqual([]);
    // Lights that only feed the veil are not counted.
    const feeding = lights.map((_, k) => `ghosts.lights[${k}].flare=${k < 2 ? 1 : 0}`);
    expect(
      realityCheck(lookOf(...lights, ...feeding)).filter(({ path }) => path.startsWith('ghosts')),
    ).toEqual([]);
  });

  it('begin from flares within the bands', () => {
    for (const point of FLARES) {
      const look = applyFlare(lookOf(...LAMP), point);
      expect(look.ghosts.on).toBe(true);
      expect(realityCheck(look).filter(({ path }) => path.startsWith('ghosts'))).toEqual([]);
    }
  });
});

describe('a light that feeds the veil', () => {
  it('throws its glow from outside the picture, and none without a weight', async () => {
    const look = lookOf(
      'veil.on=true',
      'veil.bloom.amount=0.02',
      'ghosts.amount=0',
      'ghosts.lights[0].x=1.2',
      'ghosts.lights[0].y=0.5',
      'ghosts.lights[0].gain=1000000',
    );
    const none = await behind(look, plate());
    const lit = await behind(assignSetting(look, 'ghosts.lights[0].veil=1'), plate());
    const glow = (x: number): number => lit.total[1][90 * WIDTH + x]! - none.total[1][90 * WIDTH + x]!;
    expect(glow(319)).toBeGreaterThan(0);
    // The inverse square: three times as far from the light, a ninth.
    expect(glow(384 - 3 * 66) / glow(384 - 66)).toBeCloseTo(1 / 9, 1);
    expect(glow(100)).toBeGreaterThan(0);
  });
});

describe('shafts, glow in air and mirrored light', () => {
  it('have all their light when nothing is in the way', () => {
    const profile = shaftProfile(80, 1.5);
    expect(discIntegral(profile, 80, 1.5)).toBeCloseTo(1, 6);
    // They have faded to about a third at the length: exp(-1) besides one over the distance.
    expect((profile(80) * 80) / (profile(0.001 + 20) * 20)).toBeCloseTo(Math.exp(-0.75), 2);
  });

  it('follow the integral over the line of sight', () => {
    // Numeric integral of 1 / ((z - 1)^2 + t^2) from 0 to d (single scattering, Sun et al. 2005).
    for (const t of [0.05, 0.3, 2])
      for (const d of [0.5, 1, 1.4, 6]) {
        const steps = 20_000;
        let integral = 0;
        for (let k = 0; k < steps; k++) {
          const z = ((k + 0.5) * d) / steps;
          integral += d / steps / ((z - 1) ** 2 + t * t);
        }
        expect(airlight(t, d) / integral).toBeCloseTo(1, 3);
      }
    expect(airlight(0.3, Infinity)).toBeCloseTo((Math.PI / 2 + Math.atan(1 / 0.3)) / 0.3, 9);
  });

  const post = plate({ depth: (x, y) => (Math.abs(x - 200) < 4 && y < 120 ? 3 : 60) });
  const lamp = [
    'ghosts.amount=0',
    'ghosts.lights[0].x=0.5',
    'ghosts.lights[0].y=0.35',
    'ghosts.lights[0].gain=50000',
    'ghosts.lights[0].distance=20',
  ];

  it('shafts are cut behind what is in front of the light, and whole elsewhere', async () => {
    const look = lookOf(
      ...lamp,
      'ghosts.shafts.amount=0.5',
      'ghosts.shafts.softness=0.2',
      'ghosts.shafts.decay=0',
    );
    const { separations } = await behind(look, post);
    const [shafts] = separations[0]!.rgb;
    const at = (x: number, y: number): number => shafts![y * WIDTH + x]!;
    expect(at(260, 63) / at(60, 63)).toBeLessThan(0.05);
    expect(at(200, 63) / at(120, 63)).toBeLessThan(0.05);
    expect(at(160, 150)).toBeGreaterThan(0);
  });

  it('shafts have no steps or rings', async () => {
    const look = lookOf(...lamp, 'ghosts.shafts.amount=0.5', 'ghosts.lights[0].x=-0.2');
    const { separations } = await behind(look, plate());
    const row = separations[0]!.rgb[0].subarray(63 * WIDTH, 64 * WIDTH);
    for (let x = 1; x < WIDTH - 1; x++)
      expect(Math.abs(row[x - 1]! - 2 * row[x]! + row[x + 1]!) / row[x]!).toBeLessThan(1e-3);
  });

  it('the glow in air lies behind what is near and before what is far', async () => {
    const { separations } = await behind(lookOf(...lamp, 'ghosts.air.amount=0.5'), post);
    const [glow] = separations[0]!.rgb;
    expect(glow![63 * WIDTH + 200]! / glow![63 * WIDTH + 120]!).toBeLessThan(0.2);
  });

  it('a mirrored copy keeps its light, turned about the middle, and black beyond', () => {
    const feed = [0, 1, 2].map(() => {
      const plane = new Float32Array(WIDTH * HEIGHT);
      plane[60 * WIDTH + 100] = 500;
      return plane;
    }) as unknown as Parameters<typeof mirrorCopy>[0];
    const frame = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
    const [settings] = lookOf(
      'ghosts.mirror[0].amount=0.1',
      'ghosts.mirror[0].blurX=0.02',
      'ghosts.mirror[0].blurY=0.02',
    ).ghosts.mirror;
    const [copy] = mirrorCopy(feed, WIDTH, HEIGHT, frame, settings!);
    let [all, x, y] = [0, 0, 0];
    copy.forEach((value, i) => {
      all += value;
      x += value * ((i % WIDTH) + 0.5);
      y += value * (Math.floor(i / WIDTH) + 0.5);
    });
    expect(all).toBeCloseTo(50, 0);
    // A soft copy is made from larger pixels, so that its middle may lie half of a small one off.
    expect(Math.abs(x / all - (WIDTH - 100.5))).toBeLessThan(0.6);
    expect(Math.abs(y / all - (HEIGHT - 60.5))).toBeLessThan(0.6);
    expect(copy[0]).toBe(0);
  });
});
