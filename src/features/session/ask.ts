import type { QueryName, QueryResult } from '../../core/bench/queries';
import { askStation, type PageResult } from '../../engine/browser/client';
import type { QueryRequest } from '../../engine/messages';
import { benchLook } from './open-plates';

/** Asks a station's question about the shot: of plates and images as they are open in the engine. */
export function askBench<Name extends QueryName>(
  request: QueryRequest<Name>,
): Promise<PageResult<QueryResult<Name>>> {
  return askStation({ ...request, look: benchLook(request.look) });
}
