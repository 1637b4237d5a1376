import { exposure } from '../../settings/exposure';
import { choice, section, toggle } from '../../settings/setting';

export const filmSettings = section('Film', {
  on: toggle({ label: 'Film', help: 'Whether exposure and view of the film apply', default: true }),
  exposure: exposure('Brightens or darkens what comes out of the lens, in every printed file'),
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
