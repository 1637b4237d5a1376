import fc from 'fast-check';
import { assignSetting, defaultLook, getSetting, parseLook, setSetting } from './look';
import {
  anchored,
  carryChange,
  keysChosen,
  keyState,
  withKey,
  withMovedKeys,
  withoutKey,
  withPasted,
  withPlaces,
} from './track-edits';
import { bakeLife, lookAt, parseTracks, valueAt, type Tracks } from './tracks';
import { settingAt } from './look';

const AMOUNT = 'veil.bloom.amount';
const tracksOf = (tracks: unknown): Tracks => parseTracks({ version: 1, tracks });
const frames = (tracks: Tracks, path = AMOUNT): number[] => tracks[path]!.keys.map(({ frame }) => frame);

describe('keys of a track', () => {
  it('are set, replaced at their frame and taken out; a track without keys is none', () => {
    let tracks = withKey({}, AMOUNT, { frame: 10, value: 0.1 });
    tracks = withKey(tracks, AMOUNT, { frame: 1, value: 0 });
    tracks = withKey(tracks, AMOUNT, { frame: 10, value: 0.2 });
    expect(tracks[AMOUNT]!.keys).toEqual([
      { frame: 1, value: 0, ease: 'linear' },
      { frame: 10, value: 0.2, ease: 'linear' },
    ]);
    expect([1, 5].map((frame) => keyState(tracks, AMOUNT, frame))).toEqual(['here', 'elsewhere']);
    expect(withoutKey(withoutKey(tracks, AMOUNT, 1), AMOUNT, 10)).toEqual({});
  });

  it('take the ease of what they are set before; what has nothing between holds', () => {
    const eased = tracksOf({
      [AMOUNT]: [
        { frame: 1, value: 0 },
        { frame: 9, value: 1, ease: 'smooth' },
      ],
    });
    expect(withKey(eased, AMOUNT, { frame: 5, value: 0.3 })[AMOUNT]!.keys[1]!.ease).toBe('smooth');
    expect(withKey({}, 'veil.on', { frame: 5, value: true })['veil.on']!.keys[0]!.ease).toBe('hold');
  });

  it('come back where they were after any move and its opposite, if none lands on another', () => {
    const list = fc.uniqueArray(fc.integer({ min: 0, max: 50 }), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(list, fc.integer({ min: 100, max: 300 }), (at, by) => {
        const tracks = at.reduce((all, frame) => withKey(all, AMOUNT, { frame, value: frame / 50 }), {});
        const some = { [AMOUNT]: at.filter((_, k) => k % 2 === 0) };
        const there = withMovedKeys(tracks, some, ({ frame, value }) => ({ frame: frame + by, value }));
        const back = withMovedKeys(there.tracks, there.choice, ({ frame, value }) => ({
          frame: frame - by,
          value,
        }));
        expect(back.tracks).toEqual(tracks);
      }),
    );
  });

  it('that land on others take their place', () => {
    const tracks = tracksOf({
      [AMOUNT]: [
        { frame: 1, value: 0 },
        { frame: 5, value: 0.5 },
        { frame: 9, value: 1 },
      ],
    });
    const moved = withMovedKeys(tracks, { [AMOUNT]: [1] }, ({ value }) => ({ frame: 5, value }));
    expect(moved.tracks[AMOUNT]!.keys.map(({ frame, value }) => [frame, value])).toEqual([
      [5, 0],
      [9, 1],
    ]);
  });

  it('are copied as they stand to each other', () => {
    const tracks = tracksOf({
      [AMOUNT]: [
        { frame: 3, value: 0 },
        { frame: 5, value: 1 },
      ],
      'veil.on': [{ frame: 4, value: false }],
    });
    const copied = keysChosen(tracks, { [AMOUNT]: [3, 5], 'veil.on': [4] });
    const pasted = withPasted(tracks, copied, 20);
    expect([frames(pasted.tracks), frames(pasted.tracks, 'veil.on')]).toEqual([
      [3, 5, 20, 22],
      [4, 21],
    ]);
    expect(pasted.choice).toEqual({ [AMOUNT]: [20, 22], 'veil.on': [21] });
  });
});

