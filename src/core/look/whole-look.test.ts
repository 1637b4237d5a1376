import { differencesOf } from './differences';
import { assignSetting, defaultLook, getSetting, pathsIn, SETTINGS, STATION_IDS, type Look } from './look';
import { realityCheck } from './reality';
import { SHIPPED_LOOKS } from './shipped-looks';
import { changesToFollow, follow, parseWholeLook, takeLook, trimsOf, wholeLookDocument } from './whole-look';

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());
const stations = STATION_IDS;

/** Every number of a look that has a place in both, as [path, one, other, between]. */
function numbersOf(a: Look, b: Look, between: Look): [string, number, number, number][] {
  return SETTINGS.filter(({ kind }) => kind === 'number').flatMap((setting) => {
    const inBoth = new Set(pathsIn(a, setting));
    return pathsIn(b, setting)
      .filter((path) => inBoth.has(path))
      .map((path): [string, number, number, number] => [
        path,
        ...([a, b, between].map((look) => getSetting(look, path) as number) as [number, number, number]),
      ]);
  });
}

describe('the looks that ship', () => {
  it('are twelve, each of its own name, note and settings', () => {
    expect(SHIPPED_LOOKS).toHaveLength(12);
    for (const key of ['id', 'name', 'note'] as const)
      expect(new Set(SHIPPED_LOOKS.map((one) => one[key])).size).toBe(12);
    expect(new Set(SHIPPED_LOOKS.map(({ look }) => JSON.stringify(look))).size).toBe(12);
  });

  it.each(SHIPPED_LOOKS.map(({ name, look }) => [name, look] as const))(
    '%s lies within the bands of real lenses, and the reality check finds nothing',
    (_, look) => {
      const outside = SETTINGS.flatMap((setting) => {
        if (setting.kind !== 'number' || !setting.band) return [];
        const { min, max } = setting.band;
        return pathsIn(look, setting).filter((path) => {
          const value = getSetting(look, path) as number;
          return value !== setting.default && (value < min || value > max);
        });
      });
      expect(outside).toEqual([]);
      expect(realityCheck(look)).toEqual([]);
    },
  );
});

describe('a look that is taken', () => {
  const present = lookOf(
    ...['veil.feed.threshold=12', 'veil.feed.pass=emission', 'film.exposure=1.5', 'camera.focusDistance=7'],
    ...['veil.bloom.amount=0.01', 'ghosts.lights[0].x=0.3', 'film.contrast=1.2', 'pupil.blades=5'],
  );
  const other = lookOf(
    ...['veil.feed.threshold=3', 'veil.feed.pass=specular', 'film.exposure=-1', 'camera.focusDistance=2'],
    ...['veil.bloom.amount=0.04', 'camera.fStop=2', 'film.contrast=0.8', 'pupil.blades=8'],
    ...['veil.spikes.amount=0.02', 'veil.spikes.size=1.6', 'veil.stack[0].amount=0.1', 'film.view=filmic'],
    ...['veil.spikes.feed.own=true', 'veil.spikes.feed.pass=lamps'],
  );

  it('leaves what goes by the render, unless that is wanted as well', () => {
    const taken = takeLook(present, other, { stations });
    expect(taken.veil.bloom.amount).toBe(0.04);
    expect(taken.veil.feed).toEqual(present.veil.feed);
    expect(taken.film).toMatchObject({ exposure: 1.5, contrast: 0.8, view: 'filmic' });
    expect(taken.camera).toMatchObject({ focusDistance: 7, fStop: 2 });
    expect(taken.ghosts.lights).toEqual(present.ghosts.lights);
    // The part's own feed is there, and feeds from what there is.
    expect(taken.veil.spikes.feed).toMatchObject({ own: true, pass: defaultLook().veil.spikes.feed.pass });
    expect(takeLook(present, other, { stations, withRender: true })).toEqual(other);
  });

  it('brings ghosts that need lights the brightest of the picture, where there are none', () => {
    const flared = SHIPPED_LOOKS.find(({ id }) => id === 'harbour-night')!.look;
    expect(takeLook(defaultLook(), flared, { stations }).ghosts).toMatchObject({
      on: true,
      find: { on: true },
    });
    expect(takeLook(present, flared, { stations }).ghosts.find.on).toBe(false);
  });

  it('can be taken by station', () => {
    const taken = takeLook(present, other, { stations: ['pupil'] });
    expect(differencesOf(present, taken).map(({ path }) => path)).toEqual(['pupil.blades']);
    expect(takeLook(present, other, { stations: [] })).toEqual(present);
  });

  it('can be taken in part: numbers lie between, and what is off comes by its amount', () => {
    const [none, half, all] = [0, 0.5, 1].map((strength) => takeLook(present, other, { stations, strength }));
    expect(none).toEqual(present);
    expect(all).toEqual(takeLook(present, other, { stations }));
    for (const [path, from, to, at] of numbersOf(present, all!, half!)) {
      expect([path, at >= Math.min(from, to) - 1e-9]).toEqual([path, true]);
      expect([path, at <= Math.max(from, to) + 1e-9]).toEqual([path, true]);
    }
    expect(half!.veil.bloom.amount).toBeCloseTo(0.025, 9);
    expect(half!.film.contrast).toBeCloseTo(1, 9);
    // A pupil of six and a half blades is none.
    expect(half!.pupil.blades).toBe(8);
    // Spikes were not there: they come in the shape that they are to have.
    expect(half!.veil.spikes).toMatchObject({ amount: 0.01, size: 1.6 });
    expect(half!.veil.stack).toMatchObject([{ amount: 0.05 }]);
    const back = takeLook(other, present, { stations, strength: 0.5 });
    expect(back.veil.stack).toMatchObject([{ amount: 0.05 }]);
    expect(back.veil.spikes).toMatchObject({ amount: 0.01, size: 1.6 });
  });

  it('counts a part that is switched off as none of it', () => {
    const off = lookOf('veil.bloom.on=false', 'veil.bloom.amount=0.5', 'veil.bloom.falloff=3');
    const quarter = takeLook(off, other, { stations, strength: 0.25 });
    expect(quarter.veil.bloom).toMatchObject({ on: true, amount: 0.01, falloff: 2 });
  });

  it.each(SHIPPED_LOOKS.map(({ name, look }) => [name, look] as const))(
    'of those that ship, %s can be taken at any strength',
    (_, look) => {
      for (const strength of [0.1, 0.5, 0.9])
        expect(() => takeLook(present, look, { stations, strength })).not.toThrow();
    },
  );
});

