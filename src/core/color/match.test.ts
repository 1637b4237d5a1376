import fc from 'fast-check';
import { matchPatches } from './match';
import { luminance, type Triple } from './primaries';

const light = fc.double({ min: 0.001, max: 20, noNaN: true });
const triple = fc.tuple(light, light, light);

describe('matching by patches', () => {
  it('makes one patch the other, in luminance by exposure and in colour by gains', () => {
    fc.assert(
      fc.property(triple, triple, (picture, reference) => {
        const match = matchPatches(picture, reference);
        // Colours this far apart are refused.
        if (!match) return;
        const { exposure, white } = match;
        const balanced = reference.map((value, c) => value * white[c]!) as Triple;
        expect(luminance(...balanced) / luminance(...reference)).toBeCloseTo(1, 9);
        balanced.forEach((value, c) => expect((value * 2 ** exposure) / picture[c]!).toBeCloseTo(1, 9));
      }),
    );
  });

  it('needs no gains for greys, and refuses black', () => {
    const match = matchPatches([0.4, 0.4, 0.4], [0.1, 0.1, 0.1])!;
    expect(match.exposure).toBeCloseTo(2, 12);
    match.white.forEach((gain) => expect(gain).toBeCloseTo(1, 12));
    expect(matchPatches([0.4, 0.4, 0], [0.1, 0.1, 0.1])).toBeUndefined();
    expect(matchPatches([0.4, 0.4, 0.4], [0.1, NaN, 0.1])).toBeUndefined();
  });
});
