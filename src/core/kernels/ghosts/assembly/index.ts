/** Ghosts: images of the aperture by two reflections, from rays, on memory that all threads share. */
export { surveyGhost, measureGhost, drawGroup } from './draw';
export { sumRows, finishRows } from './sum';

/** Where memory is free for the caller. */
export function firstFree(): usize {
  return __heap_base;
}
