import { COATINGS } from '../../optics/coating';
import { designSchema, type LensDesign } from '../../optics/lens/design';
import { LENS_DESIGNS } from '../../optics/lens/designs';
import {
  choice,
  colour,
  document,
  each,
  list,
  number,
  section,
  text,
  toggle,
  type NumberMeta,
} from '../../settings/setting';

export const MOST_LIGHTS = 64;
export const MOST_MIRRORS = 8;
/** The design that a look brings itself. */
export const OWN_DESIGN = 'own';

const percent = { factor: 100, unit: '%', digits: 1 };
const ofHeight = { factor: 100, unit: '% h', digits: 1 };
const plain = { factor: 1, unit: '', digits: 2 };
const degrees = { factor: 1, unit: '°', digits: 1 };
const metres = { factor: 1, unit: 'm', digits: 2 };

type NumberSettings = Omit<NumberMeta, 'kind' | 'scale' | 'shown'> &
  Partial<Pick<NumberMeta, 'scale' | 'shown'>>;

const tint = (what: string) =>
  colour({
    label: 'Tint',
    help: `Colour of ${what}; its brightness stays`,
    backdrop: false,
    default: '#ffffff',
  });

const gain = (what: string, options: Partial<NumberSettings> = {}) =>
  number({
    label: 'Gain',
    help: `Multiplies ${what}`,
    unit: 'factor',
    min: 0,
    max: 1000,
    step: 0.1,
    default: 1,
    scale: 'log',
    floor: 0.01,
    shown: plain,
    ...options,
  });

const amount = (help: string, options: Partial<NumberSettings> = {}) =>
  number({
    label: 'Amount',
    help,
    unit: 'factor',
    min: 0,
    max: 10_000,
    step: 0.01,
    default: 0,
    scale: 'log',
    floor: 0.0001,
    shown: { factor: 100, unit: '%', digits: 2 },
    ...options,
  });

const length = (label: string, help: string, value: number) =>
  number({
    label,
    help,
    unit: 'share of the picture height',
    min: 0.001,
    max: 20,
    step: 0.01,
    default: value,
    scale: 'log',
    shown: ofHeight,
  });

/** A place on the picture: the picture lies from 0 to 1, but lights may stand far outside. */
const place = (label: string, help: string) =>
  number({
    label,
    help,
    unit: 'share of the picture',
    min: -50,
    max: 50,
    step: 0.001,
    default: 0.5,
    shown: percent,
  });

const metre = (label: string, help: string, value = 0) =>
  number({ label, help, unit: 'm', min: -1e6, max: 1e6, step: 0.1, default: value, shown: metres });

const angle = (label: string, help: string) =>
  number({ label, help, unit: 'degrees', min: -180, max: 180, step: 1, default: 0, shown: degrees });

const lightSettings = {
  name: text({ label: 'Name', help: 'What the light is called' }),
  on: toggle({ label: 'On', help: 'Whether the light shines', default: true }),
  x: place('Across', 'Place from the left edge; beyond 0 and 100 % it is outside the picture'),
  y: place('Down', 'Place from the top edge; beyond 0 and 100 % it is outside the picture'),
  space: toggle({
    label: 'In space',
    help: 'Whether the light has a place in space, which the camera projects, instead of one on the picture',
    default: false,
  }),
  px: metre('Right', 'Place in space, to the right of the camera'),
  py: metre('Up', 'Place in space, above the camera'),
  pz: metre('Toward the viewer', 'Place in space; the camera looks along the negative direction', -10),
  distance: number({
    label: 'Distance',
    help: 'Along the axis, for a light with a place on the picture: what is nearer covers it. 0 is none, and nothing does',
    unit: 'm',
    min: 0,
    max: 1e6,
    step: 0.1,
    default: 0,
    scale: 'log',
    floor: 0.1,
    shown: metres,
  }),
  gain: number({
    label: 'Gain',
    help: 'Light of the lamp: as much as one full-size pixel of this scene-linear value holds',
    unit: 'scene-linear',
    min: 0,
    max: 1e9,
    step: 1,
    default: 1000,
    scale: 'log',
    floor: 1,
    shown: plain,
  }),
  tint: tint('the light'),
  size: number({
    label: 'Size',
    help: 'Diameter of its disc: it softens ghosts and shafts, and is covered bit by bit',
    unit: 'share of the picture height',
    min: 0,
    max: 1,
    step: 0.001,
    default: 0.005,
    scale: 'log',
    floor: 0.0005,
    shown: ofHeight,
  }),
  cone: number({
    label: 'Cone',
    help: 'Angle from edge to edge that a directed light shines into; 360 is all around',
    unit: 'degrees',
    min: 1,
    max: 360,
    step: 1,
    default: 360,
    shown: degrees,
  }),
  turn: angle('Turn', 'How far a directed light is turned to the side, from facing the camera'),
  tilt: angle('Tilt', 'How far a directed light is turned up or down, from facing the camera'),
  group: text({ label: 'Group', help: 'Name of the group that it is switched, coloured and weighted with' }),
  flare: gain('its ghosts, shafts and glow in air; at 0 the light has none', { label: 'Flare' }),
  veil: gain('what it feeds the veil with: bloom, spikes, halo, streak; 0 is nothing', {
    label: 'Veil',
    default: 0,
  }),
  coveredBy: choice({
    label: 'Covered by',
    help: 'What takes the flare away: nearer surfaces in the depth, or darkness in the picture where the light is',
    options: [
      { value: 'depth', label: 'Depth' },
      { value: 'picture', label: 'Picture' },
      { value: 'nothing', label: 'Nothing' },
    ],
    default: 'depth',
  }),
};

