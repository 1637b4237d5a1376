import { NEUTRAL_KELVIN } from '../../color/temperature';
import { exposure } from '../../settings/exposure';
import { gradingShape } from '../../settings/grading';
import {
  choice,
  colour,
  image,
  mask,
  number,
  section,
  toggle,
  type NumberMeta,
} from '../../settings/setting';
import { seed } from '../pupil/settings';
import { feedShape } from '../veil/settings';

const percent = { factor: 100, unit: '%', digits: 1 };
const plain = { factor: 1, unit: '', digits: 2 };
const stops = { factor: 1, unit: 'st', digits: 2 };
const micrometres = { factor: 1, unit: 'µm', digits: 0 };

const factor = (options: Omit<NumberMeta, 'kind' | 'scale' | 'shown' | 'unit' | 'step' | 'default'>) =>
  number({ unit: 'factor', step: 0.01, default: 1, shown: plain, ...options });

const partSwitch = (what: string) =>
  toggle({ label: 'On', help: `Whether there is any ${what}`, default: true });

/** A mask that a part of the film is held to. */
const within = (label: string, what = label.toLowerCase()) =>
  mask({ label: `${label} in`, help: `Where ${what} applies; none is the whole picture` });

export const filmSettings = section('Film', {
  on: toggle({ label: 'Film', help: 'Whether anything of the film applies', default: true }),
  exposure: exposure('Brightens or darkens what comes out of the lens, in every printed file'),
  temperature: number({
    label: 'Temperature',
    help: 'Colour temperature of the light that is to look white: higher makes the picture warmer',
    unit: 'kelvin',
    min: 1800,
    max: 25000,
    step: 50,
    default: NEUTRAL_KELVIN,
    scale: 'log',
    band: {
      min: 2500,
      max: 10000,
      source: 'cameras offer about 2500 to 10000 K; common practice',
      below: 'bluer than any camera is set: only candles are so warm',
      above: 'warmer than any camera is set: only the blue sky is so cold',
    },
    shown: { factor: 1, unit: 'K', digits: 0 },
  }),
  tint: number({
    label: 'Tint',
    help: 'Over 0 takes green out of the light, below 0 magenta, along the isotherm',
    unit: 'share of 0.05 in u, v',
    min: -100,
    max: 100,
    step: 1,
    default: 0,
    shown: { factor: 1, unit: '', digits: 0 },
  }),
  contrast: factor({
    label: 'Contrast',
    help: 'Draws light apart or together about middle grey, in stops',
    min: 0.1,
    max: 4,
    band: {
      min: 0.7,
      max: 1.6,
      source: 'gamma of negative and print films; common practice',
      below: 'flatter than the flattest negative',
      above: 'harder than any print: shadows and lights lose their detail',
    },
  }),
  lift: number({
    label: 'Lift',
    help: 'Raises or lowers black; white (1) stays',
    unit: 'scene-linear',
    min: -0.5,
    max: 0.5,
    step: 0.002,
    default: 0,
    band: {
      min: -0.02,
      max: 0.05,
      source: 'flare and base fog; common practice',
      below: 'shadows are cut off',
      above: 'black is grey: it reads as fog',
    },
    shown: { factor: 1, unit: '', digits: 3 },
  }),
  gamma: factor({
    label: 'Gamma',
    help: 'Over 1 brightens the middle tones; black and white stay',
    min: 0.2,
    max: 5,
  }),
  gain: factor({ label: 'Gain', help: 'Multiplies light; black stays', min: 0, max: 8 }),
  ...gradingShape,
  saturation: factor({
    label: 'Saturation',
    help: 'Multiplies the distance from grey; no channel is driven below zero',
    min: 0,
    max: 4,
    band: {
      min: 0,
      max: 1.5,
      source: 'common practice',
      above: 'colours that no film has',
    },
  }),
  halation: section('Halation', {
    on: partSwitch('halation'),
    amount: number({
      label: 'Amount',
      help: 'Share of the fed light that passes the emulsion, is thrown back by the base, and exposes the film again',
      unit: 'share of the fed light',
      min: 0,
      max: 1,
      step: 0.001,
      default: 0,
      scale: 'log',
      floor: 0.001,
      band: {
        min: 0.001,
        max: 0.05,
        source: 'films with a backing against it 0.1 to 1 %, without 2 to 5 %; common practice',
        above: 'more than an unbacked film throws back: lamps turn into red blots',
      },
      shown: { factor: 100, unit: '%', digits: 2 },
    }),
    radius: number({
      label: 'Radius',
      help: 'Of the ring, on the film: the base throws back all light that meets it more flatly, twice its thickness times 0.9 away',
      unit: 'micrometres on the film',
      min: 5,
      max: 5000,
      step: 5,
      default: 230,
      scale: 'log',
      band: {
        min: 150,
        max: 400,
        source: 'bases of 0.09 to 0.2 mm; common practice',
        below: 'thinner than any film base',
        above: 'thicker than any film base: it reads as bloom',
      },
      shown: micrometres,
    }),
    tint: colour({
      label: 'Tint',
      help: 'Colour of what returns: light from behind meets the red layer first',
      backdrop: false,
      default: '#ff5a1e',
    }),
    feed: section('Halation feed', feedShape(1)),
  }),
  grain: section('Grain', {
    on: partSwitch('grain'),
    amount: number({
      label: 'Amount',
      help: 'Standard deviation at middle grey of the full-size picture, as a share of the light; it falls off in shadows and lights, and the mean stays',
      unit: 'share of the light',
      min: 0,
      max: 0.25,
      step: 0.001,
      default: 0,
      scale: 'log',
      floor: 0.001,
      band: {
        min: 0,
        max: 0.03,
        source: 'common practice',
        above: 'coarser than film that is pushed: noise instead of a picture',
      },
      shown: { factor: 100, unit: '%', digits: 2 },
    }),
    size: number({
      label: 'Size',
      help: 'Diameter of the clumps that grains form, at half their height, on the film',
      unit: 'micrometres on the film',
      min: 1,
      max: 400,
      step: 1,
      default: 18,
      scale: 'log',
      band: {
        min: 5,
        max: 40,
        source: 'clumps of fine to fast films on 36 mm; common practice',
        below: 'finer than any film: nothing of it is left at this size',
        above: 'clumps larger than any film has: blotches',
      },
      shown: micrometres,
    }),
    mono: toggle({
      label: 'One layer',
      help: 'Whether all channels share one grain, as black and white film',
      default: false,
    }),
    seed: seed('grain'),
  }),
  sharpen: section('Sharpening', {
    on: partSwitch('sharpening'),
    amount: number({
      label: 'Amount',
      help: 'Share of what stands out from its surroundings that is added once more',
      unit: 'share',
      min: 0,
      max: 5,
      step: 0.05,
      default: 0,
      band: {
        min: 0,
        max: 1,
        source: 'common practice',
        above: 'every edge has a rim: it looks like video',
      },
      shown: percent,
    }),
    radius: number({
      label: 'Radius',
      help: 'Standard deviation of the blur that it is compared with',
      unit: 'share of the picture height',
      min: 0.0002,
      max: 0.05,
      step: 0.0001,
      default: 0.0012,
      scale: 'log',
      shown: { factor: 100, unit: '% h', digits: 2 },
    }),
    threshold: number({
      label: 'Threshold',
      help: 'What stands out by less stays as it is: grain and noise',
      unit: 'stops',
      min: 0,
      max: 2,
      step: 0.01,
      default: 0,
      shown: stops,
    }),
    limit: number({
      label: 'Limit',
      help: 'No pixel is made brighter or darker by more: keeps rims from showing',
      unit: 'stops',
      min: 0.01,
      max: 2,
      step: 0.01,
      default: 0.25,
      band: {
        min: 0.01,
        max: 0.35,
        source: 'common practice',
        above: 'rims show beside edges',
      },
      shown: stops,
    }),
  }),
  within: section('Masks', {
    exposure: within('Exposure'),
    balance: within('Balance', 'white balance'),
    contrast: within('Contrast'),
    tone: within('Tone', 'lift, gamma and gain'),
    curve: within('Curves'),
    colour: within('Colour'),
    grain: within('Grain'),
    sharpen: within('Sharpening'),
  }),
  view: choice({
    label: 'View',
    help: 'How scene light becomes display light, on the screen and in PNG; OpenEXR stays scene-linear',
    options: [
      { value: 'srgb', label: 'sRGB' },
      { value: 'filmic', label: 'Filmic' },
      { value: 'clip', label: 'Linear, clipped' },
      { value: 'lut', label: 'Look-up table' },
    ],
    default: 'srgb',
  }),
  lut: image({
    label: 'Table',
    help: 'A .cube file that makes display values of scene light, for the view of that name',
    of: 'lut',
  }),
  lutInput: choice({
    label: 'Table wants',
    help: 'What the table is made for: scene light as it is, encoded as sRGB, or as ACEScct in AP1',
    options: [
      { value: 'linear', label: 'Scene-linear' },
      { value: 'srgb', label: 'sRGB' },
      { value: 'acescct', label: 'ACEScct' },
    ],
    default: 'srgb',
  }),
  lutStrength: number({
    label: 'Strength',
    help: 'Share of the table against the sRGB view',
    unit: 'share',
    min: 0,
    max: 1,
    step: 0.01,
    default: 1,
    shown: percent,
  }),
});
