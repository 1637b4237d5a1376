import { BokeluxError, CancelledError, SettingError } from '../core/errors';
import type { Failure, Outcome } from './messages';

/** The value of some work, or why there is none. */
export async function settle<T>(work: () => T | Promise<T>): Promise<Outcome<T>> {
  try {
    return { value: await work() };
  } catch (error) {
    return { failure: describeFailure(error) };
  }
}

/** An error in the form in which it crosses a message boundary. */
export function describeFailure(error: unknown): Failure {
  if (error instanceof BokeluxError) {
    const kind =
      error instanceof CancelledError ? 'cancelled' : error instanceof SettingError ? 'setting' : 'input';
    return { kind, what: error.message, where: error.where, todo: error.todo };
  }
  const memory = error instanceof RangeError && /alloc|length|memory/i.test(error.message);
  if (memory) {
    return {
      kind: 'input',
      what: 'there is not enough memory for this',
      where: undefined,
      todo: 'Close other plates or take a smaller one',
    };
  }
  return {
    kind: 'fault',
    what: error instanceof Error ? error.message : String(error),
    where: undefined,
    todo: undefined,
  };
}
