import type { CubeLut } from '../../color/lut';
import { applyView, viewOf, type View } from '../../color/view';
import { toRgb } from '../../image/rgb';
import { seeded } from '../../optics/seeded';
import { displayBytes } from '.';

const COUNT = 20_003;
const next = seeded(9);
/** Light from far below black's end to far above white, some of it negative. */
const light = toRgb(
  [0, 1, 2].map(() =>
    Float32Array.from({ length: COUNT }, (_, i) => (i % 13 === 0 ? -1 : 1) * 2 ** (22 * next() - 14)),
  ),
);

/** The largest difference from the view as it is printed, in steps of a byte. */
function difference(view: View, gain: number): number {
  const exact = new Float32Array(3 * COUNT);
  applyView(view, light, gain, exact);
  const shown = displayBytes(view, light, gain);
  let most = 0;
  exact.forEach((value, at) => {
    most = Math.max(most, Math.abs(shown[4 * Math.floor(at / 3) + (at % 3)]! - 255 * value));
  });
  return most;
}

function lut(kind: 'shaper' | 'cube' | 'both'): CubeLut {
  const values = (count: number): Float32Array => Float32Array.from({ length: 3 * count }, () => next());
  const rising = Float32Array.from({ length: 3 * 40 }, (_, i) => Math.sqrt(Math.floor(i / 3) / 39));
  return {
    domainMin: kind === 'cube' ? [-0.5, 0, 0.1] : [0, 0, 0],
    domainMax: kind === 'cube' ? [2, 1, 1.4] : [1, 1, 1],
    shaper: kind === 'cube' ? undefined : { size: 40, values: rising },
    cube: kind === 'shaper' ? undefined : { size: 9, values: values(9 ** 3) },
    cubeRange: kind === 'both' ? [0.1, 0.8] : undefined,
  };
}

describe('bytes of the screen', () => {
  it.each(['srgb', 'filmic', 'clip'] as const)('are those of the printed view %s', (name) => {
    expect(difference(viewOf(name), 1.3)).toBeLessThanOrEqual(1);
    expect(difference(viewOf(name), 2 ** -9)).toBeLessThanOrEqual(1);
  });

  it.each([
    ['cube', 'linear', 1],
    ['shaper', 'srgb', 0.3],
    ['both', 'acescct', 1],
    ['cube', 'acescct', 0.7],
  ] as const)(
    'are those of a table (%s, %s, strength %d), whichever was shown before',
    (kind, input, strength) => {
      const view = viewOf('lut', { lut: lut(kind), input, strength });
      expect(difference(view, 0.8)).toBeLessThanOrEqual(1);
      expect(difference(viewOf('filmic'), 1)).toBeLessThanOrEqual(1);
      expect(difference(view, 0.8)).toBeLessThanOrEqual(1);
    },
  );

  it('are black and white where light is no number, or has no end', () => {
    const odd = [0, 1, 2].map(() => Float32Array.of(NaN, Infinity, -Infinity, 3e38, 0));
    for (const name of ['srgb', 'filmic', 'clip'] as const)
      expect([...displayBytes(viewOf(name), odd, 4)].filter((_, i) => i % 4 !== 3)).toEqual(
        [0, 255, 0, 255, 0].flatMap((value) => [value, value, value]),
      );
  });
});
