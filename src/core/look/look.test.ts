import fc from 'fast-check';
import type { BokeluxError } from '../errors';
import { SettingError } from '../errors';
import { describeSettings, settingsTable } from './describe';
import {
  assignSetting,
  currentPath,
  defaultLook,
  getSetting,
  LOOK_VERSION,
  parseLook,
  SETTINGS,
  setSetting,
  settingAt,
  withoutMask,
} from './look';

describe('the look', () => {
  it('is all defaults when nothing is said', () => {
    const look = defaultLook();
    for (const setting of SETTINGS) expect(getSetting(look, setting.path)).toEqual(setting.default);
    expect(parseLook({ veil: { bloom: {} } })).toEqual(look);
  });

  it('survives being written as JSON', () => {
    const look = setSetting(setSetting(defaultLook(), 'veil.bloom.amount', 0.03), 'film.view', 'filmic');
    expect(parseLook(JSON.parse(JSON.stringify(look)))).toEqual(look);
  });

  it('keeps the paths that scripts rely on', () => {
    const paths = SETTINGS.map(({ path }) => path);
    for (const path of [
      'plate.pass',
      'plate.exposure',
      'plate.source',
      'plate.clamp',
      'plate.despike',
      'plate.contrast',
      'plate.pivot',
      'plate.highlightSaturation',
      'plate.highlightLift',
      'plate.curve',
      'plate.background',
      'plate.passes.NAME.on',
      'plate.passes.NAME.gain',
      'plate.passes.NAME.tint',
      'plate.passes.NAME.mode',
      'masks',
      'veil.on',
      'veil.mode',
      'veil.feed.threshold',
      'veil.feed.knee',
      'veil.feed.pass',
      'veil.bloom.amount',
      'veil.bloom.radius',
      'veil.bloom.falloff',
      'veil.spikes.softness',
      'veil.stack[i].radius',
      'veil.stack[i].threshold',
      'veil.halo.width',
      'veil.streak.thickness',
      'veil.diffusion.radius',
      'veil.dirt.image',
      'pupil.mask',
      'pupil.scratches.arrangement',
      'film.exposure',
      'film.view',
    ]) {
      expect(paths).toContain(currentPath(path).replace('[0]', '[i]'));
    }
  });

  it('opens looks of the first version, whose plate was one render', () => {
    const old = {
      version: 1,
      plate: { source: 'sum', clamp: 25, passes: { glow: { gain: 1 } }, exposure: 2 },
    };
    const look = parseLook(old);
    // Diffusion had one shape.
    const soft = parseLook({ version: 1, veil: { diffusion: { amount: 0.1 } } });
    expect(soft.veil.diffusion).toMatchObject({ amount: 0.1, shape: 'gaussian' });
    expect(look.veil.diffusion.shape).toBe('mist');
    expect(look.version).toBe(LOOK_VERSION);
    expect(look.plate.exposure).toBe(2);
    expect(look.elements).toHaveLength(1);
    expect(look.elements[0]).toMatchObject({ source: 'sum', clamp: 25, passes: { glow: { gain: 1 } } });
    expect(
      ['plate.source=sum', 'plate.clamp=25', 'plate.passes.glow.gain=1', 'plate.exposure=2'].reduce(
        assignSetting,
        defaultLook(),
      ),
    ).toEqual(look);
    expect(() => parseLook({ version: 2, plate: { clamp: 25 } })).toThrow(/plate: clamp is not a setting/);
  });

  it('opens looks that have one streak, and knows it by its old name', () => {
    const old = parseLook({ version: 2, veil: { streak: { amount: 0.02, angle: 30, feed: { own: true } } } });
    expect(old.veil.streaks).toHaveLength(1);
    expect(old.veil.streaks[0]).toMatchObject({ amount: 0.02, angle: 30, back: 1, feed: { own: true } });
    expect(assignSetting(old, 'veil.streak.length=0.2').veil.streaks[0]).toMatchObject({
      length: 0.2,
      angle: 30,
    });
    expect(parseLook({ version: 1, veil: { streak: { amount: 0 } } }).veil.streaks).toEqual([]);
    expect(() => parseLook({ veil: { streak: { amount: 7 } } })).toThrow(/veil\.streaks\[0\]\.amount/);
    expect(() => parseLook({ veil: { streak: 7 } })).toThrow(SettingError);
  });

  it('reads weights of passes, and refuses what is none', () => {
    const read = (text: string): unknown =>
      getSetting(assignSetting(defaultLook(), `veil.feed.passes=${text}`), 'veil.feed.passes');
    expect(read('emission, hero:specular : 0.5,a:b')).toEqual({
      emission: 1,
      'hero:specular': 0.5,
      'a:b': 1,
    });
    expect(read('none')).toEqual({});
    for (const wrong of ['emission:17', 'emission:-1', ','])
      expect(() => read(wrong)).toThrow(/passes with weights from 0 to 16/);
  });

  it('has settings of every element, whether or not those behind it have any', () => {
    const look = assignSetting(defaultLook(), 'elements[2].opacity=0.5');
    expect(look.elements.map(({ opacity }) => opacity)).toEqual([1, 1, 0.5]);
    const passes = assignSetting(look, 'elements[1].passes.left.glow.gain=1');
    expect(getSetting(passes, 'elements[1].passes.left.glow.gain')).toBe(1);
    const twice = assignSetting(passes, 'elements[1].corrections[0].exposure=1');
    expect(getSetting(twice, 'elements[1].corrections[0].exposure')).toBe(1);
    expect(() => assignSetting(look, 'elements[40].opacity=0.5')).toThrow(SettingError);
  });

  it('takes a mask away from corrections, too', () => {
    const masks = [{ id: 'lamp', name: 'Lamp', shapes: [] }];
    const look = [
      `masks=${JSON.stringify(masks)}`,
      'elements[1].mask=lamp',
      'elements[0].corrections[0].mask=lamp',
    ].reduce(assignSetting, defaultLook());
    const { elements } = withoutMask(look, 'lamp');
    expect([elements[1]!.mask, elements[0]!.corrections[0]!.mask]).toEqual(['', '']);
  });

  it.each([
    [{ veil: { bloom: { amont: 1 } } }, /veil\.bloom: amont is not a setting/],
    [{ veil: { bloom: { amount: 2 } } }, /veil\.bloom\.amount: a number from 0 to 1/],
    [{ veil: { bloom: { amount: '0.1' } } }, /veil\.bloom\.amount: a number from 0 to 1/],
    [{ veil: { mode: 'both' } }, /veil\.mode: one of keep, add is wanted/],
    [{ veil: { on: 1 } }, /veil\.on: true or false/],
    [{ version: 3 }, /version 3; this program knows up to 2/],
    [{ haze: {} }, /haze is not a setting/],
    [[], /the look/],
    [null, /the look/],
    ['look', /the look/],
  ])('%j is refused in words', (data, message) => {
    expect(() => parseLook(data, 'my.json')).toThrow(SettingError);
    expect(() => parseLook(data, 'my.json')).toThrow(message);
  });

  it('answers any JSON with a look or a typed error', () => {
    const shapes = fc.oneof(
      fc.jsonValue(),
      fc.record({ veil: fc.jsonValue(), film: fc.jsonValue() }),
      fc.record({ veil: fc.record({ feed: fc.jsonValue(), bloom: fc.jsonValue() }) }),
    );
    fc.assert(
      fc.property(shapes, (data) => {
        try {
          expect(parseLook(data).version).toBe(LOOK_VERSION);
        } catch (error) {
          expect(error).toBeInstanceOf(SettingError);
          expect((error as BokeluxError).line).toMatch(/\w/);
        }
      }),
      { numRuns: 500 },
    );
  });
});

