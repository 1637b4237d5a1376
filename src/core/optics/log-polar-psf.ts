import { ANGLES, STEP } from '../kernels/diffraction';

export { ANGLES, STEP };

/**
 * The image of a point through a pupil: Fraunhofer diffraction, `|FFT(P)|^2`, which for each wavelength is the same
 * pattern in units of wavelength times f-number. It is kept by the logarithm of the distance and the angle: there a
 * longer wavelength is a step outwards, softness a blur along one axis, and the far field a straight line.
 * [Goodman 1968, Introduction to Fourier Optics; Ritschel et al. 2009 for its use on pictures]
 */
export interface LogPolarPsf {
  /** Rows of {@link ANGLES} values over half a turn, from the nearest distance on; the other half is the same. */
  density: Float32Array;
  /** Logarithm of the first row's distance. */
  first: number;
  rows: number;
}

/** Rows over which the fall-off of the far field is taken. */
const FALL_ROWS = 40;

/** The exponent of the fall-off at the far end, for each angle: between that along a spike and that in a gap. */
export function slopes({ density, rows }: LogPolarPsf): Float32Array {
  const mean = (from: number, angle: number): number => {
    let sum = 0;
    for (let row = from; row < from + FALL_ROWS; row++) sum += density[row * ANGLES + angle]!;
    return sum;
  };
  return Float32Array.from({ length: ANGLES }, (_, angle) => {
    const [near, far] = [mean(rows - 2 * FALL_ROWS, angle), mean(rows - FALL_ROWS, angle)];
    if (!(near > 0 && far > 0)) return -3;
    return Math.min(-2, Math.max(-4, Math.log(far / near) / (FALL_ROWS * STEP)));
  });
}