describe('a change of the look at a frame', () => {
  const look = assignSetting(defaultLook(), `${AMOUNT}=0.02`);

  it('is a key of what is keyed, and nothing else', () => {
    const tracks = tracksOf({
      [AMOUNT]: [
        { frame: 1, value: 0 },
        { frame: 11, value: 0.1 },
      ],
    });
    const before = lookAt(look, tracks, 6);
    const after = setSetting(setSetting(before, AMOUNT, 0.3), 'film.exposure', 1);
    const carried = carryChange(tracks, { before, after, frame: 6 });
    expect(frames(carried.tracks)).toEqual([1, 6, 11]);
    expect(Object.keys(carried.tracks)).toEqual([AMOUNT]);
    expect(getSetting(carried.look, AMOUNT)).toBe(0.3);
    expect(carryChange(tracks, { before, after: before, frame: 6 }).tracks).toEqual(tracks);
  });

  it('is the value of that side of what blinks', () => {
    const life = { kind: 'blink', low: 0, high: 0.1, on: 5, off: 5, offset: 1 };
    const tracks = anchored(tracksOf({ [AMOUNT]: { life } }), look);
    const change = (frame: number) => {
      const before = lookAt(look, tracks, frame);
      return carryChange(tracks, { before, after: setSetting(before, AMOUNT, 0.4), frame }).tracks[AMOUNT]!
        .life;
    };
    expect([change(2), change(8)]).toEqual([
      expect.objectContaining({ low: 0, high: 0.4 }),
      expect.objectContaining({ low: 0.4, high: 0.1 }),
    ]);
  });

  it('takes tracks of things in a list along, and those of what is gone away', () => {
    const lights = (names: string[]) =>
      parseLook({
        ...look,
        ghosts: { ...look.ghosts, lights: names.map((name) => ({ name, x: 0.1 * name.length })) },
      });
    const before = lights(['a', 'bb', 'ccc']);
    const tracks = tracksOf({
      'ghosts.lights[2].gain': [{ frame: 1, value: 5 }],
      'ghosts.lights[0].gain': [{ frame: 1, value: 7 }],
    });
    const at = lookAt(before, tracks, 1);
    const without = { ...at, ghosts: { ...at.ghosts, lights: at.ghosts.lights.slice(1) } };
    expect(Object.keys(carryChange(tracks, { before: at, after: without, frame: 1 }).tracks)).toEqual([
      'ghosts.lights[1].gain',
    ]);
    const turned = { ...at, ghosts: { ...at.ghosts, lights: [...at.ghosts.lights].reverse() } };
    const carried = carryChange(tracks, { before: at, after: turned, frame: 1 });
    expect(Object.keys(carried.tracks).sort()).toEqual(['ghosts.lights[0].gain', 'ghosts.lights[2].gain']);
    expect(carried.tracks['ghosts.lights[0].gain']).toEqual(tracks['ghosts.lights[2].gain']);
  });

  it('moves tracks of elements by their places', () => {
    const tracks = tracksOf({
      'elements[1].exposure': [{ frame: 1, value: 1 }],
      [AMOUNT]: [{ frame: 1, value: 0 }],
    });
    expect(Object.keys(withPlaces(tracks, 'elements', (place) => place - 1))).toEqual([
      'elements[0].exposure',
      AMOUNT,
    ]);
  });
});

describe('life written as keys', () => {
  it('is the same at every frame', () => {
    const tracks = tracksOf({
      [AMOUNT]: {
        keys: [{ frame: 1, value: 0.2 }],
        life: { kind: 'flicker', size: 0.3, rate: 0.4, seed: 3 },
      },
      'veil.on': {
        keys: [{ frame: 1, value: true }],
        life: { kind: 'blink', low: false, high: true, on: 3, off: 4 },
      },
    });
    for (const [path, track] of Object.entries(tracks)) {
      const setting = settingAt(path);
      const own = track.keys[0]!.value;
      const baked = bakeLife(setting, track, { first: 1, last: 40 });
      expect(baked.life).toBeUndefined();
      for (let frame = 1; frame <= 40; frame++)
        expect(valueAt(setting, baked, { frame, own })).toBe(valueAt(setting, track, { frame, own }));
    }
    const blink = bakeLife(settingAt('veil.on'), tracks['veil.on']!, { first: 1, last: 40 });
    expect(blink.keys.length).toBeLessThan(30);
  });
});
