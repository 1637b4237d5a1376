import { choice, list, mask, number, pass, section, toggle, type NumberMeta } from '../../settings/setting';

/** Pieces of glass in the scene besides the first. */
export const MOST_PIECES = 8;

const percent = { factor: 100, unit: '%', digits: 1 };
const plain = { factor: 1, unit: '', digits: 2 };

const index = (label: string, help: string, value: number, most: number) =>
  number({
    label,
    help,
    unit: 'index',
    min: 1,
    max: most,
    step: 0.001,
    default: value,
    shown: { factor: 1, unit: '', digits: 4 },
  });

const bend = (label: string, what: string) =>
  number({
    label,
    help: `Multiplies the ${what} that the lens gives: 1 leaves the link as it is`,
    unit: 'factor',
    min: 0,
    max: 20,
    step: 0.1,
    default: 1,
    band: {
      min: 1,
      max: 1,
      source: 'the lens that drives it',
      below: 'less than this lens does: the picture tells of two lenses',
      above: 'more than this lens does: the picture tells of two lenses',
    },
    shown: { factor: 1, unit: 'x', digits: 2 },
  });

const shift = (label: string, way: string) =>
  number({
    label,
    help: `How far the picture is moved ${way}; what comes in from beyond the frame is the render's overscan, or its last pixels go on`,
    unit: 'share of the picture height',
    min: -0.5,
    max: 0.5,
    step: 0.001,
    default: 0,
    band: {
      min: -0.05,
      max: 0.05,
      source: 'common practice: a camera in the hand moves the picture by a few percent',
      below: 'the camera is thrown about',
      above: 'the camera is thrown about',
    },
    shown: { factor: 100, unit: '% h', digits: 2 },
  });

const distortion = (label: string, order: string) =>
  number({
    label,
    help: `Share by which the corners are drawn out, ${order} of the distance from the axis; below 0 they are drawn in`,
    unit: 'share at the corner',
    min: -0.3,
    max: 0.3,
    step: 0.001,
    default: 0,
    band: {
      min: -0.08,
      max: 0.08,
      source: 'common practice: lenses that draw straight lines, up to strong wide ones',
      below: 'a barrel as only fisheyes have it',
      above: 'a pincushion that no lens has',
    },
    shown: { factor: 100, unit: '%', digits: 2 },
  });

const pieceSettings = {
  on: toggle({ label: 'On', help: 'Whether this glass bends colours apart', default: false }),
  matte: mask({
    label: 'Within',
    help: 'The matte of the glass, or a mask: nothing outside it changes',
    none: 'no matte yet',
  }),
  pass: pass({
    label: 'Seen through',
    help: 'The pass with the light that has come through the glass',
    default: 'transmission',
  }),
  normals: pass({
    label: 'Normals',
    help: 'The pass with the surface normals, along which rays are bent; normals is whichever pass has them',
    of: 'data',
    default: 'normals',
  }),
  index: index('Index', 'Refractive index at the d line: water 1.33, crown 1.52, diamond 2.42', 1.5168, 2.7),
  abbe: number({
    label: 'Abbe number',
    help: 'Lower spreads colours more: 55 is a diamond, 25 to 30 reads as cut glass, 1 is a caricature',
    unit: 'Abbe number',
    min: 1,
    max: 100,
    step: 0.5,
    default: 30,
    band: {
      min: 25,
      max: 55,
      source: 'common practice; glasses have 20 to 90',
      below: 'no glass spreads colours so far: a caricature',
      above: 'so little that nobody sees it',
    },
    shown: { factor: 1, unit: '', digits: 1 },
  }),
  amount: number({
    label: 'Path',
    help: 'How far light goes through the glass, there and back, before it is seen: longer paths part colours farther',
    unit: 'share of the picture height',
    min: 0,
    max: 10,
    step: 0.01,
    default: 0.5,
    scale: 'log',
    floor: 0.01,
    band: {
      min: 0,
      max: 2,
      source: 'common practice',
      above: 'longer than light finds its way in a stone: colours come loose from what is seen',
    },
    shown: { factor: 100, unit: '% h', digits: 1 },
  }),
};

/** A length or share of an artistic vignette. */
const vignetteShare = (options: Pick<NumberMeta, 'label' | 'help' | 'min' | 'max' | 'default'>) =>
  number({ unit: 'share', step: 0.01, shown: percent, ...options });