const mirrorScale = (label: string, way: string) =>
  number({
    label,
    help: `Scale ${way} about the middle; below 0 it is mirrored`,
    unit: 'factor',
    min: -10,
    max: 10,
    step: 0.01,
    default: -1,
    shown: plain,
  });

const mirrorOffset = (label: string, help: string, side: string) =>
  number({
    label,
    help,
    unit: `share of the picture ${side}`,
    min: -5,
    max: 5,
    step: 0.001,
    default: 0,
    shown: percent,
  });

const mirrorBlur = (way: string) =>
  number({
    label: `Blur ${way}`,
    help: `Standard deviation of its blur ${way}, before it is turned`,
    unit: 'share of the picture height',
    min: 0,
    max: 1,
    step: 0.001,
    default: 0.01,
    shown: ofHeight,
  });

const mirrorSettings = {
  on: toggle({ label: 'On', help: 'Whether this copy is seen', default: true }),
  amount: amount('Share of the fed light that this copy has', { max: 10, default: 0.02 }),
  scaleX: mirrorScale('Width', 'across'),
  scaleY: mirrorScale('Height', 'down the picture'),
  offsetX: mirrorOffset('Offset across', 'Moves the copy to the right', 'width'),
  offsetY: mirrorOffset('Offset down', 'Moves the copy down', 'height'),
  rotation: angle('Rotation', 'Turns the copy clockwise about the middle'),
  blurX: mirrorBlur('across'),
  blurY: mirrorBlur('down'),
  tint: tint('the copy'),
};

