import { elementOf } from '../../../core/settings/element';
import type { StationView } from '../station-view';
import { PLATE_COVERS, PlatePanel } from './PlatePanel';
import { PlateGlyph } from './PlateGlyph';

export const plateView: StationView = {
  id: 'plate',
  Glyph: PlateGlyph,
  rayHeight: () => 2,
  figure: ({ look, passes }) => {
    const { exposure } = look.plate;
    const { source } = elementOf(look, 0);
    if (source === 'sum') return 'sum of passes';
    if (exposure !== 0) return `${exposure > 0 ? '+' : ''}${exposure} st`;
    if (passes === undefined) return 'no plate';
    return passes === 1 ? '1 pass' : `${passes} passes`;
  },
  Panel: PlatePanel,
  covers: PLATE_COVERS,
};
