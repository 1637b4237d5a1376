import type { StartingPoint } from '../../look/starting-point';

/** Pupils to begin from. */
export const PUPILS: readonly StartingPoint[] = [
  { id: 'round', name: 'Round', says: 'Wide open: rings round a point, no spikes', settings: [] },
  {
    id: 'five',
    name: 'Five straight blades',
    says: 'Ten sharp spikes, of an old simple lens',
    settings: ['pupil.blades=5'],
  },
  {
    id: 'six',
    name: 'Six straight blades',
    says: 'Six strong spikes',
    settings: ['pupil.blades=6', 'pupil.rotation=15'],
  },
  {
    id: 'seven',
    name: 'Seven rounded blades',
    says: 'Fourteen spikes that fan out, as of a portrait lens',
    settings: ['pupil.blades=7', 'pupil.curvature=0.35', 'pupil.openAt=1.4'],
  },
  {
    id: 'nine',
    name: 'Nine worn blades',
    says: 'Eighteen fine spikes, and a haze of dust',
    settings: ['pupil.blades=9', 'pupil.curvature=0.15', 'pupil.dust.amount=0.012', 'pupil.dust.size=0.006'],
  },
  {
    id: 'mirror',
    name: 'Mirror lens',
    says: 'A disc in the middle: rings in and out of focus',
    settings: ['pupil.obstruction=0.38'],
  },
  {
    id: 'wiped',
    name: 'Wiped filter',
    says: 'Fine parallel scratches: a streak across them through every light',
    settings: [
      'pupil.blades=8',
      'pupil.curvature=0.6',
      'pupil.scratches.count=70',
      'pupil.scratches.arrangement=parallel',
      'pupil.scratches.width=0.001',
      'pupil.scratches.seed=7',
    ],
  },
  {
    id: 'mesh',
    name: 'Square mesh',
    says: 'A lattice of threads: a cross with small spectra',
    settings: [
      'pupil.scratches.count=60',
      'pupil.scratches.arrangement=square',
      'pupil.scratches.length=1',
      'pupil.scratches.width=0.002',
    ],
  },
  {
    id: 'lashes',
    name: 'Lashes',
    says: 'Bent fibres at the rim: an irregular starburst, as an eye sees it',
    settings: ['pupil.fibres.count=70', 'pupil.fibres.length=0.22', 'pupil.dust.amount=0.01'],
  },
  {
    id: 'fibre-ring',
    name: 'Fibre ring',
    says: 'Fine radial fibres: a ring in the colours of the rainbow',
    settings: ['pupil.ring.count=160', 'pupil.ring.width=0.08'],
  },
];