describe('a look that is saved with its name', () => {
  it('comes back as it was; a bare look has no name', () => {
    const look = lookOf('film.contrast=1.2');
    const saved = JSON.parse(
      JSON.stringify(wholeLookDocument({ name: 'N', note: 'for rain', look })),
    ) as object;
    expect(parseWholeLook(saved)).toEqual({ name: 'N', note: 'for rain', look });
    expect(parseWholeLook(JSON.parse(JSON.stringify(look)))).toEqual({ name: undefined, note: '', look });
    expect(() => parseWholeLook({ ...saved, name: '' }, 'a.look.json')).toThrow(/no look: name/);
    expect(() => parseWholeLook({ ...saved, kind: 'bokelux shot' })).toThrow(/no look: kind/);
    expect(() => parseWholeLook({ ...saved, look: { film: { contrast: 'much' } } })).toThrow(/film.contrast/);
  });
});

describe('a look that several shots follow', () => {
  const followed = lookOf('veil.bloom.amount=0.01', 'film.contrast=1.1', 'veil.stack[0].amount=0.1');
  const present = ['film.contrast=1.3', 'veil.stack[0].amount=0.2'].reduce(assignSetting, followed);

  it('changes in them but for their trims', () => {
    expect(trimsOf(followed, present)).toEqual(['veil.stack[0].amount', 'film.contrast']);
    const next = [
      'veil.bloom.amount=0.03',
      'film.contrast=0.9',
      'veil.stack[0].amount=0.4',
      'pupil.blades=7',
    ].reduce(assignSetting, followed);
    expect(changesToFollow(followed, next, present)).toEqual(['pupil.blades', 'veil.bloom.amount']);
    const after = follow(followed, next, present);
    expect(after).toMatchObject({ film: { contrast: 1.3 }, pupil: { blades: 7 } });
    expect(after.veil).toMatchObject({ bloom: { amount: 0.03 }, stack: [{ amount: 0.2 }] });
    expect(trimsOf(next, after)).toEqual(['veil.stack[0].amount', 'film.contrast']);
  });

  it('leaves a list that a shot has trimmed as it is there', () => {
    const next = ['veil.stack[1].amount=0.3', 'pupil.blades=7'].reduce(assignSetting, followed);
    const longer = assignSetting(present, 'veil.stack[1].amount=0.6');
    const after = follow(followed, next, longer);
    expect(after.veil.stack).toMatchObject([{ amount: 0.2 }, { amount: 0.6 }]);
    expect(after.pupil.blades).toBe(7);
    expect(follow(followed, followed, present)).toBe(present);
  });
});
