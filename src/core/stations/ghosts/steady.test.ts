import { evaluate } from '../../bench/evaluate';
import { luminance } from '../../color/primaries';
import { addChannel, emptyPicture } from '../../image/picture';
import { serialRunner } from '../../jobs';
import { kernelsOn } from '../../kernels';
import { ContentCache } from '../../light/cache';
import { makePlate, type Plate } from '../../light/plate';
import type { NearbyLights, ResolvedLight } from '../../light/resolved-light';
import type { StationContext } from '../../light/station';
import { assignSetting, defaultLook, type Look } from '../../look/look';
import { resolveLights, sightLights } from './lights';

const kernels = kernelsOn(serialRunner);
const [WIDTH, HEIGHT] = [160, 90];
const FRAMES = 16;

type Rgb = readonly [number, number, number];

/** A frame of a scene: light and depth by pixel. */
interface Scene {
  light: (x: number, y: number) => number | Rgb;
  depth?: (x: number) => number;
}

function plateOf(frame: number, { light, depth = () => 20 }: Scene): Plate {
  const picture = emptyPicture(WIDTH, HEIGHT);
  ['R', 'G', 'B', 'Z'].forEach((name, c) => {
    const samples = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      if (name === 'Z') return depth(x);
      const value = light(x, y);
      return typeof value === 'number' ? value : value[c]!;
    });
    addChannel(picture, name, 'float', samples);
  });
  return { ...makePlate(`p${frame}`, 'test.exr', picture), frameNumber: frame };
}

const FOUND = ['ghosts.on=true', 'ghosts.find.on=true'];
const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

/** What every frame of a sequence is computed on, with the lights of the frames near it. */
async function sequence(look: Look, sceneAt: (frame: number) => Scene): Promise<StationContext[]> {
  const contexts = Array.from({ length: FRAMES }, (_, k): StationContext => ({
    plate: plateOf(k, sceneAt(k)),
    cache: new ContentCache(0),
    kernels,
  }));
  const sighted = await Promise.all(contexts.map((context) => sightLights(look, context)));
  const nearbyOf = (frame: number): NearbyLights[] =>
    sighted.flatMap((lights, k) => (k === frame ? [] : [{ offset: k - frame, lights }]));
  return contexts.map((context, k) => ({ ...context, nearbyLights: nearbyOf(k) }));
}

const lightsOf = async (look: Look, sceneAt: (frame: number) => Scene): Promise<ResolvedLight[][]> =>
  Promise.all((await sequence(look, sceneAt)).map((context) => resolveLights(look, context)));

/** The largest change from one frame to the next, as a share of a whole. */
const largestJump = (values: readonly number[], whole = Math.max(...values)): number =>
  Math.max(...values.slice(1).map((value, k) => Math.abs(value - values[k]!))) / whole;

const strength = (lights: readonly ResolvedLight[]): number =>
  lights.reduce((sum, { flux, visibility }) => sum + luminance(...flux) * visibility, 0);

/** A lamp that passes behind bars of its own width. */
const behindBars = (frame: number): Scene => ({
  light: (x, y) => (x % 20 < 7 ? 0.05 : Math.hypot(x - 40 - 3 * frame, y - 30) < 3.2 ? 200 : 0.1),
});

describe('a lamp that passes behind a railing', () => {
  it('flares without a pop: the light that ghosts add changes by about a fifth of the whole at most', async () => {
    const added = async (steady: number): Promise<number[]> => {
      const look = lookOf(...FOUND, `ghosts.steady=${steady}`, 'ghosts.count=2', 'ghosts.amount=10');
      const light = async (context: StationContext): Promise<number> => {
        const { light } = await evaluate(look, { ...context, draft: true }, { scale: 1 });
        return light.total[1].reduce((sum, value, i) => sum + value - light.base[1][i]!, 0);
      };
      const sums: number[] = [];
      for (const context of await sequence(look, behindBars)) sums.push(await light(context));
      return sums;
    };
    // A lamp that is gone from one frame to the next takes its ghosts along.
    expect(largestJump(await added(0))).toBeGreaterThan(0.5);
    // The mean of five frames; ghosts that move change a little besides.
    expect(largestJump(await added(2))).toBeLessThan(0.25);
  });

  it('is one lamp, whose ghosts go on in a line while it is hidden', async () => {
    const look = lookOf(...FOUND, 'ghosts.steady=3');
    const frames = await lightsOf(look, behindBars);
    frames.slice(4, -4).forEach(([lamp, ...others], k) => {
      expect(others).toEqual([]);
      expect(Math.abs(lamp!.x * WIDTH - (40.5 + 3 * (k + 4)))).toBeLessThan(3.2);
    });
  });
});

