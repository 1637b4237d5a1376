import { contrastMap, logTable } from '../../color/tone';
import { MIDDLE_GREY } from '../../color/view';
import { sameForAll, type ToneTables } from '../../light/grading';
import type { Look } from '../../look/look';

type FilmSettings = Look['film'];

/** Contrast about middle grey, if there is any. */
export function contrastTables({ contrast }: FilmSettings): ToneTables | undefined {
  return contrast === 1 ? undefined : sameForAll(logTable(contrastMap(contrast, MIDDLE_GREY)));
}

/**
 * Lift and gain as a matrix with an offset, and gamma as a table: `(gain (x + lift (1 - x)))^(1 / gamma)`, the classical
 * formula (common practice). Below zero the power goes on turned about it.
 */
export function liftGainMatrix({ lift, gain }: FilmSettings): Float32Array | undefined {
  if (lift === 0 && gain === 1) return undefined;
  const [scale, offset] = [gain * (1 - lift), gain * lift];
  return Float32Array.of(scale, 0, 0, offset, 0, scale, 0, offset, 0, 0, scale, offset);
}

export function gammaTables({ gamma }: FilmSettings): ToneTables | undefined {
  return gamma === 1 ? undefined : sameForAll(logTable((light) => light ** (1 / gamma)));
}
