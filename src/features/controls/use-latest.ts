import { useEffect, useRef, useState } from 'react';
import { EngineError } from '../../engine/browser/client';
import { reportError } from '../session';

/**
 * What `ask` gives for the newest key: while one answer is under way, later keys wait, and only the last of them is asked
 * for. The answer before stays until then. A key of undefined asks for nothing.
 */
export function useLatest<T>(key: string | undefined, ask: () => Promise<T>): T | undefined {
  const [answer, setAnswer] = useState<T>();
  const newest = useRef({ ask, key, answered: undefined as string | undefined, busy: false, alive: true });
  useEffect(() => {
    const state = newest.current;
    state.alive = true;
    Object.assign(state, { ask, key });
    if (key === undefined || state.busy || key === state.answered) return;
    const work = async (): Promise<void> => {
      state.busy = true;
      while (state.alive && state.key !== undefined && state.key !== state.answered) {
        state.answered = state.key;
        try {
          const made = await state.ask();
          if (state.alive) setAnswer(() => made);
        } catch (error) {
          if (!(error instanceof EngineError && error.failure.kind === 'setting')) reportError(error);
        }
      }
      state.busy = false;
    };
    void work();
  });
  useEffect(
    () => () => {
      newest.current.alive = false;
    },
    [],
  );
  return answer;
}
