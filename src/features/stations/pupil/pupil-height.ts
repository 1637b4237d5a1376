/** Half height of the ray bundle where the pupil is widest, pixels. */
const WIDEST = 18;

/** Half height of the ray bundle at the pupil: it narrows by half for every two stops, down to a thread. */
export function pupilHeight(fStop: number): number {
  return Math.min(WIDEST, Math.max(1.5, WIDEST / Math.sqrt(Math.max(1, fStop / 1.4))));
}
