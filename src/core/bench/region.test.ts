import { addChannel, emptyPicture } from '../image/picture';
import { serialRunner } from '../jobs';
import { kernelsOn } from '../kernels';
import { assignSetting, defaultLook, type Look } from '../look/look';
import { ContentCache } from '../light/cache';
import { evaluate } from './evaluate';
import { evaluateRegion } from './evaluate-region';
import { makePlate, type Plate } from '../light/plate';
import { cutRegion } from '../light/region';
import type { Rectangle } from '../image/rectangle';

const [WIDTH, HEIGHT] = [640, 360];
const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

/** Lamps far apart before a dim slope, with a depth in two steps. */
function night(): Plate {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const lamps = [
    [60, 40, 4000],
    [560, 60, 2500],
    [330, 200, 900],
    [620, 340, 5000],
  ] as const;
  for (const name of ['R', 'G', 'B']) {
    const plane = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => 0.05 + (i % WIDTH) / 5000);
    for (const [x, y, value] of lamps)
      for (let k = 0; k < 9; k++) plane[(y + Math.floor(k / 3)) * WIDTH + x + (k % 3)] = value;
    addChannel(picture, name, 'float', plane);
    addChannel(
      picture,
      `emission.${name}`,
      'float',
      plane.map((value) => (value > 100 ? value : 0)),
    );
  }
  addChannel(
    picture,
    'A',
    'float',
    Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => (Math.floor(i / WIDTH) < 190 ? 1 : 0.25)),
  );
  const depth = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => (i % WIDTH < 300 ? 4 : 9));
  addChannel(picture, 'Z', 'float', depth);
  return makePlate('p', 'night.exr', picture);
}

const plate = night();
const context = () => ({
  plate,
  cache: new ContentCache(1e9),
  kernels: kernelsOn(serialRunner),
  draft: true,
});
const REGION: Rectangle = { x: 290, y: 150, width: 120, height: 90 };

/** Largest difference between a region by itself and cut out of the whole, against how bright it is there. */
async function difference(look: Look, region = REGION): Promise<{ most: number; mean: number }> {
  const { light } = await evaluate(look, context(), { scale: 1 });
  const whole = cutRegion(light, region).total;
  const part = (await evaluateRegion(look, context(), region)).total;
  let [most, sum] = [0, 0];
  whole.forEach((plane, c) =>
    plane.forEach((value, i) => {
      const off = Math.abs(part[c]![i]! - value) / (Math.abs(value) + 0.05);
      most = Math.max(most, off);
      sum += off / (3 * plane.length);
    }),
  );
  return { most, mean: sum };
}

describe('a region that is computed by itself', () => {
  it('has the bits of the whole where no light comes in from afar', async () => {
    const look = lookOf('plate.exposure=1', 'film.exposure=-0.5');
    expect(await difference(look)).toEqual({ most: 0, mean: 0 });
  });

  it.each([
    [['veil.bloom.amount=0.03', 'veil.bloom.radius=0.004']],
    [['veil.bloom.amount=0.03', 'veil.spikes.amount=0.2', 'veil.spikes.size=30', 'pupil.blades=6']],
    [['veil.streak.amount=0.02', 'veil.halo.amount=0.02', 'veil.diffusion.amount=0.1']],
    [['veil.dirt.amount=0.03', 'veil.bloom.amount=0.02', 'veil.bloom.law=eye']],
    [['focus.on=true', 'camera.fStop=1.4', 'camera.focusDistance=4', 'veil.bloom.amount=0.03']],
    // Light of a pass from afar is seen through the lens as the picture is.
    [['focus.on=true', 'camera.fStop=1.4', 'veil.bloom.amount=0.03', 'veil.feed.pass=emission']],
  ])('looks as in the whole with %j', async (settings) => {
    const { most, mean } = await difference(lookOf(...settings));
    expect(mean).toBeLessThan(0.005);
    expect(most).toBeLessThan(0.06);
  });

  it('spreads alpha as the whole does', async () => {
    const look = lookOf('focus.on=true', 'camera.fStop=1.4', 'camera.focusDistance=2');
    const { light } = await evaluate(look, context(), { scale: 1 });
    const whole = cutRegion(light, REGION).alpha!;
    const part = (await evaluateRegion(look, context(), REGION)).alpha!;
    expect(whole.some((value) => value > 0.3 && value < 0.9)).toBe(true);
    whole.forEach((value, i) => expect(Math.abs(part[i]! - value)).toBeLessThan(0.06));
  });

  it('may lie in a corner, or be all of the picture', async () => {
    const look = lookOf('veil.bloom.amount=0.03');
    expect((await difference(look, { x: 0, y: 0, width: 50, height: 40 })).mean).toBeLessThan(0.005);
    expect(await difference(look, { x: 0, y: 0, width: WIDTH, height: HEIGHT })).toEqual({
      most: 0,
      mean: 0,
    });
  });

  it('gets light from what lies outside it', async () => {
    const bare = await evaluateRegion(lookOf(), context(), { x: 400, y: 100, width: 60, height: 60 });
    const lit = await evaluateRegion(lookOf('veil.bloom.amount=0.05'), context(), {
      x: 400,
      y: 100,
      width: 60,
      height: 60,
    });
    expect(lit.total[0][0]! - bare.total[0][0]!).toBeGreaterThan(1e-3);
  });
});
