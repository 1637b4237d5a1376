import { scenePieces } from '../../../core/stations/glass/scene';
import { isMoved } from '../../../core/stations/glass/warp';
import type { StationView } from '../station-view';
import { GlassGlyph } from './GlassGlyph';
import { GlassPanel } from './GlassPanel';

export const glassView: StationView = {
  id: 'glass',
  Glyph: GlassGlyph,
  rayHeight: () => 8,
  figure: ({ look }) => {
    const { on, fromLens, abbe, drive, lateral } = look.glass;
    const pieces = scenePieces(look).length;
    if (on && fromLens) return 'traced';
    if (drive === 'glass') return `V ${Number(abbe.toFixed(1))}`;
    if (lateral !== 0) return `${Number((100 * lateral).toFixed(3))} % h`;
    if (pieces > 0) return `${pieces} in the scene`;
    return on && isMoved(look) ? 'moved' : 'clear';
  },
  Panel: GlassPanel,
  covers: ['glass'],
};
