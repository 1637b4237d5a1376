import { streakRows } from '../../../optics/streak';
import { feedOf, type PartDefinition, type PartFactory } from './part';
import { partColour } from './part-colour';
import { halfKernel } from './pixel-kernel';

const make: PartFactory = (look, { frame }) => {
  const { on, amount, length, thickness, angle, fading, feed } = look.veil.streak;
  const line = {
    length: length * frame.height,
    thickness: thickness * frame.height,
    angle: (angle * Math.PI) / 180,
    fading,
  };
  return [
    {
      name: 'veil.streak',
      on,
      amount,
      ...partColour(look.veil.streak),
      ...feedOf(look, feed),
      key: JSON.stringify(line),
      kernels: (width, height) => [halfKernel(streakRows(line, width, height), width)],
    },
  ];
};

/** A line through every light, as a cylinder in the lens draws it. */
export const streak: PartDefinition = { id: 'streak', isGlare: true, make };
