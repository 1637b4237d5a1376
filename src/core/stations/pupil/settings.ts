import type { ARRANGEMENTS } from '../../optics/pupil-mask';
import { choice, image, number, section } from '../../settings/setting';
import { turn } from '../../settings/turn';

const share = { factor: 100, unit: '% D', digits: 1 };
const fine = { factor: 100, unit: '% D', digits: 2 };
const plain = { factor: 1, unit: '', digits: 0 };

/** How many there are of something; none by default. */
const count = (help: string, unit: string, max: number) =>
  number({ label: 'Count', help, unit, min: 0, max, step: 1, default: 0, shown: plain });

/** The thickness of a line. */
const width = (help: string, thickness: number) =>
  number({
    label: 'Width',
    help,
    unit: 'share of the diameter',
    min: 0.0005,
    max: 0.02,
    step: 0.0005,
    default: thickness,
    scale: 'log',
    shown: fine,
  });

/** Another seed is another arrangement of the same. */
export const seed = (what: string) =>
  number({
    label: 'Seed',
    help: `Another number lays the ${what} out anew`,
    unit: 'number',
    min: 0,
    max: 9999,
    step: 1,
    default: 1,
    shown: plain,
  });

/** Ways in which scratches and dust lie. */
const arrangements = [
  { value: 'random', label: 'Random' },
  { value: 'parallel', label: 'Parallel' },
  { value: 'radial', label: 'Radial' },
  { value: 'square', label: 'Square mesh' },
  { value: 'hexagonal', label: 'Hexagonal mesh' },
] as const satisfies { value: (typeof ARRANGEMENTS)[number]; label: string }[];

/** The shape of the aperture, which every blurred highlight shows, and what lies in it, which the spikes show. */
export const pupilSettings = section('Pupil', {
  blades: number({
    label: 'Blades',
    help: 'Blades of the aperture, each an edge of every blurred highlight; under 3 it is round',
    unit: 'blades',
    min: 0,
    max: 32,
    step: 1,
    default: 0,
    band: {
      min: 5,
      max: 16,
      source: 'common practice',
      below: 'no aperture has so few blades: triangles and squares look made',
      above: 'no aperture has so many blades: a round one looks the same',
    },
    shown: { factor: 1, unit: '', digits: 0 },
  }),
  curvature: number({
    label: 'Curvature',
    help: 'How round the blades are: 0 straight, 1 a circle',
    unit: 'share',
    min: 0,
    max: 1,
    step: 0.01,
    default: 0,
    shown: { factor: 100, unit: '%', digits: 0 },
  }),
  openAt: number({
    label: 'Round at',
    help: 'The f-stop at which the blades have drawn back, so that the pupil is round; two stops on they show as they are. 0 leaves the curvature alone',
    unit: 'f-number',
    min: 0,
    max: 32,
    step: 0.1,
    default: 0,
    shown: { factor: 1, unit: 'f/', digits: 1 },
  }),
  rotation: turn('Rotation', 'Turn of the aperture, clockwise'),
  obstruction: number({
    label: 'Obstruction',
    help: 'A disc in the middle that lets nothing through, as the second mirror of a mirror lens is',
    unit: 'share of the diameter',
    min: 0,
    max: 0.9,
    step: 0.01,
    default: 0,
    shown: { factor: 100, unit: '% D', digits: 0 },
  }),
  mask: image({
    label: 'Mask',
    help: 'An image that lies in the pupil and lets through as much as it is bright, of each colour what it shows; white stays white in sum',
  }),
  dust: section('Dust', {
    amount: number({
      label: 'Covered',
      help: 'Share of the pupil that specks of dust cover: so much of the light goes into a faint halo',
      unit: 'share of the area',
      min: 0,
      max: 0.3,
      step: 0.001,
      default: 0,
      band: {
        min: 0,
        max: 0.02,
        source: 'common practice',
        above: 'a lens this dusty would have been cleaned: the halo grey over everything',
      },
      shown: { factor: 100, unit: '%', digits: 1 },
    }),
    size: number({
      label: 'Size',
      help: 'Diameter of a speck of middle size: small ones make a wide halo, large ones a narrow one',
      unit: 'share of the diameter',
      min: 0.002,
      max: 0.1,
      step: 0.001,
      default: 0.01,
      scale: 'log',
      shown: share,
    }),
    arrangement: choice({
      label: 'Arrangement',
      help: 'How it lies: wiping leaves lines of it, blowing spokes, a screen a lattice, which makes spots of colour about a light',
      options: arrangements,
      default: 'random',
    }),
    seed: seed('dust'),
  }),
  scratches: section('Scratches', {
    count: count('Each scratch makes a fine streak at a right angle to itself', 'scratches', 400),
    width: width('How wide a scratch is: finer ones make longer streaks', 0.002),
    length: number({
      label: 'Length',
      help: 'How long a scratch is: longer ones make thinner streaks',
      unit: 'share of the diameter',
      min: 0.01,
      max: 1,
      step: 0.01,
      default: 0.4,
      shown: share,
    }),
    arrangement: choice({
      label: 'Arrangement',
      help: 'How they lie: wiping leaves parallel ones, a mesh filter a lattice',
      options: arrangements,
      default: 'random',
    }),
    seed: seed('scratches'),
  }),
  fibres: section('Fibres', {
    count: count('Bent fibres that reach in from the rim, like lashes', 'fibres', 200),
    length: number({
      label: 'Length',
      help: 'How far they reach in',
      unit: 'share of the diameter',
      min: 0.01,
      max: 0.6,
      step: 0.01,
      default: 0.15,
      shown: share,
    }),
    width: width('How thick they are', 0.003),
    seed: seed('fibres'),
  }),
  ring: section('Fibre ring', {
    count: count(
      'Fine radial fibres at the rim, evenly spaced: they make a ring in the colours of the rainbow; more of them a larger one',
      'fibres',
      400,
    ),
    width: number({
      label: 'Width',
      help: 'How far the fibres reach in from the rim: wider makes a broader ring',
      unit: 'share of the diameter',
      min: 0.005,
      max: 0.4,
      step: 0.005,
      default: 0.06,
      shown: share,
    }),
  }),
  grating: section('Line grating', {
    lines: number({
      label: 'Lines',
      help: 'Upright lines across the pupil: they throw small spectra to both sides of a light',
      unit: 'lines',
      min: 0,
      max: 200,
      step: 1,
      default: 0,
      shown: plain,
    }),
    depth: number({
      label: 'Depth',
      help: 'How much the lines hold back',
      unit: 'share',
      min: 0,
      max: 1,
      step: 0.01,
      default: 0.5,
      shown: { factor: 100, unit: '%', digits: 0 },
    }),
  }),
});
