import { bokehAt, DISTANCES } from './bokeh';
import { isTraced, measure, pinholePlate } from './measure';
import { PAIRS, PUPIL_NAMES, type Pair } from './pairs';

// Source: the pictures that the tracer made through a real aperture (`npm run truth trace`); the thin lens by its
// geometry, Potmesil & Chakravarty (1981).
describe('depth of field against a traced lens', () => {
  const plate = pinholePlate();

  it.each(PAIRS.filter(isTraced).flatMap((pair) => PUPIL_NAMES.map((pupil) => ({ ...pair, pupil }))))(
    'at f/$fStop focused at $focus m with $pupil comes near it',
    async ({ pupil, ...pair }) => {
      const { likeness } = await measure(plate, pair, pupil);
      expect(likeness.agreement).toBeGreaterThan(45);
      expect(likeness.recoverable).toBeGreaterThan(pupil === 'disc' ? 35 : 36);
      expect(likeness.ssim).toBeGreaterThan(0.955);
      // What a pinhole does not show is not guessed worse than this.
      expect(likeness.psnr).toBeGreaterThan(27);
    },
  );

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
