import { despikeLimit } from './despike-limit';
import { choice, colour, each, list, number, order, pass, toggle } from './setting';
import { exposure } from './exposure';
import { correctionShape, curveSetting, levelsShape } from './correction';

const share = { factor: 100, unit: '%', digits: 1 };

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
  ...levelsShape,
  curve: curveSetting,
};

/** How one render becomes light: which of its passes, and what is cleaned of them. */
export const renderShape = {
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
  despike: despikeLimit(
    'Pixels brighter than this many times the median of their 3 x 3 neighbours become that median. 0 is off; light of the emission pass is never touched',
  ),
};

/** Settings that versions of the look before the second had in `plate`, for its only render. */
export const RENDER_KEYS = Object.keys(renderShape) as readonly (keyof typeof renderShape)[];

const place = (label: string, of: string, way: string) =>
  number({
    label,
    help: `Moves the element ${way}, in shares of the frame's ${of}`,
    unit: `share of the frame's ${of}`,
    min: -4,
    max: 4,
    step: 0.001,
    default: 0,
    shown: share,
  });

/** Most elements that a plate may have, and most further corrections that one may have. */
export const [MOST_ELEMENTS, MOST_CORRECTIONS] = [32, 8];

/** The renders of a plate, back to front. The first of them is all that a plate of one render has. */
export const elementsSettings = list(
  'Element',
  {
    on: toggle({ label: 'On', help: 'Whether the element is part of the picture', default: true }),
    opacity: number({
      label: 'Opacity',
      help: 'Share of the element that is there: its light and its alpha are multiplied by it',
      unit: 'share',
      min: 0,
      max: 1,
      step: 0.01,
      default: 1,
      shown: { factor: 100, unit: '%', digits: 0 },
    }),
    alpha: choice({
      label: 'Alpha',
      help: 'Whether the colours of the render are multiplied by its alpha (associated, as OpenEXR has it) or not',
      options: [
        { value: 'associated', label: 'Associated' },
        { value: 'unassociated', label: 'Unassociated' },
      ],
      default: 'associated',
    }),
    mode: choice({
      label: 'Blend',
      help: 'Over covers what lies behind by its alpha; add brings light and covers nothing; screen and multiply mix with what lies behind',
      options: [
        { value: 'over', label: 'Over' },
        { value: 'add', label: 'Add' },
        { value: 'screen', label: 'Screen' },
        { value: 'multiply', label: 'Multiply' },
      ],
      default: 'over',
    }),
    heldOut: toggle({
      label: 'Held out',
      help: 'Its alpha was cut in the render already by the element right behind it (or that by it): their soft edges are joined and not laid over each other twice',
      default: false,
    }),
    byDepth: toggle({
      label: 'By depth',
      help: 'Off: it covers all that lies behind it in the list. On: where that is nearer by its depth, it covers this element',
      default: false,
    }),
    x: place('Right', 'width', 'to the right'),
    y: place('Down', 'height', 'down'),
    scale: number({
      label: 'Scale',
      help: "Size of the element's pixels against those of the plate, about the middle of the frame",
      unit: 'factor',
      min: 0.01,
      max: 100,
      step: 0.01,
      default: 1,
      scale: 'log',
      shown: { factor: 100, unit: '%', digits: 1 },
    }),
    distance: number({
      label: 'Distance',
      help: 'Where all of the element lies; 0 takes its own depth, or without one that of what lies behind it',
      unit: 'm',
      min: 0,
      max: 100000,
      step: 0.1,
      default: 0,
      scale: 'log',
      floor: 0.1,
      shown: { factor: 1, unit: 'm', digits: 2 },
    }),
    ...renderShape,
    ...correctionShape,
    corrections: list('Correction', correctionShape, MOST_CORRECTIONS),
  },
  MOST_ELEMENTS,
);

export type ElementSettings = ReturnType<typeof elementsSettings.parse>[number];

const [DEFAULT_ELEMENT] = elementsSettings.parse([{}]);

/** What a look says of an element, by its place from the back. */
export function elementOf(
  { elements }: { elements: readonly ElementSettings[] },
  index: number,
): ElementSettings {
  return elements[index] ?? DEFAULT_ELEMENT!;
}
