import type { StartingPoint } from '../../look/starting-point';

/** Films to begin from, each within what real ones do. */
export const FILMS: readonly StartingPoint[] = [
  {
    id: 'clean',
    name: 'Clean digital',
    says: 'The filmic view, a breath of grain, nothing else',
    settings: [
      'film.view=filmic',
      'film.grain.amount=0.006',
      'film.grain.size=12',
      'film.sharpen.amount=0.3',
    ],
  },
  {
    id: 'tungsten',
    name: 'Night stock',
    says: 'Balanced for lamps, with halation about them and a visible grain',
    settings: [
      'film.view=filmic',
      'film.temperature=4600',
      'film.contrast=1.08',
      'film.halation.amount=0.006',
      'film.halation.feed.threshold=4',
      'film.grain.amount=0.024',
      'film.grain.size=20',
    ],
  },
  {
    id: 'day',
    name: 'Daylight negative',
    says: 'Soft contrast, open shadows, fine grain',
    settings: [
      'film.view=filmic',
      'film.contrast=0.92',
      'film.lift=0.004',
      'film.saturation=1.06',
      'film.halation.amount=0.002',
      'film.grain.amount=0.012',
      'film.grain.size=14',
    ],
  },
  {
    id: 'slide',
    name: 'Slide',
    says: 'Hard and full of colour',
    settings: [
      'film.view=filmic',
      'film.contrast=1.3',
      'film.saturation=1.2',
      'film.grain.amount=0.008',
      'film.grain.size=10',
    ],
  },
  {
    id: 'faded',
    name: 'Faded print',
    says: 'Raised blacks, a turn to warm in the lights and to green below',
    settings: [
      'film.view=filmic',
      'film.contrast=0.85',
      'film.lift=0.012',
      'film.saturation=0.8',
      'film.curves.red=-6:-5.7, 0:0.1, 4:4.2',
      'film.curves.blue=-6:-5.9, 0:-0.1, 4:3.7',
      'film.grain.amount=0.018',
    ],
  },
  {
    id: 'mono',
    name: 'Black and white',
    says: 'One layer, one grain',
    settings: [
      'film.view=filmic',
      'film.saturation=0',
      'film.contrast=1.15',
      'film.grain.amount=0.028',
      'film.grain.size=24',
      'film.grain.mono=true',
      'film.halation.tint=#ffffff',
      'film.halation.amount=0.003',
    ],
  },
];
