import type { StationDefinition } from '../../light/station';
import { focusEffect } from './run';
import { focusSettings } from './settings';

/** Depth of field. Its panel holds the camera, which other stations use, too. */
export const focus: StationDefinition<'focus', typeof focusSettings> = {
  id: 'focus',
  label: 'Focus',
  settings: focusSettings,
  shows: ['camera'],
  effect: focusEffect,
};
