import { PUPILS } from '../stations/pupil/starting-points';
import { VEILS } from '../stations/veil/starting-points';
import { assignSetting, defaultLook, SETTINGS, type Look } from './look';
import { applyRemedies, realityCheck } from './reality';
import { applyPupil, applyVeil } from './starting-point';

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

describe('the reality check', () => {
  it('finds nothing in a look that changes nothing', () => {
    expect(realityCheck(defaultLook(), { feed: { pixels: 0.3, kind: 'scene' } })).toEqual([]);
  });

  // Each value lies beyond a band of common practice or of the source that stands beside it in the settings.
  it.each([
    ['focus.on=true camera.fStop=0.5', 'camera.fStop', 'focus', 'no lens opens so wide'],
    ['focus.on=true focus.amount=3', 'focus.amount', 'focus', 'two lenses'],
    ['focus.on=true pupil.blades=3', 'pupil.blades', 'pupil', 'so few blades'],
    ['plate.clamp=2', 'elements[0].clamp', 'plate', 'lose the light'],
    // ISO 9358: veiling glare of lenses, up to about 5 %.
    ['veil.bloom.amount=0.2', 'veil.bloom.amount', 'veil', 'fog'],
    ['veil.bloom.amount=0.01 veil.bloom.falloff=1.5', 'veil.bloom.falloff', 'veil', 'with the square'],
    ['veil.spikes.amount=0.5 veil.spikes.size=30', 'veil.spikes.size', 'veil', 'drawn on'],
    ['veil.spikes.amount=0.5 pupil.dust.amount=0.2', 'pupil.dust.amount', 'pupil', 'cleaned'],
    ['veil.diffusion.amount=0.4', 'veil.diffusion.amount', 'veil', 'filter'],
    ['veil.stack[0].amount=0.01 veil.stack[1].amount=0.3', 'veil.stack[1].amount', 'veil', 'fog'],
  ])('says of %s what is wrong with %s', (settings, path, station, why) => {
    const look = lookOf(...settings.split(' '));
    const finding = realityCheck(look).find((one) => one.path === path)!;
    expect(finding.station).toBe(station);
    expect(finding.why).toContain(why);
    expect(finding.source).not.toBe('');
    const back = applyRemedies(look, realityCheck(look));
    expect(realityCheck(back)).toEqual([]);
  });

  it.each([
    ['amount', ['veil.bloom.amount=0.04', 'veil.halo.amount=0.01'], 'veil.bloom.amount', 'gone'],
    ['exposure', ['plate.exposure=6'], 'plate.exposure', 'lifts'],
    ['exposure', ['film.exposure=6'], 'film.exposure', 'lifts'],
    ['view', ['film.view=srgb'], 'film.view', 'shoulder'],
  ] as const)('puts flat lamps down to the %s, and gives their cores back', (cause, settings, path, why) => {
    const look = lookOf(...settings);
    const cores = { flat: { cause, count: 3, x: 40, y: 20 }, clamped: 0 };
    const [finding] = realityCheck(look, { cores }).filter(({ label }) => label === 'Lamp cores');
    expect(finding).toMatchObject({ path });
    expect(finding!.value).toContain('3 lamps are flat white, first at 40, 20');
    expect(finding!.why).toContain(why);
    const back = applyRemedies(look, [finding!]);
    expect(back).not.toEqual(look);
    if (cause === 'exposure') expect([back.plate.exposure, back.film.exposure]).toEqual([0, 0]);
    if (cause === 'view') expect(back.film.view).toBe('filmic');
    if (cause === 'amount') expect([back.veil.bloom.amount, back.veil.halo.amount]).toEqual([0.02, 0.005]);
  });

  it('says of a clamp that it has taken the lamps, where they feed anything', () => {
    const cores = { flat: undefined, clamped: 0.9 };
    const of = (...settings: string[]) =>
      realityCheck(lookOf('plate.clamp=20', ...settings), { cores }).filter(
        ({ label }) => label === 'Clamp: lamps',
      );
    const [finding] = of('veil.streaks[0].amount=0.01');
    expect(finding!.value).toContain('90 % of what would feed');
    expect(applyRemedies(lookOf('plate.clamp=20'), [finding!]).elements[0]!.clamp).toBe(0);
    expect(of()).toEqual([]);
  });

  it('says nothing of what has no say in the picture', () => {
    for (const settings of [
      ['camera.fStop=0.5'],
      ['pupil.dust.amount=0.2', 'focus.on=true', 'focus.marks=false'],
      ['veil.bloom.amount=0.35', 'veil.bloom.law=eye'],
      ['veil.bloom.falloff=4'],
      ['veil.bloom.amount=0.5', 'veil.bloom.on=false'],
      ['veil.bloom.amount=0.5', 'veil.on=false'],
      ['veil.spikes.size=100', 'pupil.blades=3'],
      ['veil.bloom.amount=0.01', 'veil.bloom.law=eye', 'veil.bloom.falloff=4'],
    ])
      expect(realityCheck(lookOf(...settings))).toEqual([]);
  });

  it('finds dust that shows in the blur, and a focus within the focal length', () => {
    const dusty = lookOf('pupil.dust.amount=0.2', 'focus.on=true', 'focus.marks=true');
    expect(realityCheck(dusty).map(({ path }) => path)).toEqual(['pupil.dust.amount']);
    const near = lookOf('focus.on=true', 'camera.focalLength=200', 'camera.focusDistance=0.2');
    const found = realityCheck(near).filter(({ source }) => source === 'thin-lens equation');
    expect(found.map(({ path }) => path)).toEqual(['camera.focusDistance']);
    expect(realityCheck(applyRemedies(near, found))).not.toContainEqual(found[0]);
  });

  it('adds up what glares, and brings all of it back in proportion', () => {
    const look = lookOf('veil.bloom.amount=0.04', 'veil.halo.amount=0.02', 'veil.stack[0].amount=0.04');
    const [finding, ...others] = realityCheck(look);
    expect(others).toEqual([]);
    expect(finding!.value).toBe('10 %');
    const { bloom, halo, stack } = applyRemedies(look, [finding!]).veil;
    expect([bloom.amount, halo.amount, stack[0]!.amount]).toEqual([0.02, 0.01, 0.02]);
  });

  // Common practice: under about 1 % of the pixels feed, unless what feeds is bright by itself.
  it('warns when much of the picture feeds, and asks for a threshold', () => {
    const look = lookOf('veil.bloom.amount=0.01');
    expect(realityCheck(look, { feed: { pixels: 0.009, kind: 'lamps' } })).toEqual([]);
    const scene = { feed: { pixels: 0.12, kind: 'scene' } } as const;
    const [finding] = realityCheck(look, scene);
    expect(finding).toMatchObject({
      path: 'veil.feed.threshold',
      value: 'a lit scene: 12 % of the pixels feed',
      remedy: { threshold: 0.008 },
    });
    const own = lookOf('veil.diffusion.amount=0.1');
    expect(realityCheck(own, scene)).toEqual([]);
    for (const kind of ['glints', 'subject', 'areas'] as const)
      expect(realityCheck(look, { feed: { pixels: 0.12, kind } })).toEqual([]);
  });

  it('has words wherever a slider goes beyond a band', () => {
    for (const setting of SETTINGS) {
      if (setting.kind !== 'number' || !setting.band) continue;
      const { band, max } = setting;
      expect([setting.path, band.max < max && band.above === undefined]).toEqual([setting.path, false]);
    }
  });
});

describe('starting points', () => {
  it.each(VEILS)('$name lies within what real lenses do', (point) => {
    const look = applyVeil(lookOf('focus.on=true'), point);
    expect(realityCheck(look)).toEqual([]);
    expect(look.veil).not.toEqual(defaultLook().veil);
  });

  it.each(PUPILS)('$name is a pupil that real lenses have', (point) => {
    const look = applyPupil(lookOf('veil.spikes.amount=0.5', 'focus.on=true'), point);
    expect(realityCheck(look)).toEqual([]);
  });

  it('leave what feeds the veil, the camera and the plate as they are', () => {
    const look = lookOf('veil.feed.threshold=7', 'veil.mode=add', 'camera.fStop=4', 'plate.exposure=1');
    const begun = applyVeil(look, VEILS[2]!);
    expect(begun.veil.feed.threshold).toBe(7);
    expect(begun.veil.mode).toBe('add');
    expect([begun.camera, begun.plate, begun.focus]).toEqual([look.camera, look.plate, look.focus]);
    expect(applyPupil(begun, PUPILS[1]!).veil).toEqual(begun.veil);
  });
});
