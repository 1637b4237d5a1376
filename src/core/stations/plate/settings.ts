import { exposure } from '../../look/exposure';
import { pass, section } from '../../look/setting';

export const plateSettings = section('Plate', {
  pass: pass({
    label: 'Pass',
    help: 'The pass that goes into the lens; beauty is the whole picture',
    default: 'beauty',
  }),
  exposure: exposure('Brightens or darkens the render before the lens; what feeds the veil changes with it'),
});
