import { focusQueries } from './focus/queries';
import { ghostQueries } from './ghosts/queries';
import { glassQueries } from './glass/queries';
import { plateQueries } from './plate/queries';
import { pupilQueries } from './pupil/queries';
import { veilQueries } from './veil/queries';

/** Every question that a station's panel can ask the engine, by name. */
export const STATION_QUERIES = {
  ...plateQueries,
  ...focusQueries,
  ...pupilQueries,
  ...veilQueries,
  ...ghostQueries,
  ...glassQueries,
};
