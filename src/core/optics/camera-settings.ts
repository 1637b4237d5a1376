import { number, section } from '../settings/setting';

/** The f-stops that lenses have marked, in thirds of a stop (common practice). */
const THIRD_STOPS = [
  0.5, 0.56, 0.63, 0.7, 0.8, 0.9, 1, 1.1, 1.2, 1.4, 1.6, 1.8, 2, 2.2, 2.5, 2.8, 3.2, 3.5, 4, 4.5, 5, 5.6, 6.3,
  7.1, 8, 9, 10, 11, 13, 14, 16, 18, 20, 22, 25, 28, 32, 36, 40, 45, 50, 57, 64,
] as const;

const millimetres = { factor: 1, unit: 'mm', digits: 1 };

/** What every station that knows a lens shares. */
export const cameraSettings = section('Camera', {
  focalLength: number({
    label: 'Focal length',
    help: 'Of the lens; with the sensor it gives the angle of view. Take the one that the render was made with',
    unit: 'mm',
    min: 1,
    max: 2000,
    step: 1,
    default: 35,
    band: {
      min: 8,
      max: 800,
      source: 'common practice',
      below: 'no lens sees so wide: blur and spikes will not match the view',
      above: 'few lenses are so long: everything but one plane dissolves',
    },
    scale: 'log',
    shown: millimetres,
  }),
  sensorWidth: number({
    label: 'Sensor width',
    help: 'Width of what the picture falls on',
    unit: 'mm',
    min: 1,
    max: 300,
    step: 0.1,
    default: 36,
    scale: 'log',
    shown: millimetres,
  }),
  sensorHeight: number({
    label: 'Height',
    help: 'Height of what the picture falls on; it matters for what counts as sharp, not for the picture',
    unit: 'mm',
    min: 1,
    max: 300,
    step: 0.1,
    default: 24,
    scale: 'log',
    shown: millimetres,
  }),
  fStop: number({
    label: 'f-stop',
    help: 'Focal length over pupil diameter: half of it doubles every blur disc',
    unit: 'f-number',
    min: 0.01,
    max: 128,
    step: 0.1,
    stops: THIRD_STOPS,
    default: 2.8,
    band: {
      min: 0.95,
      max: 32,
      source: 'common practice',
      below: 'no lens opens so wide: the blur swallows the picture',
      above: 'no lens closes so far: diffraction would soften all of it',
    },
    scale: 'log',
    shown: { factor: 1, unit: 'f/', digits: 2 },
  }),
  focusDistance: number({
    label: 'Focus',
    help: 'Distance along the axis at which everything is sharp',
    unit: 'm',
    min: 0.01,
    max: 100000,
    step: 0.1,
    default: 5,
    scale: 'log',
    shown: { factor: 1, unit: 'm', digits: 2 },
  }),
});
