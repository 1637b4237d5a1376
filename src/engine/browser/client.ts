import * as Comlink from 'comlink';
import type { ProgressListener } from '../bench-engine';
import type { Failure, Outcome } from '../messages';
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
  if (!globalThis.crossOriginIsolated) {
    throw new EngineError({
      kind: 'fault',
      what: 'this page may not share memory between threads',
      where: undefined,
      todo: 'Open it at the address that `npm start` prints, in a current browser',
    });
  }
  engine = Comlink.wrap<BenchApi>(
    new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' }),
  );
  void engine.listen(Comlink.proxy((lane, done) => listeners.forEach((listener) => listener(lane, done))));
  return engine;
}