describe('changing one setting', () => {
  it('leaves the old look as it was', () => {
    const look = defaultLook();
    const next = setSetting(look, 'veil.feed.threshold', 4);
    expect(getSetting(next, 'veil.feed.threshold')).toBe(4);
    expect(getSetting(look, 'veil.feed.threshold')).toBe(1);
    expect(next.film).toBe(look.film);
  });

  it.each([
    ['veil.bloom.amount', 1.5],
    ['veil.bloom.amount', NaN],
    ['veil.bloom.amount', true],
    ['veil.on', 0],
    ['film.view', 'sepia'],
    ['plate.pass', ''],
  ])('%s = %p is refused', (path, value) => {
    expect(() => setSetting(defaultLook(), path, value)).toThrow(SettingError);
  });

  it('names near misses', () => {
    expect(() => settingAt('bloom.amount')).toThrow(SettingError);
    try {
      settingAt('bloom.amount');
    } catch (error) {
      expect((error as SettingError).todo).toBe('Did you mean veil.bloom.amount?');
    }
  });

  it.each([
    ['veil.bloom.amount=0.02', 0.02],
    ['veil.bloom.amount = 2e-2 ', 0.02],
    ['veil.on=false', false],
    ['veil.feed.pass=emission', 'emission'],
    ['film.view=filmic', 'filmic'],
    ['plate.exposure=-1.5', -1.5],
  ])('takes %s from a command line', (text, value) => {
    expect(getSetting(assignSetting(defaultLook(), text), text.slice(0, text.indexOf('=')).trim())).toBe(
      value,
    );
  });

  it.each([
    'veil.bloom.amount',
    '=3',
    'veil.bloom.amount=',
    'veil.bloom.amount=a lot',
    'veil.on=yes',
    'no.such=1',
  ])('refuses %s', (text) => {
    expect(() => assignSetting(defaultLook(), text)).toThrow(SettingError);
  });
});

