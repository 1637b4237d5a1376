import type { StationView } from '../station-view';
import { FocusGlyph } from './FocusGlyph';
import { FOCUS_COVERS, FocusPanel } from './FocusPanel';

export const focusView: StationView = {
  id: 'focus',
  Glyph: FocusGlyph,
  rayHeight: () => 22,
  figure: ({ look: { camera } }) => `f/${camera.fStop} ${Number(camera.focusDistance.toPrecision(3))} m`,
  Panel: FocusPanel,
  covers: FOCUS_COVERS,
};
