import { EngineError } from '../../engine/browser/client';

/** Says something to the person; given by the shell. */
export type Notify = (text: string, kind: 'error' | 'warning' | 'success') => void;

let say: Notify = () => undefined;

export function setNotify(next: Notify): void {
  say = next;
}

export const notify: Notify = (text, kind) => say(text, kind);

/** An error as one line: where, what, and what to do. */
export function errorLine(error: unknown): string {
  if (error instanceof EngineError) {
    const { where, what, todo } = error.failure;
    return `${where ? `${where}: ` : ''}${what}${todo ? `. ${todo}` : ''}`;
  }
  const { line, message } = error as { line?: string; message?: string };
  return line ?? message ?? String(error);
}

export function reportError(error: unknown): void {
  notify(errorLine(error), 'error');
}