export const glassSettings = section('Glass', {
  on: toggle({
    label: 'Glass',
    help: 'Whether glass bends colours apart, distorts and darkens the corners',
    default: true,
  }),
  fromLens: toggle({
    label: 'By the lens',
    help: "Whether the lens chosen at Ghosts, traced by real rays, gives lateral and axial colour, vignetting and cat's eye",
    default: false,
  }),
  drive: choice({
    label: 'Colour by',
    help: 'What parts colours: the two numbers as they are typed, or both by the Abbe number of the glass',
    options: [
      { value: 'typed', label: 'Typed' },
      { value: 'glass', label: 'Glass' },
    ],
    default: 'typed',
  }),
  abbe: number({
    label: 'Abbe number',
    help: 'Of the lens glass: lower spreads colours more, and the blue end farther',
    unit: 'Abbe number',
    min: 1,
    max: 100,
    step: 0.5,
    default: 60,
    band: {
      min: 20,
      max: 90,
      source: 'glass catalogues; common practice',
      below: 'no glass spreads colours so far',
      above: 'no glass spreads colours so little',
    },
    shown: { factor: 1, unit: '', digits: 1 },
  }),
  index: index('Index', 'Refractive index of the lens glass at the d line', 1.5168, 2.7),
  residue: number({
    label: 'Left over',
    help: "Share of a single lens's colour that the pairing of glasses leaves: an achromat keeps about 3 %, a single lens all",
    unit: 'share',
    min: 0,
    max: 1,
    step: 0.005,
    default: 0.02,
    band: {
      min: 0,
      max: 0.06,
      source: 'secondary spectrum of achromats, 1/2000 of the focal length; Born & Wolf 1959',
      above: 'a lens that nobody has corrected: a magnifying glass',
    },
    scale: 'log',
    floor: 0.002,
    shown: percent,
  }),
  lateral: number({
    label: 'Lateral colour',
    help: 'How far blue (F) and red (C) lie apart in the corner; below 0 they change sides',
    unit: 'share of the picture height',
    min: -0.1,
    max: 0.1,
    step: 0.0001,
    default: 0,
    band: {
      min: -0.001,
      max: 0.001,
      source: 'real designs leave 0.01 to 0.1 % of the height; common practice',
      below: 'wider fringes than any lens leaves: the picture looks misprinted',
      above: 'wider fringes than any lens leaves: the picture looks misprinted',
    },
    shown: { factor: 100, unit: '% h', digits: 3 },
  }),
  axial: number({
    label: 'Axial colour',
    help: 'How far the focus of red (C) lies behind that of blue (F): out of focus, edges fringe in one colour before and in another behind it. Needs Focus',
    unit: 'share of the focal length',
    min: -0.05,
    max: 0.05,
    step: 0.0001,
    default: 0,
    band: {
      min: -0.001,
      max: 0.001,
      source: 'achromats leave 1/2000 of the focal length; Born & Wolf 1959',
      below: 'more than a corrected lens leaves',
      above: 'more than a corrected lens leaves: a single lens would have 1.7 %',
    },
    shown: { factor: 100, unit: '% f', digits: 3 },
  }),
  k1: distortion('Distortion', 'by the square'),
  k2: distortion('At the edge', 'by the fourth power'),
  fill: toggle({
    label: 'Fills the frame',
    help: 'Whether a barrel is enlarged until it fills the frame again; otherwise the last pixels go on beyond its edge',
    default: false,
  }),
  shake: section('Shake', {
    x: shift('Across', 'to the right'),
    y: shift('Down', 'down'),
    roll: number({
      label: 'Roll',
      help: 'How far the picture is turned clockwise about the middle of the frame',
      unit: 'degrees',
      min: -45,
      max: 45,
      step: 0.05,
      default: 0,
      band: {
        min: -3,
        max: 3,
        source: 'common practice: a camera in the hand rolls by less',
        below: 'the horizon leans: it looks like a mistake, or is meant',
        above: 'the horizon leans: it looks like a mistake, or is meant',
      },
      shown: { factor: 1, unit: '°', digits: 2 },
    }),
    enlarge: number({
      label: 'Enlarged by',
      help: 'How much the picture is enlarged, so that its edges stay outside the frame where the render has no overscan',
      unit: 'share',
      min: 0,
      max: 1,
      step: 0.005,
      default: 0,
      band: {
        min: 0,
        max: 0.1,
        source: 'common practice',
        above: 'the picture goes soft, and is another crop than the render was made for',
      },
      shown: percent,
    }),
  }),
  bend: section('Links to the lens', {
    lateral: bend('Lateral', 'lateral colour'),
    axial: bend('Axial', 'axial colour'),
    vignette: bend('Vignetting', 'vignetting'),
    catsEye: bend("Cat's eye", "cat's eye"),
  }),
  vignette: section('Vignetting', {
    natural: vignetteShare({
      label: 'Natural',
      help: 'Share of the fall-off with the fourth power of the cosine of the field angle, by focal length and sensor',
      min: 0,
      max: 1,
      default: 0,
    }),
    optical: vignetteShare({
      label: 'Optical',
      help: 'How far the barrel cuts into the open pupil in the corner: it fades as the lens is stopped down',
      min: 0,
      max: 1,
      default: 0,
    }),
    wideOpen: number({
      label: 'Wide open',
      help: 'The f-stop at which the barrel and the pupil are of one size',
      unit: 'f-number',
      min: 0.5,
      max: 32,
      step: 0.1,
      default: 2,
      scale: 'log',
      shown: { factor: 1, unit: 'f/', digits: 2 },
    }),
    amount: number({
      label: 'Drawn',
      help: 'Share of the light that a drawn vignette takes from the corners; below 0 it brightens them',
      unit: 'share',
      min: -1,
      max: 1,
      step: 0.01,
      default: 0,
      band: {
        min: 0,
        max: 0.5,
        source: 'common practice',
        below: 'no lens brightens the corners',
        above: 'the corners go dark: the frame shows before the picture',
      },
      shown: percent,
    }),
    midpoint: vignetteShare({
      label: 'Midpoint',
      help: 'Where it begins, from the middle (0) to the corner (100 %)',
      min: 0,
      max: 0.99,
      default: 0.4,
    }),
    roundness: number({
      label: 'Roundness',
      help: 'Shape: -1 follows the frame, 0 is an oval as wide as it, 1 a circle',
      unit: 'share',
      min: -1,
      max: 1,
      step: 0.01,
      default: 0,
      shown: plain,
    }),
    x: vignetteShare({
      label: 'Middle across',
      help: "Where the drawn vignette's middle lies",
      min: -0.5,
      max: 1.5,
      default: 0.5,
    }),
    y: vignetteShare({
      label: 'Middle down',
      help: "Where the drawn vignette's middle lies",
      min: -0.5,
      max: 1.5,
      default: 0.5,
    }),
  }),
  scene: section('Glass in the scene', pieceSettings),
  pieces: list('Piece of glass', pieceSettings, MOST_PIECES),
});
