import { exposure } from '../../settings/exposure';
import { colour, mask, number, section, toggle } from '../../settings/setting';
import { contrastShape, curveSetting, levelsShape } from '../../settings/correction';

export const plateSettings = section('Plate', {
  background: colour({
    label: 'Background',
    help: 'What shows through where alpha is below 1; none leaves it black',
    backdrop: true,
    default: 'none',
  }),
  backgroundPrinted: toggle({
    label: 'Background printed',
    help: 'Off: the background is for looking only, and a print has the alpha of the render alone',
    default: true,
  }),
  exposure: exposure('Brightens or darkens the render before the lens; what feeds the veil changes with it'),
  ...contrastShape,
  highlightSaturation: number({
    label: 'Highlights',
    help: 'Saturation of the highlights alone, from one stop over the pivot, full at three; 1 leaves them alone',
    unit: 'factor',
    min: 0,
    max: 3,
    step: 0.01,
    default: 1,
    shown: { factor: 1, unit: 'sat', digits: 2 },
  }),
  highlightLift: number({
    label: 'Lift',
    help: 'Gives clipped lamps of display pictures energy again: what lies just below white is spread up to this many stops over it',
    unit: 'stops',
    min: 0,
    max: 10,
    step: 0.05,
    default: 0,
    shown: { factor: 1, unit: 'st', digits: 2 },
  }),
  curve: curveSetting,
  levels: section('Levels', levelsShape),
  mask: mask({ label: 'Within', help: 'A mask that all of this preparation is held to; none is everywhere' }),
});