describe('settings of single passes', () => {
  it('are at their defaults until something is said, and take dots in names', () => {
    const look = defaultLook();
    expect(getSetting(look, 'plate.passes.diffuse.gain')).toBe(0);
    const next = setSetting(look, 'plate.passes.left.diffuse.gain', 1.5);
    expect(getSetting(next, 'plate.passes.left.diffuse.gain')).toBe(1.5);
    expect(getSetting(next, 'plate.passes.left.diffuse.on')).toBe(true);
    expect(next.elements[0]!.passes['left.diffuse']).toMatchObject({
      gain: 1.5,
      tint: '#ffffff',
      mode: 'add',
    });
    expect(parseLook(JSON.parse(JSON.stringify(next)))).toEqual(next);
  });

  it.each([
    ['plate.passes.emission.on=false', false],
    ['plate.passes.emission.tint=#FF8800', '#FF8800'],
    ['plate.passes.emission.mode=screen', 'screen'],
    ['plate.source=sum', 'sum'],
    ['plate.clamp=25', 25],
    ['plate.background=none', 'none'],
    ['plate.background=#102030', '#102030'],
    ['plate.mask=none', ''],
  ])('takes %s from a command line', (text, value) => {
    expect(getSetting(assignSetting(defaultLook(), text), text.slice(0, text.indexOf('=')))).toBe(value);
  });

  it('takes curves, orders and masks from a command line', () => {
    const curve = assignSetting(defaultLook(), 'plate.curve=-4:-4, 0:0.5, 4:4');
    expect(curve.plate.curve).toEqual([
      [-4, -4],
      [0, 0.5],
      [4, 4],
    ]);
    expect(assignSetting(curve, 'plate.curve=none').plate.curve).toEqual([]);
    expect(assignSetting(curve, 'plate.order=emission, diffuse').elements[0]!.order).toEqual([
      'emission',
      'diffuse',
    ]);
    const shape = { kind: 'ellipse', centre: [0.5, 0.5], radii: [0.2, 0.1] };
    const masks = [{ id: 'lamp', name: 'Lamp', shapes: [shape] }];
    const masked = assignSetting(defaultLook(), `masks=${JSON.stringify(masks)}`);
    expect(masked.masks[0]!.shapes[0]).toMatchObject({ feather: 0.1, combine: 'add', invert: false });
  });

  it.each([
    ['plate.passes.emission.shine', /no setting plate\.passes\.emission\.shine/],
    ['plate.passes.on', /no setting plate\.passes\.on/],
    ['plate.passes..on', /no setting/],
  ])('says that there is no %s', (path, message) => {
    expect(() => settingAt(path)).toThrow(message);
  });

  it.each([
    'plate.passes.emission.tint=red',
    'plate.passes.emission.gain=20',
    'plate.curve=1:2,1:3',
    'plate.curve=left',
    'plate.background=plate:',
    'masks=[{"id":"a"}]',
    'masks=[{"id":"a","name":"A","shapes":[]},{"id":"a","name":"B","shapes":[]}]',
    'masks={',
    'plate.order=a,,b',
  ])('refuses %s', (text) => {
    expect(() => assignSetting(defaultLook(), text)).toThrow(SettingError);
  });

  it('names the pass and the setting of a look that does not fit', () => {
    expect(() => parseLook({ plate: { passes: { emission: { gain: 99 } } } })).toThrow(
      /elements\[0\]\.passes\.emission\.gain: a number from -12 to 12/,
    );
    expect(() => parseLook({ plate: { passes: { emission: { gian: 1 } } } })).toThrow(
      /gian is not a setting/,
    );
  });
});

