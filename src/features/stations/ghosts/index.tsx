import type { StationView } from '../station-view';
import { GhostsGlyph } from './GhostsGlyph';
import { GhostsPanel } from './GhostsPanel';

export const ghostsView: StationView = {
  id: 'ghosts',
  Glyph: GhostsGlyph,
  rayHeight: () => 13,
  figure: ({ look: { ghosts } }) => {
    const lights =
      ghosts.lights.filter(({ on, flare }) => on && flare > 0).length +
      (ghosts.find.on ? ghosts.find.count : 0);
    if (lights === 0) return 'no light';
    return `${lights} light${lights === 1 ? '' : 's'}, ${ghosts.count} each`;
  },
  Panel: GhostsPanel,
  covers: ['ghosts'],
};
