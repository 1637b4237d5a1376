import fc from 'fast-check';
import { assignSetting, defaultLook, getSetting, setSetting, settingAt, type Look } from './look';
import {
  axisLabel,
  finerAxis,
  firstAxis,
  MOST_TRIALS,
  offSwitchesOf,
  partsApart,
  readAxis,
  spread,
  STRIP_SETS,
  switchLabel,
  triableIn,
  trialsOf,
} from './strip';

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

describe('the values of a strip', () => {
  it('begin about what there is, for every number, choice and switch', () => {
    const look = lookOf('veil.stack[0].amount=0.01', 'veil.bloom.amount=0.02', 'camera.fStop=4');
    const all = triableIn(look);
    expect(all.length).toBeGreaterThan(250);
    for (const { path } of all) {
      const { values } = firstAxis(look, path);
      expect(values.length).toBeGreaterThan(1);
      expect(new Set(values).size).toBe(values.length);
      if (STRIP_SETS[path]) continue;
      expect(values).toContainEqual(getSetting(look, path));
      // Each is one that the setting can have.
      for (const value of values) setSetting(look, path, value);
    }
  });

  it('contain what there is and stay within the range, whatever it is', () => {
    const numbers = [
      'veil.bloom.amount',
      'film.exposure',
      'camera.fStop',
      'pupil.blades',
      'veil.bloom.radius',
    ];
    fc.assert(
      fc.property(fc.constantFrom(...numbers), fc.double({ min: 0, max: 1, noNaN: true }), (path, share) => {
        const setting = settingAt(path);
        if (setting.kind !== 'number') throw new Error(path);
        const present = setting.min + share * (setting.max - setting.min);
        const values = firstAxis(setSetting(defaultLook(), path, present), path).values as number[];
        expect(values).toContain(present);
        expect(Math.min(...values)).toBeGreaterThanOrEqual(setting.min);
        expect(Math.max(...values)).toBeLessThanOrEqual(setting.max);
        expect([...values].sort((a, b) => a - b)).toEqual(values);
      }),
    );
  });

  it('lie evenly, or each so many times the one before', () => {
    const setting = settingAt('veil.bloom.radius');
    if (setting.kind !== 'number') throw new Error();
    expect(spread(setting, 0.01, 0.05, 5, 'even')).toEqual([0.01, 0.02, 0.03, 0.04, 0.05]);
    expect(spread(setting, 0.002, 0.032, 5, 'geometric')).toEqual([0.002, 0.004, 0.008, 0.016, 0.032]);
  });

  it('go by the stops that a setting has: whole stops of the f-number about it', () => {
    const { values } = firstAxis(lookOf('camera.fStop=4'), 'camera.fStop');
    expect(values).toEqual([2, 2.8, 4, 5.6, 8]);
  });

  it('become finer between the neighbours of one of them', () => {
    const axis = { path: 'veil.bloom.amount', values: [0, 0.01, 0.02, 0.04, 0.08] };
    const finer = finerAxis(axis, 3, 5).values as number[];
    expect([finer[0], finer.at(-1)]).toEqual([0.02, 0.08]);
    expect(finer).toContain(0.04);
    const last = finerAxis(axis, 4, 5).values as number[];
    expect(last[0]).toBe(0.04);
    expect(last).toContain(0.08);
    expect(Math.max(...last)).toBeLessThanOrEqual(1);
    const choice = { path: 'film.view', values: ['srgb', 'filmic'] };
    expect(finerAxis(choice, 0, 5)).toBe(choice);
  });

  it('are read as they are written, and what is none is told', () => {
    const look = defaultLook();
    expect(readAxis(look, 'veil.bloom.amount', '0, 0.01,0.02').values).toEqual([0, 0.01, 0.02]);
    expect(readAxis(look, 'veil.bloom.on', 'true,false').values).toEqual([true, false]);
    expect(readAxis(look, 'pupil', 'round, six').values).toEqual(['round', 'six']);
    expect(readAxis(look, 'film.view', 'all').values).toContain('filmic');
    expect(() => readAxis(look, 'veil.bloom.amount', '0,much')).toThrow(/much/);
    expect(() => readAxis(look, 'veil.bloom.amount', '0,7')).toThrow();
    expect(() => readAxis(look, 'pupil', 'heart')).toThrow(/heart is none of the pupils to start from/);
    expect(() => readAxis(look, 'veil.bloom.amount', Array(17).fill('0.1').join())).toThrow(/17 values/);
    expect(() => firstAxis(look, 'film.curve')).toThrow(/cannot be tried/);
  });
});

describe('the pictures of a strip', () => {
  const look = lookOf('veil.bloom.amount=0.02');

  it('differ in what varies alone, tell what they are, and which is there now', () => {
    const trials = trialsOf(look, [
      { path: 'veil.bloom.amount', values: [0, 0.02, 0.5] },
      { path: 'film.view', values: ['filmic', 'srgb'] },
    ]);
    expect(trials.map(({ captions }) => captions.join(' '))).toEqual([
      ...['0.00 % Filmic', '2.00 % Filmic', '50.00 % Filmic'],
      ...['0.00 % sRGB', '2.00 % sRGB', '50.00 % sRGB'],
    ]);
    expect(trials.filter(({ isPresent }) => isPresent).map(({ places }) => places)).toEqual([
      [1, look.film.view === 'filmic' ? 0 : 1],
    ]);
    expect(trials.map(({ isReal }) => isReal).slice(0, 3)).toEqual([false, true, false]);
    for (const trial of trials) expect({ ...trial.look, film: look.film, veil: look.veil }).toEqual(look);
  });

  it('may be whole pupils and other starting points', () => {
    const axis = firstAxis(look, 'pupil');
    const trials = trialsOf(look, [axis]);
    expect(trials).toHaveLength(STRIP_SETS['pupil']!.points.length);
    expect(axisLabel(axis)).toBe('Pupils');
    expect(trials.find(({ captions }) => captions[0] === 'Five straight blades')!.look.pupil.blades).toBe(5);
    expect(trials.every((trial) => trial.isReal === undefined)).toBe(true);
  });

  it('cannot vary one setting both ways, or three', () => {
    const axis = firstAxis(look, 'veil.bloom.amount');
    expect(() => trialsOf(look, [axis, axis])).toThrow(/two that differ/);
    expect(() => trialsOf(look, [])).toThrow();
    expect(axis.values.length).toBeLessThanOrEqual(MOST_TRIALS);
  });
});

it('tells which switches are off, so that a setting does nothing', () => {
  const look = lookOf('veil.on=false', 'veil.bloom.on=false', 'ghosts.on=true');
  expect(offSwitchesOf(look, 'veil.bloom.amount')).toEqual(['veil.on', 'veil.bloom.on']);
  expect(offSwitchesOf(look, 'veil.bloom.on')).toEqual(['veil.on']);
  expect(offSwitchesOf(look, 'ghosts.amount')).toEqual([]);
  expect(['veil.on', 'veil.bloom.on'].map(switchLabel)).toEqual(['Veil', 'Bloom']);
});

it('names the parts that a strip of amounts convolves once', () => {
  const apart = (path: string): string[] => partsApart([{ path, values: [] }]);
  expect(apart('veil.bloom.amount')).toEqual(['veil.bloom']);
  expect(apart('veil.stack[2].amount')).toEqual(['veil.stack[2]']);
  expect(apart('veil.bloom.radius')).toEqual([]);
  expect(apart('film.grain.amount')).toEqual([]);
});
