import { exposure } from './exposure';
import { gradingShape } from './grading';
import { curve, mask, number, section } from './setting';

const plain = { factor: 1, unit: '', digits: 2 };

const linear = (label: string, help: string, standard: number, shown = plain) =>
  number({ label, help, unit: 'scene-linear', min: -100, max: 10000, step: 0.01, default: standard, shown });

/** Levels: `out low + (out high - out low) * ((x - in low) / (in high - in low)) ^ (1 / gamma)`. */
export const levelsShape = {
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

export const curveSetting = curve({
  label: 'Curve',
  help: 'Points in stops from middle grey, joined by a monotone curve; none leaves the light alone',
});

/** Contrast about a pivot. */
export const contrastShape = {
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
};

/** What may be done to an element before the lens. */
export const correctionShape = {
  exposure: exposure('Brightens or darkens the element alone'),
  offset: number({
    label: 'Offset',
    help: 'Light that is added to every channel, where the element is',
    unit: 'scene-linear',
    min: -10,
    max: 10,
    step: 0.001,
    default: 0,
    shown: { factor: 1, unit: '', digits: 3 },
  }),
  ...contrastShape,
  ...gradingShape,
  levels: section('Levels', levelsShape),
  saturation: number({
    label: 'Saturation',
    help: 'Multiplies the distance from grey; no channel is driven below zero',
    unit: 'factor',
    min: 0,
    max: 4,
    step: 0.01,
    default: 1,
    shown: plain,
  }),
  mask: mask({ label: 'Within', help: 'A mask that this correction is held to; none is everywhere' }),
};
