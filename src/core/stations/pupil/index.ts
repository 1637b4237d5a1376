import type { StationDefinition } from '../../light/station';
import { pupilSettings } from './settings';

/** The aperture. Focus and Veil use it; it does nothing by itself. */
export const pupil: StationDefinition<'pupil', typeof pupilSettings> = {
  id: 'pupil',
  label: 'Pupil',
  settings: pupilSettings,
};
