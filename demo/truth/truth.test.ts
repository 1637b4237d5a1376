import { bokehAt, DISTANCES } from './bokeh';
import { PAIRS, type Pair } from './pairs';

// Source: the thin lens by its geometry, Potmesil & Chakravarty (1981).
describe('depth of field against a traced lens', () => {
  it.each(PAIRS.flatMap((pair) => DISTANCES.map((distance): [Pair, number] => [pair, distance])))(
    'the disc of a lamp at (%j, %d m) has the diameter of the formula, traced and computed',
    async (pair, distance) => {
      const { formula, traced, computed } = await bokehAt(pair, distance);
      expect(Math.abs(traced - formula)).toBeLessThan(0.01 * formula + 0.001);
      // Up to a radius of half a pixel and a little, light stays in its pixel.
      if (formula > 1.15) expect(Math.abs(computed - formula)).toBeLessThan(0.15);
      else expect(computed).toBeLessThan(formula + 0.15);
    },
  );
});
