import { addChannel, emptyPicture } from '../image/picture';
import { serialRunner } from '../jobs';
import { kernelsOn } from '../kernels';
import { ContentCache } from '../light/cache';
import { makePlate, type Plate } from '../light/plate';
import { defaultLook, SETTINGS, setSetting, type Look } from '../look/look';
import { seeded } from '../optics/seeded';
import { RENDER_KEYS } from '../settings/element';
import { NAME, PLACE } from '../settings/setting';
import { evaluate } from './evaluate';

/**
 * Settings that ask for light below zero by name, for colours outside Rec.709, for passes or designs that are not there, or
 * for the sharp filter, which undershoots beside edges.
 */
const LEFT_ALONE =
  /^plate\.(levels|passes|source|primaries|backgroundPrinted)|^film\.(lift|temperature|tint)|^glass\.(scene|k1|k2|lateral|drive|fromLens|shake)/;
const LOOKS = 200;

/** Lamps of thousands over dim noise, with a depth that has sky and steps in it. */
function plate(width: number, height: number): Plate {
  const picture = emptyPicture(width, height);
  const next = seeded(width * 1000 + height);
  for (const name of ['R', 'G', 'B'])
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: width * height }, (_, i) => (i % 97 === 40 ? 3000 * next() : 0.3 * next())),
    );
  addChannel(
    picture,
    'Z',
    'float',
    Float32Array.from({ length: width * height }, (_, i) => (i % width < 6 ? 0 : 1 + ((i % width) >> 3))),
  );
  return makePlate(`${width}`, 'test.exr', picture);
}

const OF_RENDER = new RegExp(`^elements\\[i\\]\\.(${RENDER_KEYS.join('|')})$`);

/** A look in which about a third of all numbers, switches and choices stand anywhere in their range. */
function randomLook(seed: number): Look {
  const next = seeded(seed);
  return SETTINGS.reduce((look, setting) => {
    // What a render has of its own stands in the first element.
    const path = OF_RENDER.test(setting.path) ? setting.path.replace(PLACE, '[0]') : setting.path;
    if (path.includes(PLACE) || path.includes(NAME) || LEFT_ALONE.test(path.replace('elements[0]', 'plate')))
      return look;
    const [chosen, value] = [next() < 0.35, next()];
    if (!chosen) return look;
    if (setting.kind === 'switch') return setSetting(look, path, value < 0.5);
    if (setting.kind === 'choice') {
      // A lens of its own is a design that comes with the look.
      const options = setting.options.filter((option) => option.value !== 'own');
      return setSetting(look, path, options[Math.floor(value * options.length)]!.value);
    }
    if (setting.kind !== 'number') return look;
    const { min, max, step } = setting;
    const logarithmic = setting.scale === 'log' && min > 0;
    const at = logarithmic ? min * (max / min) ** value : min + value * (max - min);
    return setSetting(look, path, step === 1 ? Math.round(at) : at);
  }, defaultLook());
}

describe('looks at random', () => {
  const sizes = [
    [32, 18],
    [18, 32],
    [40, 10],
  ] as const;
  const plates = sizes.map(([width, height]) => plate(width, height));

  it(`give finite light that is nowhere below zero (${LOOKS} of them)`, async () => {
    const wrong: string[] = [];
    const kernels = kernelsOn(serialRunner);
    for (let seed = 1; seed <= LOOKS; seed++) {
      const own = plates[seed % plates.length]!;
      // What lies in the pupil takes most of the time.
      const look =
        seed % 5 === 0
          ? randomLook(seed)
          : ['veil.spikes.on', 'focus.marks'].reduce(
              (changed, path) => setSetting(changed, path, false),
              randomLook(seed),
            );
      const context = { plate: own, cache: new ContentCache(0), kernels, draft: true };
      try {
        const { light } = await evaluate(look, context, { scale: 1 });
        for (const plane of light.total) {
          const most = plane.reduce((a, b) => Math.max(a, b), 0);
          if (!plane.every(Number.isFinite)) wrong.push(`${seed}: not finite`);
          else if (plane.some((value) => value < -1e-5 * most))
            wrong.push(`${seed}: ${Math.min(...plane)} of ${most}`);
        }
      } catch (error) {
        wrong.push(`${seed}: ${String(error)}`);
      }
    }
    expect(wrong).toEqual([]);
  });
});
