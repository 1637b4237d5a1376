import { number } from './setting';

/** A turn in degrees, clockwise. */
export const turn = (label: string, help: string) =>
  number({
    label,
    help,
    unit: 'degrees',
    min: -180,
    max: 180,
    step: 1,
    default: 0,
    shown: { factor: 1, unit: 'deg', digits: 0 },
  });
