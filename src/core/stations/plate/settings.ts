import { number, pass, section } from '../../look/setting';

export const plateSettings = section('Plate', {
  pass: pass({
    label: 'Pass',
    help: 'The pass that goes into the lens; beauty is the whole picture',
    default: 'beauty',
  }),
  exposure: number({
    label: 'Exposure',
    help: 'Brightens or darkens the render before the lens; what feeds the veil changes with it',
    unit: 'stops',
    min: -12,
    max: 12,
    step: 0.05,
    default: 0,
    shown: { factor: 1, unit: 'st', digits: 2 },
  }),
});