export const ghostSettings = section('Ghosts', {
  on: toggle({ label: 'Ghosts', help: 'Whether lights reflect inside the lens', default: false }),
  quality: choice({
    label: 'Quality',
    help: 'Real rays through every surface, or images by rays near the axis, which are quicker and less right off the axis',
    options: [
      { value: 'exact', label: 'Exact' },
      { value: 'quick', label: 'Quick' },
    ],
    default: 'exact',
  }),
  design: choice({
    label: 'Design',
    help: 'The lens whose surfaces reflect, scaled to the focal length of the camera',
    options: [
      ...[...LENS_DESIGNS.values()].map(({ id, fNumber }) => ({
        value: id,
        label: designLabel(id, fNumber),
      })),
      { value: OWN_DESIGN, label: 'Own design' },
    ],
    default: 'double-gauss-f2',
  }),
  own: document<LensDesign>({
    label: 'Own design',
    help: 'A lens design of the shot itself, used if the design is `own`',
    what: 'a lens design',
    schema: designSchema,
  }),
  refocus: toggle({
    label: 'Follows focus',
    help: 'Whether the sensor moves back as the lens is focused on something near; otherwise it stays at the far focus',
    default: false,
  }),
  coating: choice({
    label: 'Coating',
    help: 'What keeps the surfaces from reflecting: nothing, one layer, whose reflections are coloured, or many',
    options: COATINGS.map((value) => ({
      value,
      label: { bare: 'None', single: 'Single layer', broad: 'Broadband' }[value],
    })),
    default: 'single',
  }),
  coatingWavelength: number({
    label: 'Layer at',
    help: 'Wavelength that a single layer is made for: ghosts lack this colour',
    unit: 'nm',
    min: 350,
    max: 800,
    step: 5,
    default: 550,
    band: {
      min: 440,
      max: 620,
      source: 'common practice',
      below: 'no coating is made for so deep a violet: ghosts turn red',
      above: 'no coating is made for so deep a red: ghosts turn blue',
    },
    shown: { factor: 1, unit: 'nm', digits: 0 },
  }),
  amount: amount('Multiplies all ghosts: at 100 % they have the light that the surfaces reflect', {
    max: 100_000,
    default: 1,
    floor: 0.01,
    step: 0.1,
    shown: { factor: 1, unit: 'x', digits: 2 },
    band: {
      min: 0.1,
      max: 100,
      source: 'common practice: renders hold back the values of lamps',
      above: 'the ghosts outshine what even bare glass throws back: they look pasted on',
    },
  }),
  count: number({
    label: 'Number',
    help: 'How many ghosts a light has at most: the brightest of the lens',
    unit: 'ghosts',
    min: 0,
    max: 500,
    step: 1,
    default: 4,
    band: {
      min: 0,
      max: 8,
      source: 'common practice',
      above: 'photographs show a handful of ghosts: more look drawn',
    },
    shown: { factor: 1, unit: '', digits: 0 },
  }),
  minSize: number({
    label: 'Smallest',
    help: 'Ghosts of a smaller diameter, for a light on the axis, are left out',
    unit: 'share of the picture height',
    min: 0,
    max: 20,
    step: 0.01,
    default: 0,
    shown: ofHeight,
  }),
  maxSize: number({
    label: 'Largest',
    help: 'Ghosts of a larger diameter, for a light on the axis, are left out',
    unit: 'share of the picture height',
    min: 0,
    max: 20,
    step: 0.01,
    default: 5,
    scale: 'log',
    floor: 0.01,
    shown: ofHeight,
  }),
  perLight: toggle({
    label: 'One a light',
    help: 'Whether separations hold the ghosts of each light by itself',
    default: false,
  }),
  steady: number({
    label: 'Steady',
    help: 'In a sequence, how much of a light is seen, and the light of those found, is the mean over this frame and so many before and after it: none pops',
    unit: 'frames before and after',
    min: 0,
    max: 12,
    step: 1,
    default: 2,
    shown: { factor: 1, unit: 'fr', digits: 0 },
  }),
  find: section('Lights found', {
    on: toggle({
      label: 'Find lights',
      help: 'Whether the brightest spots of the picture are lights',
      default: false,
    }),
    threshold: number({
      label: 'Threshold',
      help: 'Connected pixels over this value are a light; one hardly over it flares less',
      unit: 'scene-linear',
      min: 0.001,
      max: 1e6,
      step: 0.1,
      default: 10,
      scale: 'log',
      shown: plain,
    }),
    count: number({
      label: 'Number',
      help: 'How many are taken, those with the most light',
      unit: 'lights',
      min: 1,
      max: 64,
      step: 1,
      default: 1,
      band: {
        min: 1,
        max: 3,
        source: 'common practice',
        above: 'in photographs one light flares, seldom two or three: more look synthetic',
      },
      shown: { factor: 1, unit: '', digits: 0 },
    }),
  }),
  lights: list('Light', lightSettings, MOST_LIGHTS),
  groups: each({
    on: toggle({ label: 'On', help: 'Whether the lights of the group shine', default: true }),
    gain: gain('the light of all in the group'),
    tint: tint('all lights of the group'),
  }),
  pairs: each({
    on: toggle({ label: 'On', help: 'Whether the ghost of the two surfaces is seen', default: true }),
    solo: toggle({ label: 'Solo', help: 'Whether only ghosts that are soloed are seen', default: false }),
    gain: gain('the ghost of the two surfaces'),
    tint: tint('the ghost'),
  }),
  shafts: section('Shafts', {
    amount: amount('Share of the light that dust and haze send on in shafts', { max: 10 }),
    length: length('Length', 'How far shafts reach: they have faded to a third there', 0.5),
    decay: number({
      label: 'Decay',
      help: 'How soon a shadow closes behind what cuts a shaft, in lengths: 0 never',
      unit: 'share',
      min: 0,
      max: 1,
      step: 0.01,
      default: 0.3,
      shown: percent,
    }),
    softness: number({
      label: 'Softness',
      help: 'How far edges of shafts are blurred about the light',
      unit: 'degrees',
      min: 0,
      max: 45,
      step: 0.1,
      default: 1,
      shown: degrees,
    }),
    tint: tint('the shafts'),
    cutBy: choice({
      label: 'Cut by',
      help: 'What stands in the way: nearer surfaces in the depth, or all that is darker than the threshold of lights found',
      options: [
        { value: 'depth', label: 'Depth' },
        { value: 'picture', label: 'Picture' },
      ],
      default: 'depth',
    }),
  }),
  air: section('Air glow', {
    amount: amount('Share of the light that the air around it scatters; things pass before it', { max: 10 }),
    length: length('Length', 'Distance over which the air takes the light away', 0.6),
    tint: tint('the glow'),
  }),
  mirror: list('Mirror veil', mirrorSettings, MOST_MIRRORS),
});

function designLabel(id: string, fNumber: number): string {
  const words = id.replace(/-f[\d.]+$/, '').replaceAll('-', ' ');
  return `${words[0]!.toUpperCase()}${words.slice(1)} f/${fNumber}`;
}
