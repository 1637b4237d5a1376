import type { StationView } from '../station-view';
import { pupilHeight } from './pupil-height';
import { PupilGlyph } from './PupilGlyph';
import { PupilPanel } from './PupilPanel';

export const pupilView: StationView = {
  id: 'pupil',
  Glyph: PupilGlyph,
  rayHeight: ({ camera }) => pupilHeight(camera.fStop),
  figure: ({ look: { pupil } }) => (pupil.blades < 3 ? 'round' : `${pupil.blades} blades`),
  Panel: PupilPanel,
  covers: ['pupil'],
};
