import type { StationDefinition } from '../../light/station';
import { glassEffect } from './run';
import { sceneGlassEffect } from './scene';
import { glassSettings } from './settings';

/** What glass does to light: that of the lens to the picture, and that in the scene to what is seen through it. */
export const glass: StationDefinition<'glass', typeof glassSettings> = {
  id: 'glass',
  label: 'Glass',
  settings: glassSettings,
  scene: sceneGlassEffect,
  effect: glassEffect,
};
