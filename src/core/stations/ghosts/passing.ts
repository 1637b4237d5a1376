import { smoothStep } from '../../image/smooth-step';

/** How much nearer than a light something must be to cover it: a share of the distance, and metres. */
const NEARER = { share: 0.03, metres: 0.1 };
/** Stops below the threshold at which the picture counts as dark. */
const DARK = 2;

/** Share of a light at a distance that something at another leaves: less the nearer it is than the light. */
export function passedByDepth(depth: number, distance: number): number {
  const slack = Math.max(NEARER.share * distance, NEARER.metres);
  return 1 - smoothStep((distance - depth) / slack - 1);
}

/** Share of a light that is seen where the picture has a luminance: all from the threshold on, nothing in the dark. */
export function passedByPicture(bright: number, threshold: number): number {
  return smoothStep(1 + Math.log2(Math.max(1e-12, bright) / threshold) / DARK);
}