describe('lights that compete', () => {
  /** Two lamps of which now one, now the other has more light. */
  const rivals = (frame: number): Scene => ({
    light: (x, y) => {
      const swap = Math.sin(frame * 2.3) > 0 ? 1 : 0;
      if (Math.hypot(x - 50, y - 30) < 3) return 200 + swap;
      return Math.hypot(x - 62, y - 30) < 3 ? 201 - swap : 0.1;
    },
  });

  it('take turns by degrees, each at its place', async () => {
    const look = lookOf(...FOUND, 'ghosts.find.count=1');
    const frames = await lightsOf(look, rivals);
    for (const x of [50.5, 62.5]) {
      const own = frames.map((lights) => lights.filter((light) => Math.abs(light.x * WIDTH - x) < 0.5));
      expect(largestJump(own.map(strength))).toBeLessThan(0.34);
    }
    const alone = await lightsOf({ ...look, ghosts: { ...look.ghosts, steady: 0 } }, rivals);
    expect(new Set(alone.map(([light]) => Math.round(light!.x * WIDTH))).size).toBe(2);
    // What shines together is as much as one lamp.
    for (const lights of frames) expect(strength(lights) / strength(alone[0]!)).toBeCloseTo(1, 2);
  });

  it('are told apart by colour where they cross', async () => {
    const look = lookOf(...FOUND, 'ghosts.find.count=2', 'ghosts.steady=4');
    const frames = await lightsOf(look, (frame) => ({
      light: (x, y) => {
        if (Math.hypot(x - 20 - 5 * frame, y - 30) < 2.5) return [200, 20, 10];
        return Math.hypot(x - 140 + 5 * frame, y - 42) < 2.5 ? [10, 20, 200] : 0.1;
      },
    }));
    frames.forEach((lights, frame) => {
      const red = lights.find(({ flux: [r, , b] }) => r > 5 * b)!;
      const blue = lights.find(({ flux: [r, , b] }) => b > 5 * r)!;
      expect(red.x * WIDTH).toBeCloseTo(20.5 + 5 * frame, 0);
      expect(blue.x * WIDTH).toBeCloseTo(140.5 - 5 * frame, 0);
    });
  });
});

describe('what is mean over frames', () => {
  it('is the light of a frame where nothing changes', async () => {
    const look = lookOf(...FOUND);
    const still = (): Scene => ({ light: (x, y) => (Math.hypot(x - 70, y - 40) < 3 ? 150 : 0.1) });
    const [context] = await sequence(look, still);
    const [alone] = await resolveLights(look, { ...context!, nearbyLights: undefined });
    for (const [lamp, ...others] of await lightsOf(look, still)) {
      expect(others).toEqual([]);
      expect(lamp!.x).toBe(alone!.x);
      lamp!.flux.forEach((value, c) => expect(value / alone!.flux[c]!).toBeCloseTo(1, 12));
    }
  });

  it('dims a lamp that comes and goes at the threshold', async () => {
    const flickering = (frame: number): Scene => ({
      light: (x, y) => (Math.hypot(x - 70, y - 40) < 3 ? (frame % 3 === 0 ? 5 : 60) : 0.1),
    });
    const seen = async (steady: number): Promise<number[]> =>
      (await lightsOf(lookOf(...FOUND, `ghosts.steady=${steady}`), flickering)).map(strength);
    const alone = await seen(0);
    expect(largestJump(alone)).toBe(1);
    expect(largestJump(await seen(2), Math.max(...alone))).toBeLessThan(1 / 5 + 1e-6);
    expect(largestJump(await seen(7), Math.max(...alone))).toBeLessThan(1 / 15 + 1e-6);
  });

  it('is the visibility of a light of the list, which goes on and off as it is told', async () => {
    const settings = ['lights[0].x=0.5', 'lights[0].y=0.5', 'lights[0].distance=10', 'lights[0].gain=1000'];
    const look = lookOf('ghosts.on=true', ...settings.map((setting) => `ghosts.${setting}`));
    // A wall, 5 m away, that is pulled across in two frames.
    const wall = (frame: number): Scene => ({ light: () => 0.1, depth: () => (frame < 8 ? 20 : 5) });
    const lights = await lightsOf(look, wall);
    const visible = lights.map(([light]) => light!.visibility);
    expect(visible[0]).toBe(1);
    expect(visible.at(-1)).toBe(0);
    expect(largestJump(visible)).toBeCloseTo(0.2, 6);
    for (const [light] of lights) expect(light!.flux[1]).toBeCloseTo(1000, 6);
  });
});

describe('a picture that does not change', () => {
  const dirty = ['veil.dirt.amount=0.2', 'pupil.dust.amount=0.1', 'veil.spikes.amount=0.1', ...FOUND];
  const still: Scene = { light: (x, y) => (Math.hypot(x - 70, y - 40) < 3 ? 150 : 0.3) };
  const final = async (frame: number, ...more: string[]): Promise<Float32Array> => {
    const context = { plate: plateOf(frame, still), cache: new ContentCache(0), kernels };
    return (await evaluate(lookOf(...dirty, ...more), context, { scale: 1 })).light.total[1];
  };

  it('has the same dirt, dust and ghosts in every frame, and other grain', async () => {
    const first = await final(1);
    expect(await final(2)).toEqual(first);
    const grain = 'film.grain.amount=0.02';
    expect(await final(1, grain)).toEqual(await final(1, grain));
    expect(await final(2, grain)).not.toEqual(await final(1, grain));
  });
});
