import type { StationDefinition } from '../../light/station';
import { filmEffect } from './run';
import { filmSettings } from './settings';

/** What the light falls on, and how it is shown. */
export const film: StationDefinition<'film', typeof filmSettings> = {
  id: 'film',
  label: 'Film',
  settings: filmSettings,
  effect: filmEffect,
};
