import { number } from './setting';

/** How far a pixel may stand out of its neighbours before it counts as a spike. */
export const despikeLimit = (help: string) =>
  number({
    label: 'Despike',
    help,
    unit: 'times the median',
    min: 0,
    max: 1000,
    step: 0.5,
    default: 0,
    scale: 'log',
    floor: 1,
    shown: { factor: 1, unit: 'x', digits: 1 },
  });