describe('what settings say of themselves', () => {
  it.each(SETTINGS.map((setting) => [setting.path, setting] as const))('%s makes sense', (_, setting) => {
    expect(setting.label).toMatch(/^([A-Z]|f-stop)/);
    expect(setting.help.length).toBeGreaterThan(15);
    expect(setting.help).not.toMatch(/\.$/);
    if (setting.kind === 'choice')
      expect(setting.options.map(({ value }) => value)).toContain(setting.default);
    if (setting.kind !== 'number') return;
    expect(setting.min).toBeLessThan(setting.max);
    expect(setting.default).toBeGreaterThanOrEqual(setting.min);
    expect(setting.default).toBeLessThanOrEqual(setting.max);
    if (setting.scale === 'log') expect(setting.floor ?? setting.min).toBeGreaterThan(0);
    if (setting.band) {
      expect(setting.band.min).toBeGreaterThanOrEqual(setting.min);
      expect(setting.band.max).toBeLessThanOrEqual(setting.max);
      expect(setting.band.source).toMatch(/\w/);
    }
  });

  // Source: ISO 9358 (veil glare index): 0.5 % for clean coated to 5 % for dirty uncoated lenses.
  it('the band of the bloom is that of real lenses', () => {
    const amount = settingAt('veil.bloom.amount');
    expect(amount.kind === 'number' && amount.band).toMatchObject({ min: 0.005, max: 0.05 });
  });

  it('are listed for the terminal and the docs', () => {
    for (const { path } of SETTINGS) {
      expect(describeSettings()).toContain(path);
      expect(settingsTable()).toContain(`| \`${path}\` |`);
    }
  });
});

describe('settings of things in a list', () => {
  it('are made as they are first set, with the defaults of their others', () => {
    const look = ['veil.stack[0].radius=0.02', 'veil.stack[1].amount=0.01'].reduce(
      assignSetting,
      defaultLook(),
    );
    expect(look.veil.stack.map(({ radius, amount }) => [radius, amount])).toEqual([
      [0.02, 0],
      [0.02, 0.01],
    ]);
    expect(getSetting(look, 'veil.stack[1].amount')).toBe(0.01);
    // What is not there has its default.
    expect(getSetting(look, 'veil.stack[5].amount')).toBe(0);
    expect(parseLook(JSON.parse(JSON.stringify(look)))).toEqual(look);
  });

  it('are known by their place', () => {
    expect(settingAt('veil.stack[2].radius')).toMatchObject({
      group: 'Layer 3',
      path: 'veil.stack[2].radius',
    });
    expect(() => settingAt('veil.stack[0].colour')).toThrow(SettingError);
    expect(() => settingAt('veil.stack.radius')).toThrow(/Did you mean|no setting/);
  });

  it('come one after the other', () => {
    expect(() => assignSetting(defaultLook(), 'veil.stack[3].amount=0.1')).toThrow('the list holds 0');
  });

  it('are held to their range, in files as well', () => {
    expect(() => assignSetting(defaultLook(), 'veil.stack[0].amount=3')).toThrow('from 0 to 1');
    expect(() => parseLook({ veil: { stack: [{}, { radius: 9 }] } })).toThrow(
      'veil.stack[1].radius: a number from 0.0002 to 0.5',
    );
    expect(() => parseLook({ veil: { stack: [{ glow: 1 }] } })).toThrow('glow is not a setting');
  });
});

describe('a mask that is taken away', () => {
  it('is missed by nothing that was held to it', () => {
    const masks = 'masks=[{"id":"a","name":"A","shapes":[]},{"id":"b","name":"B","shapes":[]}]';
    const held = ['plate.mask=a', 'veil.feed.mask=b', 'veil.halo.feed.mask=a'];
    const look = withoutMask([masks, ...held].reduce(assignSetting, defaultLook()), 'a');
    expect(look.masks.map(({ id }) => id)).toEqual(['b']);
    expect([look.plate.mask, look.veil.feed.mask, look.veil.halo.feed.mask]).toEqual(['', 'b', '']);
  });
});
