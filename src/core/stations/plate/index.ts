import type { StationDefinition } from '../../light/station';
import { plateSettings } from './settings';

/** The render, made ready for the lens. Light begins here, so it is computed by {@link plateLight} and not by an effect. */
export const plate: StationDefinition<'plate', typeof plateSettings> = {
  id: 'plate',
  label: 'Plate',
  settings: plateSettings,
  shows: ['masks', 'elements'],
};
