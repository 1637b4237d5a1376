import { bokehAt, DISTANCES } from './bokeh';
import { measure, measureRow, pinholePlate, stackedPlate } from './measure';
import { PAIRS, PUPIL_NAMES, ROW_PAIRS, STACK_NAMES, type Pair, type PupilName } from './pairs';

describe('depth of field against a traced lens', () => {
  const plate = pinholePlate();

  // Source: the demo's own path tracer, by rays through a real aperture (Cook, Porter & Carpenter 1984, Distributed ray
  // tracing); structural similarity after Wang, Bovik, Sheikh & Simoncelli (2004).
  it.each(PAIRS.flatMap((pair) => PUPIL_NAMES.map((pupil): [Pair, PupilName] => [pair, pupil])))(
    'the quay at (%j, %s) is what the lens saw of it',
    async (pair, pupil) => {
      const { likeness } = await measure(await plate, pair, pupil);
      expect(likeness.agreement).toBeGreaterThan(45);
      expect(likeness.recoverable).toBeGreaterThan(pupil === 'disc' ? 35 : 36);
      expect(likeness.ssim).toBeGreaterThan(0.955);
      expect(likeness.share).toBeGreaterThan(0.6);
    },
  );

  // Source: the same tracer, of a scene in which no part covers itself. Each element is traced by itself, the truth through a
  // real aperture with all of them.
  it.each(
    STACK_NAMES.flatMap((stack) =>
      ROW_PAIRS.flatMap((pair) => PUPIL_NAMES.map((pupil) => [stack, pair, pupil] as const)),
    ),
  )(
    'the row of %s elements at (%j, %s) is what the lens saw, behind edges too',
    async (stack, pair, pupil) => {
      const { likeness } = await measureRow(await stackedPlate(stack), pair, pupil);
      expect(likeness.agreement).toBeGreaterThan(52);
      expect(likeness.psnr).toBeGreaterThan(stack === 'three' ? 49 : 43.5);
      expect(likeness.ssim).toBeGreaterThan(0.996);
    },
  );

  // Source: the thin lens by its geometry, Potmesil & Chakravarty (1981).
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
