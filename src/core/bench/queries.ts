import { lampLight, measureLamp } from '../measure/queries';
import { STATION_QUERIES } from '../stations/queries';
import { lampCoreSurvey } from './lamp-cores';
import { weighLook } from './weigh';

/** Every question that the engine answers, by name: those of stations, and those about all of a look. */
export const QUERIES = { ...STATION_QUERIES, lampCoreSurvey, weighLook, lampLight, measureLamp };

export type QueryName = keyof typeof QUERIES;
export type QueryInput<Name extends QueryName> = Parameters<(typeof QUERIES)[Name]>[1];
export type QueryResult<Name extends QueryName> = Awaited<ReturnType<(typeof QUERIES)[Name]>>;
