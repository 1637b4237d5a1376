import { addChannel, emptyPicture } from '../image/picture';
import { kernelsOn } from '../kernels';
import { serialRunner } from '../jobs';
import { ContentCache } from '../light/cache';
import type { Light } from '../light/light';
import { makePlate } from '../light/plate';
import { assignSetting, defaultLook, type Look } from '../look/look';
import { evaluate } from './evaluate';

const [WIDTH, HEIGHT] = [72, 48];
const kernels = kernelsOn(serialRunner);
type Fill = (x: number, y: number) => number;
const plane = (fill: Fill): Float32Array =>
  Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => fill(i % WIDTH, Math.floor(i / WIDTH)));

async function through(look: Look, rgb: readonly Fill[], alpha?: Fill, distance = 9): Promise<Light> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  ['R', 'G', 'B'].forEach((name, c) => addChannel(picture, name, 'float', plane(rgb[c]!)));
  if (alpha) addChannel(picture, 'A', 'float', plane(alpha));
  addChannel(
    picture,
    'Z',
    'float',
    plane(() => distance),
  );
  const plate = makePlate('p', 'element.exr', picture);
  return (await evaluate(look, { plate, cache: new ContentCache(1e8), kernels, draft: true }, { scale: 1 }))
    .light;
}

const card: Fill = (x, y) => (Math.hypot(x - 30, y - 24) < 11 ? 0.75 : 0);
const element: Fill[] = [0, 1, 2].map(
  (c) => (x, y) => card(x, y) * (0.3 + 0.1 * c + (x === 33 && y === 20 ? 60 : 0)),
);
const ground: Fill[] = [0, 1, 2].map((c) => (x, y) => 0.2 + 0.004 * x + 0.002 * c * y);
const ALL_FEEDS = ['veil.feed.threshold=0', 'veil.bloom.amount=0'];

// Source: Porter & Duff (1984), Compositing digital images: with associated alpha, A over B is A + (1 - alpha) B.
describe('an element over a ground', () => {
  // What is linear gives the sum of what it makes of both, so that it may come before or after the two are laid together.
  it.each([
    ['exposure and balance', ['plate.exposure=1.3', 'film.exposure=-0.7']],
    ['discs', ['focus.on=true', 'camera.fStop=1', 'camera.focusDistance=3']],
    ['black edges', ['focus.on=true', 'camera.fStop=1', 'camera.focusDistance=3', 'focus.edge=black']],
    ['the barrel', ['focus.on=true', 'camera.focusDistance=3', 'focus.catsEye=1', 'focus.catsEyeDims=true']],
    ['bloom', ['veil.bloom.amount=0.2']],
    ['bloom that adds', ['veil.bloom.amount=0.2', 'veil.mode=add']],
    ['spikes', ['veil.spikes.amount=0.3', 'veil.spikes.size=20', 'pupil.blades=6']],
    ['a halo', ['veil.halo.amount=0.2']],
    ['a streak', ['veil.streak.amount=0.2']],
    ['diffusion', ['veil.diffusion.amount=0.2']],
    ['dirt', ['veil.dirt.amount=0.2']],
    ['all of them', ['focus.on=true', 'camera.fStop=2', 'veil.bloom.amount=0.1', 'veil.streak.amount=0.1']],
  ])('is the same laid before %s and after it', async (_, settings) => {
    const look = [...ALL_FEEDS, ...settings].reduce(assignSetting, defaultLook());
    const held = ground.map(
      (fill): Fill =>
        (x, y) =>
          (1 - card(x, y)) * fill(x, y),
    );
    const together = await through(
      look,
      element.map(
        (fill, c): Fill =>
          (x, y) =>
            fill(x, y) + held[c]!(x, y),
      ),
    );
    const above = await through(look, element);
    const below = await through(look, held);
    together.total.forEach((whole, c) =>
      whole.forEach((value, i) => {
        const sum = above.total[c]![i]! + below.total[c]![i]!;
        expect(Math.abs(value - sum)).toBeLessThan(2e-4 * (1 + Math.abs(value)));
      }),
    );
  });

  // Over an even ground what is spread with its alpha leaves no dark or bright edge.
  it.each([
    ['focus.edge=same'],
    ['focus.edge=same', 'focus.catsEye=0.8'],
    ['focus.squeeze=0.5', 'focus.rim=0.6'],
  ])('of its own colour cannot be seen behind discs (%s)', async (...settings) => {
    const look = [
      'focus.on=true',
      'camera.fStop=1',
      'camera.focusDistance=3',
      'veil.on=false',
      ...settings,
    ].reduce(assignSetting, defaultLook());
    const grey = [0, 1, 2].map((): Fill => (x, y) => 0.8 * card(x, y));
    const { total, alpha } = await through(look, grey, card);
    total.forEach((one) =>
      one.forEach((value, i) => expect(Math.abs(value + (1 - alpha![i]!) * 0.8 - 0.8)).toBeLessThan(1e-4)),
    );
  });
});
