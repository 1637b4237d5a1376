import { filmView } from './film';
import { focusView } from './focus';
import { ghostsView } from './ghosts';
import { glassView } from './glass';
import { plateView } from './plate';
import { pupilView } from './pupil';
import type { StationView } from './station-view';
import { veilView } from './veil';

/** What a person sees of each station. A new station is one line here and one in `core/stations/index.ts`. */
export const STATION_VIEWS: readonly StationView[] = [
  plateView,
  focusView,
  pupilView,
  veilView,
  ghostsView,
  glassView,
  filmView,
];
