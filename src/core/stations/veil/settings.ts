import { choice, mask, number, pass, section, toggle } from '../../look/setting';
import { NEUTRAL_KELVIN } from '../../color/temperature';

const percent = { factor: 100, unit: '%', digits: 2 };

const amount = (help: string) =>
  number({
    label: 'Amount',
    help,
    unit: 'share of the fed light',
    min: 0,
    max: 1,
    step: 0.0005,
    default: 0,
    band: {
      min: 0.005,
      max: 0.05,
      source: 'veiling glare index of clean coated to dirty uncoated lenses, after ISO 9358',
    },
    scale: 'log',
    floor: 0.0005,
    shown: percent,
  });

const tint = (what: string) =>
  number({
    label: 'Tint',
    help: `Colour temperature of the ${what}: lower is warmer. 6500 K leaves the colour alone; brightness stays`,
    unit: 'kelvin',
    min: 1800,
    max: 25000,
    step: 50,
    default: NEUTRAL_KELVIN,
    scale: 'log',
    shown: { factor: 1, unit: 'K', digits: 0 },
  });

export const veilSettings = section('Veil', {
  on: toggle({ label: 'Veil', help: 'Whether the lens scatters light at all', default: true }),
  mode: choice({
    label: 'Energy',
    help: 'Keep: light that goes into the veil leaves its source, as in a lens. Add: the veil comes on top',
    options: [
      { value: 'keep', label: 'Keep' },
      { value: 'add', label: 'Add' },
    ],
    default: 'keep',
  }),
  feed: section('Feed', {
    threshold: number({
      label: 'Threshold',
      help: 'Only light brighter than this feeds the veil. If much of the picture feeds it, everything glows',
      unit: 'scene-linear',
      min: 0,
      max: 10000,
      step: 0.01,
      default: 1,
      scale: 'log',
      floor: 0.01,
      shown: { factor: 1, unit: '', digits: 2 },
    }),
    knee: number({
      label: 'Knee',
      help: 'How softly the threshold sets in, to either side of it',
      unit: 'stops',
      min: 0,
      max: 4,
      step: 0.05,
      default: 0.5,
      shown: { factor: 1, unit: 'st', digits: 2 },
    }),
    measure: choice({
      label: 'Measure',
      help: 'What is compared with the threshold: the brightest channel catches coloured lamps, luminance goes by the eye',
      options: [
        { value: 'brightest', label: 'Brightest channel' },
        { value: 'luminance', label: 'Luminance' },
      ],
      default: 'brightest',
    }),
    pass: pass({
      label: 'From pass',
      help: 'Where the light is taken from: the picture itself, or a single pass such as emission',
      default: 'beauty',
    }),
    mask: mask({ label: 'Within', help: 'A mask that the feed is held to; none is the whole picture' }),
  }),
  bloom: section('Bloom', {
    amount: amount('Share of the fed light that is spread around its source'),
    radius: number({
      label: 'Core radius',
      help: 'Where the bloom begins to fall off; its reach has no end but the picture',
      unit: 'share of the picture height',
      min: 0.0002,
      max: 0.25,
      step: 0.0001,
      default: 0.006,
      scale: 'log',
      shown: { factor: 100, unit: '% h', digits: 2 },
    }),
    falloff: number({
      label: 'Fall-off',
      help: 'Exponent of the distance: 2 is the inverse square of veiling glare, higher stays closer to the source',
      unit: 'exponent',
      min: 1.5,
      max: 4,
      step: 0.05,
      default: 2,
      band: { min: 2, max: 3, source: 'common practice' },
      shown: { factor: 1, unit: '', digits: 2 },
    }),
    tint: tint('bloom'),
  }),
  spikes: section('Spikes', {
    amount: amount('Share of the fed light that the pupil bends into spikes'),
    size: number({
      label: 'Size',
      help: 'Times their physical size, which follows from f-stop and sensor: a real lens has 1, and needs strong lights to show it',
      unit: 'times',
      min: 0.1,
      max: 200,
      step: 0.1,
      default: 1,
      band: { min: 0.5, max: 2, source: 'diffraction at the f-stop; Airy 1835' },
      scale: 'log',
      shown: { factor: 1, unit: 'x', digits: 1 },
    }),
    softness: number({
      label: 'Softness',
      help: 'Blurs the spikes along the angle, more the farther out: perfectly sharp ones look made',
      unit: 'share',
      min: 0,
      max: 1,
      step: 0.01,
      default: 0.1,
      shown: { factor: 100, unit: '%', digits: 0 },
    }),
    saturation: number({
      label: 'Colour',
      help: 'Strength of the colours that diffraction gives: 0 none, 1 as they are',
      unit: 'share',
      min: 0,
      max: 2,
      step: 0.01,
      default: 1,
      band: { min: 0.5, max: 1, source: 'diffraction; less is common where lights are large' },
      shown: { factor: 100, unit: '%', digits: 0 },
    }),
    tint: tint('spikes'),
  }),
});
