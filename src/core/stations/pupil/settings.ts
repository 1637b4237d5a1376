import { number, section } from '../../look/setting';

/** The shape of the aperture, which every blurred highlight shows. */
export const pupilSettings = section('Pupil', {
  blades: number({
    label: 'Blades',
    help: 'Blades of the aperture, each an edge of every blurred highlight; under 3 it is round',
    unit: 'blades',
    min: 0,
    max: 32,
    step: 1,
    default: 0,
    band: { min: 5, max: 16, source: 'common practice' },
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
  rotation: number({
    label: 'Rotation',
    help: 'Turn of the aperture, clockwise',
    unit: 'degrees',
    min: -180,
    max: 180,
    step: 1,
    default: 0,
    shown: { factor: 1, unit: 'deg', digits: 0 },
  }),
});
