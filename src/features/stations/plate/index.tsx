import { elementOf } from '../../../core/settings/element';
import type { StationView } from '../station-view';
import { PLATE_COVERS, PlatePanel } from './PlatePanel';
import { PlateGlyph } from './PlateGlyph';

export const plateView: StationView = {
  id: 'plate',
  Glyph: PlateGlyph,
  rayHeight: () => 2,
  figure: ({ look, passes, elements = 0 }) => {
    const { exposure } = look.plate;
    const { source } = elementOf(look, 0);
    if (elements === 0 && source === 'sum') return 'sum of passes';
    if (exposure !== 0) return `${exposure > 0 ? '+' : ''}${exposure} st`;
    if (passes === undefined) return 'no plate';
    if (elements > 0) return `${elements} elements`;
    return passes === 1 ? '1 pass' : `${passes} passes`;
  },
  Panel: PlatePanel,
  covers: PLATE_COVERS,
};
