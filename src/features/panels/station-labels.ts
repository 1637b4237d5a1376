import type { StationId } from '../../core/look/look';

export const STATION_LABELS: Readonly<Record<StationId, string>> = {
  plate: 'Plate',
  focus: 'Focus',
  pupil: 'Pupil',
  veil: 'Veil',
  film: 'Film',
};
