import type { StationDefinition } from '../../light/station';
import { ghostEffect } from './run';
import { ghostSettings } from './settings';

/** Light that is reflected inside the lens, and what air and filters do to it. */
export const ghosts: StationDefinition<'ghosts', typeof ghostSettings> = {
  id: 'ghosts',
  label: 'Ghosts',
  settings: ghostSettings,
  effect: ghostEffect,
};
