import type { StartingPoint } from '../../look/starting-point';

/** Lenses to begin from, each within what real ones do. */
export const LENSES: readonly StartingPoint[] = [
  {
    id: 'modern',
    name: 'Modern prime',
    says: 'Hardly a fringe, corners a third of a stop darker',
    settings: [
      'glass.lateral=0.0002',
      'glass.axial=0.0003',
      'glass.vignette.natural=0.5',
      'glass.vignette.optical=0.3',
    ],
  },
  {
    id: 'classic',
    name: 'Classic double Gauss',
    says: 'Lateral and axial colour of an older fast lens, a slight barrel',
    settings: [
      'glass.drive=glass',
      'glass.abbe=48',
      'glass.residue=0.03',
      'glass.k1=-0.015',
      'glass.vignette.natural=0.8',
      'glass.vignette.optical=0.6',
    ],
  },
  {
    id: 'traced',
    name: 'The lens at Ghosts',
    says: 'Colour and vignetting traced through its surfaces',
    settings: ['glass.fromLens=true'],
  },
  {
    id: 'wide',
    name: 'Wide zoom',
    says: 'Barrel, fringes to the limit of what lenses have, dark corners',
    settings: [
      'glass.lateral=-0.0009',
      'glass.axial=0.0003',
      'glass.k1=-0.05',
      'glass.k2=0.012',
      'glass.fill=true',
      'glass.vignette.natural=1',
      'glass.vignette.optical=0.4',
    ],
  },
  {
    id: 'anamorphic',
    name: 'Old cine lens',
    says: 'Soft warm fall-off, a pincushion, fringes along the depth',
    settings: [
      'glass.lateral=0.0006',
      'glass.axial=0.0009',
      'glass.k1=0.02',
      'glass.vignette.optical=0.9',
      'glass.vignette.wideOpen=2.8',
      'glass.vignette.amount=0.12',
    ],
  },
  {
    id: 'darkroom',
    name: 'Burnt-in corners',
    says: 'No lens: corners darkened in the darkroom',
    settings: ['glass.vignette.amount=0.35', 'glass.vignette.midpoint=0.3'],
  },
];
