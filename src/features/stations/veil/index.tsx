import type { StationView } from '../station-view';
import { VeilGlyph } from './VeilGlyph';
import { VeilPanel } from './VeilPanel';

export const veilView: StationView = {
  id: 'veil',
  Glyph: VeilGlyph,
  rayHeight: () => 15,
  figure: ({ look, moved }) =>
    moved ? `${look.veil.mode === 'add' ? '+' : ''}${(moved * 100).toFixed(2)} % light` : 'clear',
  Panel: VeilPanel,
  covers: ['veil'],
};
