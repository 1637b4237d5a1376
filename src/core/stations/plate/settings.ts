import { exposure } from '../../settings/exposure';
import {
  choice,
  colour,
  curve,
  each,
  mask,
  number,
  order,
  pass,
  section,
  toggle,
} from '../../settings/setting';

const stops = { factor: 1, unit: 'st', digits: 2 };
const plain = { factor: 1, unit: '', digits: 2 };

const linear = (label: string, help: string, standard: number, shown = plain) =>
  number({ label, help, unit: 'scene-linear', min: -100, max: 10000, step: 0.01, default: standard, shown });

/** Levels: `out low + (out high - out low) * ((x - in low) / (in high - in low)) ^ (1 / gamma)`. */
const levels = {
  inLow: linear('In low', 'Light of this value becomes the low end of what comes out', 0),
  inHigh: linear('In high', 'Light of this value becomes the high end of what comes out', 1),
  gamma: number({
    label: 'Gamma',
    help: 'Bends what lies between the two ends: over 1 brightens it, ends stay',
    unit: 'exponent',
    min: 0.1,
    max: 10,
    step: 0.01,
    default: 1,
    scale: 'log',
    shown: plain,
  }),
  outLow: linear('Out low', 'What the low end becomes', 0),
  outHigh: linear('Out high', 'What the high end becomes', 1),
};

const curveSetting = curve({
  label: 'Curve',
  help: 'Points in stops from middle grey, joined by a monotone curve; none leaves the light alone',
});

/** What may be done to one pass before the passes are added up. */
const passShape = {
  on: toggle({ label: 'On', help: 'Whether the pass is part of the sum', default: true }),
  solo: toggle({ label: 'Solo', help: 'The sum is made of the passes that are solo alone', default: false }),
  gain: exposure('Brightens or darkens the pass in the sum'),
  tint: colour({
    label: 'Tint',
    help: 'Multiplies the pass in the sum by a colour; white leaves it alone',
    backdrop: false,
    default: '#ffffff',
  }),
  mode: choice({
    label: 'Mode',
    help: 'Add is what light does. Screen keeps what is under it below white and is meant for display values',
    options: [
      { value: 'add', label: 'Add' },
      { value: 'screen', label: 'Screen' },
    ],
    default: 'add',
  }),
  ...levels,
  curve: curveSetting,
};

export const plateSettings = section('Plate', {
  primaries: choice({
    label: 'Primaries',
    help: 'What primaries the plate is in: as its file says (Rec.709 if it says nothing), or told by hand',
    options: [
      { value: 'file', label: 'As the file says' },
      { value: 'rec709', label: 'Rec.709' },
      { value: 'acescg', label: 'ACEScg' },
      { value: 'aces2065', label: 'ACES 2065-1' },
      { value: 'p3', label: 'P3, D65' },
      { value: 'rec2020', label: 'Rec.2020' },
    ],
    default: 'file',
  }),
  source: choice({
    label: 'Source',
    help: 'Beauty takes the picture as it was rendered; sum adds up its passes as they are set below',
    options: [
      { value: 'beauty', label: 'Beauty' },
      { value: 'sum', label: 'Sum of passes' },
    ],
    default: 'beauty',
  }),
  pass: pass({
    label: 'Pass',
    help: 'The pass that goes into the lens; beauty is the whole picture',
    default: 'beauty',
  }),
  passes: each(passShape),
  order: order({
    label: 'Order',
    help: 'In which order the passes are laid over each other; it matters where one is screened',
  }),
  clamp: number({
    label: 'Clamp',
    help: 'Fireflies: no channel gets brighter than this, the colour stays. 0 is off; it dims real lamps, too',
    unit: 'scene-linear',
    min: 0,
    max: 65504,
    step: 1,
    default: 0,
    band: {
      min: 10,
      max: 100,
      source: 'common practice: about 25',
      below: 'lamps lose the light that bloom and spikes live on',
      above: 'fireflies pass, and each becomes a lamp with spikes of its own',
    },
    scale: 'log',
    floor: 0.5,
    shown: { factor: 1, unit: '', digits: 1 },
  }),
  despike: number({
    label: 'Despike',
    help: 'Pixels brighter than this many times the median of their 3 x 3 neighbours become that median. 0 is off; light of the emission pass is never touched',
    unit: 'times the median',
    min: 0,
    max: 1000,
    step: 0.5,
    default: 0,
    scale: 'log',
    floor: 1,
    shown: { factor: 1, unit: 'x', digits: 1 },
  }),
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
  contrast: number({
    label: 'Contrast',
    help: 'Slope in stops about the pivot: 1 leaves the light alone, 2 doubles every difference in stops',
    unit: 'factor',
    min: 0.1,
    max: 4,
    step: 0.01,
    default: 1,
    shown: plain,
  }),
  pivot: number({
    label: 'Pivot',
    help: 'The light that contrast leaves alone; 0.18 is middle grey',
    unit: 'scene-linear',
    min: 0.001,
    max: 100,
    step: 0.01,
    default: 0.18,
    scale: 'log',
    shown: { factor: 1, unit: '', digits: 3 },
  }),
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
    shown: stops,
  }),
  curve: curveSetting,
  levels: section('Levels', levels),
  mask: mask({ label: 'Within', help: 'A mask that all of this preparation is held to; none is everywhere' }),
});
