/**
 * How a page or worker hears that another worker has ended, for whatever reason: the worker holds a lock of its own as
 * long as it lives, and the other waits for that lock. Without Web Locks (pages that are not secure) nothing is heard.
 */

/** Holds a lock until this thread ends; resolves as soon as it is held. */
export function holdLock(name: string): Promise<void> {
  if (!globalThis.navigator?.locks) return Promise.resolve();
  return new Promise((held) => {
    void navigator.locks.request(name, () => {
      held();
      return new Promise<never>(() => undefined);
    });
  });
}

/** Calls back once the lock's holder has ended; to be asked only after the lock is held. */
export function whenReleased(name: string, released: () => void): void {
  void globalThis.navigator?.locks?.request(name, () => released());
}
