import * as Comlink from 'comlink';
import type { RgbaImage } from '../../core/image/rgba';
import type { QueryName, QueryResult } from '../../core/stations/queries';
import type { ProgressListener } from '../lanes';
import type { Failure, Outcome, QueryRequest } from '../messages';
import type { BenchApi } from './bench.worker';

/** An error that the engine reported, with its parts for a message to the person. */
export class EngineError extends Error {
  constructor(readonly failure: Failure) {
    super(failure.what);
    this.name = 'EngineError';
  }
}

/** The value of an outcome; throws {@link EngineError} if there is none. */
export function unwrap<T>(outcome: Outcome<T>): T {
  if ('failure' in outcome) throw new EngineError(outcome.failure);
  return outcome.value;
}

const listeners = new Set<ProgressListener>();

/** Hears of the progress of every lane until the function that is given back is called. */
export function onProgress(listener: ProgressListener): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

let engine: Comlink.Remote<BenchApi> | undefined;

/** The bench worker of this page, started at first use. */
export function benchEngine(): Comlink.Remote<BenchApi> {
  if (engine) return engine;
  engine = Comlink.wrap<BenchApi>(
    new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' }),
  );
  void engine.listen(Comlink.proxy((lane, done) => listeners.forEach((listener) => listener(lane, done))));
  return engine;
}

/** A query's result as the page gets it: its pictures are image bitmaps. */
export type PageResult<Result> = Result extends object
  ? {
      [Key in keyof Result]: Result[Key] extends RgbaImage | undefined
        ? ImageBitmap | Exclude<Result[Key], RgbaImage>
        : Result[Key];
    }
  : Result;

/** Asks a station's question. Throws {@link EngineError} if there is no answer. */
export async function askStation<Name extends QueryName>(
  request: QueryRequest<Name>,
): Promise<PageResult<QueryResult<Name>>> {
  return unwrap(await benchEngine().ask(request as QueryRequest)) as PageResult<QueryResult<Name>>;
}
