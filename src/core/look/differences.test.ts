import fc from 'fast-check';
import { differenceLabel, differencesOf, differenceText, takeOver } from './differences';
import { assignSetting, defaultLook, type Look } from './look';

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

describe('taking differences over', () => {
  it('brings single settings, and what is in lists and records, from one look to another', () => {
    const a = lookOf('veil.bloom.amount=0.02', 'veil.stack[0].amount=0.01', 'plate.passes.key.fill.gain=2');
    const b = lookOf('veil.stack[0].amount=0.05', 'film.exposure=1');
    const one = takeOver(b, a, 'veil.stack[0].amount');
    expect(one.veil.stack[0]!.amount).toBe(0.01);
    expect(one.film.exposure).toBe(1);
    const pass = differencesOf(a, b).find(({ path }) => path.includes('key.fill'))!;
    expect(takeOver(b, a, pass.path).elements[0]!.passes).toEqual(a.elements[0]!.passes);
  });

  it('brings a list whole where one of the two is longer', () => {
    const a = lookOf('veil.stack[0].amount=0.01', 'veil.stack[1].amount=0.02');
    const b = lookOf('veil.stack[0].amount=0.05');
    const longer = differencesOf(a, b).find(({ path }) => path === 'veil.stack[1]')!;
    expect(longer.b).toBeUndefined();
    expect(takeOver(b, a, 'veil.stack[1]').veil.stack).toEqual(a.veil.stack);
    expect(takeOver(a, b, 'veil.stack[1]').veil.stack).toEqual(b.veil.stack);
  });

  it('one after the other makes the looks the same', () => {
    const settings = [
      ['veil.bloom.amount=0.03', 'pupil.blades=7'],
      ['veil.stack[0].amount=0.2'],
      ['veil.stack[0].amount=0.2', 'veil.stack[1].radius=0.1'],
      ['film.exposure=-1', 'focus.on=true', 'film.view=srgb'],
      ['plate.passes.a.b.gain=2'],
      ['elements[0].on=true', 'elements[1].on=false'],
    ];
    const some = fc.subarray(settings).map((chosen) => lookOf(...chosen.flat()));
    fc.assert(
      fc.property(some, some, (a, b) => {
        let look = b;
        // A list that is taken over whole takes other differences with it.
        for (let guard = 0; guard < 20; guard++) {
          const [next] = differencesOf(a, look);
          if (!next) break;
          look = takeOver(look, a, next.path);
        }
        expect(differencesOf(a, look)).toEqual([]);
      }),
    );
  });

  it('tells settings and values as people know them', () => {
    expect(differenceLabel('veil.bloom.amount')).toBe('Bloom: Amount');
    expect(differenceLabel('veil.stack[1].amount')).toBe('Layer 2: Amount');
    expect(differenceLabel('veil.stack[1]')).toBe('Layer 2');
    expect(differenceText('veil.bloom.amount', 0.02)).toBe('2.00 %');
    expect(differenceText('veil.bloom.on', false)).toBe('off');
    expect(differenceText('veil.stack[1]', undefined)).toBe('not there');
    expect(differenceText('veil.stack[1]', { amount: 1 })).toBe('there');
  });
});
