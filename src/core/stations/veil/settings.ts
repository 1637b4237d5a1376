import { despikeLimit } from '../../settings/despike-limit';
import {
  choice,
  colour,
  image,
  list,
  mask,
  number,
  pass,
  section,
  toggle,
  weights,
  type NumberMeta,
  type RealLensBand,
} from '../../settings/setting';
import { turn } from '../../settings/turn';
import { NEUTRAL_KELVIN } from '../../color/temperature';
import { seed } from '../pupil/settings';

const percent = { factor: 100, unit: '%', digits: 2 };

const GLARE = {
  min: 0.005,
  max: 0.05,
  source: 'veiling glare index of clean coated to dirty uncoated lenses, after ISO 9358',
  above: 'more than the dirtiest lens scatters: it reads as fog',
};
/** What is one of several parts may be little. */
const SOME_GLARE = { ...GLARE, min: 0.0005 };

const amount = (help: string, band: RealLensBand = SOME_GLARE) =>
  number({
    label: 'Amount',
    help,
    unit: 'share of the fed light',
    min: 0,
    max: 1,
    step: 0.0005,
    default: 0,
    band,
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

/** The colour of what a part spreads. Spikes have a saturation of their own. */
const tints = (what: string) => ({
  tint: tint(what),
  tintColour: colour({
    label: 'Tint colour',
    help: `Any colour for the ${what}; white leaves it alone, and brightness stays`,
    backdrop: false,
    default: '#ffffff',
  }),
  tintShare: number({
    label: 'Tint share',
    help: 'How much of that colour there is in it',
    unit: 'share',
    min: 0,
    max: 1,
    step: 0.01,
    default: 1,
    shown: { factor: 100, unit: '%', digits: 0 },
  }),
});

const colours = (what: string) => ({
  ...tints(what),
  saturation: number({
    label: 'Saturation',
    help: `Of the light that is seen in the ${what}: 0 is grey, 1 as it is; brightness stays`,
    unit: 'share',
    min: 0,
    max: 2,
    step: 0.01,
    default: 1,
    shown: { factor: 100, unit: '%', digits: 0 },
  }),
});

const threshold = (help: string, least: number, label = 'Threshold') =>
  number({
    label,
    help,
    unit: 'scene-linear',
    min: 0,
    max: 10000,
    step: 0.01,
    default: least,
    scale: 'log',
    floor: 0.01,
    shown: { factor: 1, unit: '', digits: 2 },
  });

/** What feeds the veil, one part of it, or another effect. */
export const feedShape = (least: number) => ({
  threshold: threshold(
    'Only light brighter than this feeds. If much of the picture feeds, everything glows',
    least,
  ),
  ...feedAbove(),
});

/** What there is to a feed besides its threshold. */
const feedAbove = () => ({
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
  passes: weights({
    label: 'Sum of passes',
    help: 'Several passes feed at once, each with its weight, in place of the one above',
    none: 'the pass above alone',
    most: 16,
  }),
  mask: mask({ label: 'Within', help: 'A mask that the feed is held to; none is the whole picture' }),
  ceiling: number({
    label: 'Ceiling',
    help: 'The brightest channel of what feeds is held under this; the picture itself is not. 0 is none',
    unit: 'scene-linear',
    min: 0,
    max: 100000,
    step: 0.01,
    default: 0,
    scale: 'log',
    floor: 0.01,
    shown: { factor: 1, unit: '', digits: 2 },
  }),
  preblur: number({
    label: 'Pre-blur',
    help: 'Standard deviation of a blur before the brightness is measured: what is small must be brighter to feed, and does not flicker',
    unit: 'share of the picture height',
    min: 0,
    max: 0.05,
    step: 0.0001,
    default: 0,
    scale: 'log',
    floor: 0.0001,
    shown: { factor: 100, unit: '% h', digits: 2 },
  }),
  despike: despikeLimit(
    'For the feed alone: pixels brighter than this many times the median of their 3 x 3 neighbours feed as that median. 0 is off',
  ),
});

/** A part's own feed; until it is its own, the part shares the common one. */
const ownFeed = (label: string, { own = false, least = 1 } = {}) =>
  section(`${label} feed`, {
    own: toggle({
      label: 'Own feed',
      help: `Whether the ${label.toLowerCase()} has a feed of its own in place of the common one`,
      default: own,
    }),
    ...feedShape(least),
  });

const partSwitch = (label: string) =>
  toggle({ label: 'On', help: `Whether there is any ${label.toLowerCase()}`, default: true });

/** A length as a share of the picture's height. */
const length = (
  options: Pick<NumberMeta, 'label' | 'help' | 'min' | 'max' | 'default'> & Partial<Pick<NumberMeta, 'band'>>,
) =>
  number({
    unit: 'share of the picture height',
    step: 0.0001,
    scale: 'log',
    shown: { factor: 100, unit: '% h', digits: 2 },
    ...options,
  });

const falloff = () =>
  number({
    label: 'Fall-off',
    help: 'Exponent of the distance: 2 is the inverse square of veiling glare, higher stays closer to the source',
    unit: 'exponent',
    min: 1.5,
    max: 4,
    step: 0.05,
    default: 2,
    band: {
      min: 2,
      max: 3,
      source: 'common practice',
      below: 'glare falls at least with the square: less lies over the picture like fog',
      above: 'it stays so close to the lamp that it reads as a blurred edge, not as light',
    },
    shown: { factor: 1, unit: '', digits: 2 },
  });

const coreRadius = (radius: number) =>
  length({
    label: 'Core radius',
    help: 'Where it begins to fall off; its reach has no end but the picture',
    min: 0.0002,
    max: 0.25,
    default: radius,
  });

/** Layers of bloom that may lie on each other. */
export const MOST_LAYERS = 8;

/** Streaks that may lie on each other. */
export const MOST_STREAKS = 16;

const stopColour = (where: string) =>
  colour({
    label: `${where} colour`,
    help: `Of the light ${where === 'Middle' ? 'on the way out' : 'far out'}, over the tint; white leaves it alone, and brightness stays`,
    backdrop: false,
    default: '#ffffff',
  });

/** What each streak has. */
const streakShape = {
  on: partSwitch('streak'),
  amount: amount('Share of the fed light that a cylinder in the lens draws out to a line'),
  length: length({
    label: 'Length',
    help: 'Distance from the light over which it fades: to a third, or by the bell to a half',
    min: 0.005,
    max: 3,
    default: 0.35,
  }),
  back: number({
    label: 'Other side',
    help: 'How long it is to the other side, times its length: 1 is alike, 0 leaves one arm',
    unit: 'times the length',
    min: 0,
    max: 4,
    step: 0.01,
    default: 1,
    shown: { factor: 100, unit: '%', digits: 0 },
  }),
  angle: turn('Angle', 'Turn of the line out of the level, clockwise'),
  thickness: length({
    label: 'Thickness',
    help: 'Across the line, at half its height',
    min: 0.0005,
    max: 0.2,
    default: 0.004,
  }),
  fading: choice({
    label: 'Fading',
    help: 'Exponential: fades evenly and is soon gone. Bell: thins out and reaches farther (Lorentz)',
    options: [
      { value: 'exponential', label: 'Exponential' },
      { value: 'lorentzian', label: 'Bell' },
    ],
    default: 'exponential',
  }),
  ...colours('streak'),
  middleColour: stopColour('Middle'),
  middleAt: number({
    label: 'Middle at',
    help: 'Where the middle colour lies, in lengths from the light; the end colour is reached at three',
    unit: 'lengths',
    min: 0.05,
    max: 2.9,
    step: 0.05,
    default: 1,
    shown: { factor: 1, unit: '', digits: 2 },
  }),
  endColour: stopColour('End'),
  boost: number({
    label: 'Boost',
    help: 'How many times as much of the light over the second threshold is drawn out: only the strongest lamps get long streaks',
    unit: 'times',
    min: 1,
    max: 64,
    step: 0.1,
    default: 1,
    scale: 'log',
    shown: { factor: 1, unit: 'x', digits: 1 },
  }),
  boostAbove: threshold('The second threshold, over which light is boosted', 16, 'Boost over'),
  uneven: number({
    label: 'Unevenness',
    help: 'How much stronger and weaker it is along the line, smoothly, as scratched and worn glass makes it',
    unit: 'share',
    min: 0,
    max: 1,
    step: 0.01,
    default: 0,
    shown: { factor: 100, unit: '%', digits: 0 },
  }),
  unevenSize: length({
    label: 'Uneven over',
    help: 'How far apart its stronger and weaker places lie',
    min: 0.002,
    max: 1,
    default: 0.05,
  }),
  seed: seed('unevenness'),
  flickers: toggle({
    label: 'Flickers',
    help: 'Whether it is uneven in another way in every frame',
    default: false,
  }),
  feed: ownFeed('Streak'),
};

/** How much light goes into spikes, how large they are, and their colours. */
const spikeShape = (help: string) => ({
  amount: amount(help, {
    min: 0.0005,
    max: 1,
    source: 'all light passes the pupil; Goodman, Introduction to Fourier Optics',
  }),
  size: number({
    label: 'Size',
    help: 'Times their physical size, which follows from f-stop and sensor: a real lens has 1, and needs strong lights to show it',
    unit: 'times',
    min: 0.1,
    max: 200,
    step: 0.1,
    default: 1,
    band: {
      min: 0.5,
      max: 2,
      source: 'diffraction at the f-stop; Airy 1835',
      below: 'spikes smaller than this f-stop makes them: they vanish in the lamp',
      above: 'spikes larger than this f-stop and sensor can make: they look drawn on',
    },
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
    band: {
      min: 0,
      max: 1,
      source: 'diffraction; less is common where lights are large',
      above: 'more colour than diffraction gives: rainbows instead of light',
    },
    shown: { factor: 100, unit: '%', digits: 0 },
  }),
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
  edge: choice({
    label: 'Outside',
    help: 'What lies outside the picture: black, or its edge drawn on for a part of its height, so that a soft veil does not darken towards it',
    options: [
      { value: 'black', label: 'Black' },
      { value: 'repeat', label: 'Edge drawn on' },
    ],
    default: 'black',
  }),
  feed: section('Feed', feedShape(1)),
  bloom: section('Bloom', {
    on: partSwitch('bloom'),
    amount: amount('Share of the fed light that is spread around its source', GLARE),
    law: choice({
      label: 'Law',
      help: "Power: falls off with a power of the distance, as glare in a lens does. Eye: the glare that an eye sees, by the camera's angle of view",
      options: [
        { value: 'power', label: 'Power law' },
        { value: 'eye', label: 'Glare of the eye' },
      ],
      default: 'power',
    }),
    radius: coreRadius(0.006),
    falloff: falloff(),
    split: number({
      label: 'Split',
      help: 'How much wider long waves glow than short ones: the exponent of the wavelength that the core radius goes by. The picture itself is not split',
      unit: 'exponent',
      min: -4,
      max: 4,
      step: 0.05,
      default: 0,
      shown: { factor: 1, unit: '', digits: 2 },
    }),
    age: number({
      label: 'Age',
      help: 'Of the eye: an older one sees more glare',
      unit: 'years',
      min: 10,
      max: 90,
      step: 1,
      default: 35,
      shown: { factor: 1, unit: 'y', digits: 0 },
    }),
    ...colours('bloom'),
    feed: ownFeed('Bloom'),
  }),
  stack: list(
    'Layer',
    {
      on: partSwitch('layer'),
      amount: amount("Share of the light over the layer's threshold that is spread"),
      shape: choice({
        label: 'Shape',
        help: 'Power: a glow that reaches out with a power of the distance. Gaussian: a soft blot that ends',
        options: [
          { value: 'power', label: 'Power law' },
          { value: 'gaussian', label: 'Gaussian' },
        ],
        default: 'power',
      }),
      radius: length({
        label: 'Radius',
        help: 'Of the power law, where it begins to fall off; of the Gaussian, its standard deviation',
        min: 0.0002,
        max: 0.5,
        default: 0.02,
      }),
      falloff: falloff(),
      threshold: threshold(
        "Only light brighter than this feeds the layer: wider layers usually have a higher one. Everything else is the common feed's",
        1,
      ),
      ...colours('layer'),
      feed: section('Layer feed', {
        own: toggle({
          label: 'Own feed',
          help: "Whether the layer's pass, mask, ceiling and so on are its own in place of the common feed's",
          default: false,
        }),
        ...feedAbove(),
      }),
    },
    MOST_LAYERS,
  ),
  spikes: section('Spikes', {
    on: partSwitch('spikes'),
    ...spikeShape(
      'Share of the fed light that the pupil bends into spikes: all of it, at size 1, is the lens itself',
    ),
    squeezed: toggle({
      label: 'Squeezed',
      help: 'Anamorphic: the spikes are as much wider than high as the blur discs of Focus are narrower',
      default: false,
    }),
    ...tints('spikes'),
    feed: ownFeed('Spikes'),
  }),
  filter: section('Star filter', {
    on: partSwitch('star filter'),
    ...spikeShape(
      'Share of the fed light that a filter before the lens bends into spikes, besides those of the pupil',
    ),
    blades: number({
      label: 'Sides',
      help: "Sides of the filter's opening: an even number makes as many spikes, an odd one twice as many",
      unit: 'sides',
      min: 3,
      max: 32,
      step: 1,
      default: 4,
      shown: { factor: 1, unit: '', digits: 0 },
    }),
    rotation: turn('Rotation', 'Turn of the filter, clockwise'),
    ...tints('star filter'),
    feed: ownFeed('Star filter'),
  }),
  halo: section('Halo ring', {
    on: partSwitch('halo ring'),
    amount: amount('Share of the fed light that goes into a ring in the colours of the rainbow'),
    radius: length({
      label: 'Radius',
      help: 'Of the ring in green light; red lies farther out, blue farther in',
      min: 0.005,
      max: 1,
      default: 0.12,
    }),
    width: number({
      label: 'Width',
      help: 'How broad the ring of one wavelength is: narrow ones keep their colours apart',
      unit: 'share of the radius',
      min: 0.01,
      max: 1,
      step: 0.01,
      default: 0.12,
      shown: { factor: 100, unit: '%', digits: 0 },
    }),
    ...colours('halo ring'),
    feed: ownFeed('Halo'),
  }),
  streaks: list('Streak', streakShape, MOST_STREAKS),
  diffusion: section('Diffusion', {
    on: partSwitch('diffusion'),
    amount: amount('Share of the light that a soft copy of the picture is mixed in with', {
      min: 0.005,
      max: 0.15,
      source: 'common practice: up to 5 % without a filter before the lens, to 15 % with one',
      above: 'stronger than any filter: the whole picture goes soft and grey',
    }),
    shape: choice({
      label: 'Shape',
      help: 'Mist: particles of many sizes, a tight glow and a far haze in one. Gaussian: a blur that ends, and makes balls of lamps',
      options: [
        { value: 'mist', label: 'Mist filter' },
        { value: 'gaussian', label: 'Gaussian' },
      ],
      default: 'mist',
    }),
    radius: length({
      label: 'Radius',
      help: 'Of the mist, of its second lobe of five; of the Gaussian, its standard deviation',
      min: 0.001,
      max: 0.25,
      default: 0.02,
    }),
    ...colours('diffusion'),
    feed: ownFeed('Diffusion', { own: true, least: 0 }),
  }),
  dirt: section('Front-glass dirt', {
    on: partSwitch('front-glass dirt'),
    amount: amount('Share of the fed light that dirt on the front glass catches and shows'),
    size: length({
      label: 'Size',
      help: 'Diameter of a blot of middle size',
      min: 0.005,
      max: 0.5,
      default: 0.06,
    }),
    reach: length({
      label: 'Reach',
      help: 'How far from a light the dirt is lit by it',
      min: 0.01,
      max: 1,
      default: 0.25,
    }),
    seed: seed('dirt'),
    image: image({
      label: 'Image',
      help: 'A picture of dirt, bright where it lies, in place of the computed one; it is laid over the whole frame',
    }),
    ...colours('dirt'),
    feed: ownFeed('Dirt'),
  }),
});
