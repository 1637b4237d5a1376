import { focusQueries } from './focus/queries';
import { ghostQueries } from './ghosts/queries';
import { glassQueries } from './glass/queries';
import { plateQueries } from './plate/queries';
import { pupilQueries } from './pupil/queries';
import { veilQueries } from './veil/queries';

/** Every question that a station's panel can ask the engine, by name. */
export const QUERIES = {
  ...plateQueries,
  ...focusQueries,
  ...pupilQueries,
  ...veilQueries,
  ...ghostQueries,
  ...glassQueries,
};

export type QueryName = keyof typeof QUERIES;
export type QueryInput<Name extends QueryName> = Parameters<(typeof QUERIES)[Name]>[1];
export type QueryResult<Name extends QueryName> = Awaited<ReturnType<(typeof QUERIES)[Name]>>;
