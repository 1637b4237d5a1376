import type { StartingPoint } from '../../look/starting-point';

/** Flares to begin from, each within what real lenses do. */
export const FLARES: readonly StartingPoint[] = [
  {
    id: 'glint',
    name: 'One small glint',
    says: 'A coated prime: hardly more than a spot across the middle',
    settings: [
      'ghosts.design=double-gauss-f2',
      'ghosts.coating=single',
      'ghosts.count=2',
      'ghosts.amount=25',
    ],
  },
  {
    id: 'violet',
    name: 'Coated prime, violet',
    says: 'One layer made for green leaves violet: a few soft images of the pupil',
    settings: [
      'ghosts.design=double-gauss-f2',
      'ghosts.coating=single',
      'ghosts.count=5',
      'ghosts.amount=60',
    ],
  },
  {
    id: 'clean',
    name: 'Many layers',
    says: 'Broadband coating: nearly white, even and faint',
    settings: ['ghosts.design=telephoto-f5.6', 'ghosts.coating=broad', 'ghosts.count=4', 'ghosts.amount=90'],
  },
  {
    id: 'amber',
    name: 'Old coating, amber',
    says: 'A layer made for blue throws back orange and red',
    settings: [
      'ghosts.design=four-element-f4',
      'ghosts.coating=single',
      'ghosts.coatingWavelength=460',
      'ghosts.count=6',
      'ghosts.amount=50',
    ],
  },
  {
    id: 'bare',
    name: 'Bare glass',
    says: 'An uncoated triplet: few surfaces, strong white ghosts',
    settings: ['ghosts.design=triplet-f5', 'ghosts.coating=bare', 'ghosts.count=4', 'ghosts.amount=4'],
  },
  {
    id: 'wide',
    name: 'Wide lens, blue',
    says: 'Many surfaces far before the stop: a row of ghosts through the middle',
    settings: [
      'ghosts.design=retrofocus-f2.8',
      'ghosts.coating=single',
      'ghosts.coatingWavelength=600',
      'ghosts.count=8',
      'ghosts.amount=60',
    ],
  },
];
