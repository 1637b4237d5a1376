/** 0 up to 0, 1 from 1 on, and between them a cubic that sets in and ends without a slope. */
export function smoothStep(t: number): number {
  return t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t);
}
