/** Depth of field by scattering, on memory that all threads share. */
export { findRange, surveyRest, surveyStrip } from './surfaces';
export { cutStrip, orderStrip } from './pieces';
export { bandBytes, scatterBand } from './layers';

/** Where memory is free for the caller. */
export function firstFree(): usize {
  return __heap_base;
}
