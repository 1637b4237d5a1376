import { choice, number, section, toggle } from '../../look/setting';

export const filmSettings = section('Film', {
  on: toggle({ label: 'Film', help: 'Whether exposure and view of the film apply', default: true }),
  exposure: number({
    label: 'Exposure',
    help: 'Brightens or darkens what comes out of the lens, in every printed file',
    unit: 'stops',
    min: -12,
    max: 12,
    step: 0.05,
    default: 0,
    shown: { factor: 1, unit: 'st', digits: 2 },
  }),
  view: choice({
    label: 'View',
    help: 'How scene light becomes display light, on the screen and in PNG; OpenEXR stays scene-linear',
    options: [
      { value: 'srgb', label: 'sRGB' },
      { value: 'filmic', label: 'Filmic' },
      { value: 'clip', label: 'Linear, clipped' },
    ],
    default: 'srgb',
  }),
});
