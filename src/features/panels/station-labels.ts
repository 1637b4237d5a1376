import type { StationId } from '../../core/look/look';

export const STATION_LABELS: Readonly<Record<StationId, string>> = {
  plate: 'Plate',
  veil: 'Veil',
  film: 'Film',
};
