import * as Comlink from 'comlink';
import type { RgbaImage } from '../../core/image/rgba';
import type { QueryName, QueryResult } from '../../core/bench/queries';
import type { ProgressListener } from '../lanes';
import type { Failure, Outcome, QueryRequest } from '../messages';
import type { BenchApi } from './bench.worker';
import { whenReleased } from './life-lock';

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

/** What the page hears of the engine besides results. */
interface EngineEvents {
  /** Something the person should know. */
  notice(text: string): void;
  /** The engine ended and another took its place, without plates and images; `ends` is how often so far. */
  replaced(ends: number): void;
}

let events: EngineEvents = { notice: () => undefined, replaced: () => undefined };

export function setEngineEvents(next: EngineEvents): void {
  events = next;
}

type Engine = Comlink.Remote<BenchApi>;

let engine: Engine | undefined;
let ends = 0;

/** The bench worker of this page, started at first use. If it ends, calls to it fail and another is started. */
export function benchEngine(): Engine {
  engine ??= startEngine();
  return engine;
}

function startEngine(): Engine {
  const worker = new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<BenchApi>(worker);
  let fail: (error: EngineError) => void = () => undefined;
  const ended = new Promise<never>((_, reject) => (fail = reject));
  ended.catch(() => undefined);
  const own = failingWith(remote, ended);
  const end = (): void => {
    if (engine !== own) return;
    engine = undefined;
    worker.terminate();
    fail(
      new EngineError({
        kind: 'fault',
        what: 'the engine ended in the middle of this',
        where: undefined,
        todo: 'It was started again; nothing of the shot is lost',
      }),
    );
    events.replaced(++ends);
  };
  const lock = `engine ${crypto.randomUUID()}`;
  // An error before anything was answered: the worker did not even start.
  worker.onerror = () => end();
  void remote.holdLock(lock).then(() => {
    worker.onerror = ({ message }) => events.notice(`the engine reported an error: ${message}`);
    whenReleased(lock, end);
  });
  void remote.listen(
    Comlink.proxy((lane, done) => listeners.forEach((listener) => listener(lane, done))),
    Comlink.proxy((text) => events.notice(text)),
  );
  return own;
}

/** The remote, its calls failing as soon as a promise rejects; by themselves they would wait for an answer for ever. */
function failingWith(remote: Engine, ended: Promise<never>): Engine {
  type Call = (...args: unknown[]) => Promise<unknown>;
  return new Proxy(remote, {
    get: (target, name) => {
      const call = Reflect.get(target, name) as Call;
      return (...args: unknown[]) => Promise.race([call(...args), ended]);
    },
  });
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
