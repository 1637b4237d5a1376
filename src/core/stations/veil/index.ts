import type { StationDefinition } from '../../light/station';
import { veilEffect } from './run';
import { veilSettings } from './settings';

/** The light that the lens scatters around bright sources. */
export const veil: StationDefinition<'veil', typeof veilSettings> = {
  id: 'veil',
  label: 'Veil',
  settings: veilSettings,
  effect: veilEffect,
};
