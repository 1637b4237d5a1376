import { curve, number, section } from './setting';

/** What a curve over hue does to one of its hues. */
const hue = (name: string) =>
  section(name, {
    shift: number({
      label: 'Turn',
      help: `Turns ${name.toLowerCase()} towards its neighbours; greys stay`,
      unit: 'degrees',
      min: -60,
      max: 60,
      step: 1,
      default: 0,
      shown: { factor: 1, unit: '°', digits: 0 },
    }),
    saturation: number({
      label: 'Saturation',
      help: `Multiplies the saturation of ${name.toLowerCase()}`,
      unit: 'factor',
      min: 0,
      max: 3,
      step: 0.01,
      default: 1,
      shown: { factor: 1, unit: '', digits: 2 },
    }),
    exposure: number({
      label: 'Brightness',
      help: `Brightens or darkens ${name.toLowerCase()}, the more the purer it is`,
      unit: 'stops',
      min: -3,
      max: 3,
      step: 0.05,
      default: 0,
      shown: { factor: 1, unit: 'st', digits: 2 },
    }),
  });

/** Curves over light, of all channels and of each, and over hue. */
export const gradingShape = {
  curve: curve({ label: 'Curve', help: 'Of all channels, in stops from middle grey' }),
  curves: section('Curves by channel', {
    red: curve({ label: 'Red', help: 'Of the red channel, in stops from middle grey' }),
    green: curve({ label: 'Green', help: 'Of the green channel, in stops from middle grey' }),
    blue: curve({ label: 'Blue', help: 'Of the blue channel, in stops from middle grey' }),
  }),
  hues: section('Curve over hue', {
    red: hue('Reds'),
    yellow: hue('Yellows'),
    green: hue('Greens'),
    cyan: hue('Cyans'),
    blue: hue('Blues'),
    magenta: hue('Magentas'),
  }),
};
