import { number } from './setting';

/** An exposure in stops. `help` says what it brightens. */
export function exposure(help: string) {
  return number({
    label: 'Exposure',
    help,
    unit: 'stops',
    min: -12,
    max: 12,
    step: 0.05,
    default: 0,
    shown: { factor: 1, unit: 'st', digits: 2 },
  });
}
