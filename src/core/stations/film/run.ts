import { merged, withGain } from '../../light/light';
import type { StationEffect } from '../../light/station';
import { viewNamed, type View } from '../../color/view';
import type { Look } from '../../look/look';

/**
 * Film: what the light falls on. Its exposure is part of every print; its view is only how display files and the
 * screen show the light, so it is not applied here (see {@link filmView}).
 */
export const filmEffect: StationEffect = {
  isActive: (look) => look.film.on,
  reads: (look) => look.film.exposure,
  reach: () => 0,
  run(light, look, { totalOnly }) {
    const needed = totalOnly ? merged(light) : light;
    return Promise.resolve({ light: withGain(needed, 2 ** look.film.exposure) });
  },
};

/** The view of a look; a film that is switched off shows plain sRGB. */
export function filmView(look: Look): View {
  return viewNamed(look.film.on ? look.film.view : 'srgb');
}
