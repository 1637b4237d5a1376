import { CancelledError } from '../errors';

/** Keys of which it is remembered that they were asked about. */
const MAX_SEEN = 1000;

/**
 * Results by content key, the least recently used ones dropped when they outgrow the limit. What a key stands for never
 * changes, so nothing is ever invalidated. Two calls for one key that overlap compute once.
 */
export class ContentCache {
  private readonly entries = new Map<string, { value: unknown; bytes: number }>();
  private readonly slots = new Map<string, { key: string; value: unknown; bytes: number }>();
  private readonly pending = new Map<string, Promise<unknown>>();
  private readonly seen = new Set<string>();
  private bytes = 0;

  constructor(readonly limit: number) {}

  /** Bytes of everything that is kept. */
  get size(): number {
    return this.bytes;
  }

  /** The value of a key, computed if it is not there; `sizeOf` gives the bytes it takes. */
  async getOrCompute<T>(
    key: string,
    compute: () => T | Promise<T>,
    sizeOf: (value: T) => number,
  ): Promise<T> {
    const found = this.entries.get(key);
    if (found) {
      this.entries.delete(key);
      this.entries.set(key, found);
      // Some values grow while they are used.
      const bytes = sizeOf(found.value as T);
      this.bytes += bytes - found.bytes;
      found.bytes = bytes;
      return found.value as T;
    }
    return this.computeOnce(key, compute, (value) => {
      const bytes = sizeOf(value);
      // What alone is over the limit would only push out the rest.
      if (bytes > this.limit) return;
      this.entries.set(key, { value, bytes });
      this.bytes += bytes;
      this.evict();
    });
  }

  /**
   * The value of a key if it was the last one made for its slot; otherwise computes it and forgets the one before. For
   * large results of which only the newest is likely to be wanted again.
   */
  async getOrReplace<T>(
    slot: string,
    key: string,
    compute: () => T | Promise<T>,
    sizeOf: (value: T) => number = () => 0,
  ): Promise<T> {
    const found = this.slots.get(slot);
    if (found?.key === key) return found.value as T;
    return this.computeOnce(`slot ${slot} ${key}`, compute, (value) => {
      this.bytes -= this.slots.get(slot)?.bytes ?? 0;
      const bytes = sizeOf(value);
      this.slots.set(slot, { key, value, bytes });
      this.bytes += bytes;
      this.evict();
    });
  }

  /** Whether a key is asked about for the first time. */
  isFirst(key: string): boolean {
    if (this.seen.has(key)) return false;
    this.seen.add(key);
    if (this.seen.size > MAX_SEEN) this.seen.delete(this.seen.values().next().value!);
    return true;
  }

  /** Forgets every key that begins with a text. */
  drop(prefix: string): void {
    for (const [slot, { key, bytes }] of this.slots) {
      if (!key.startsWith(prefix)) continue;
      this.slots.delete(slot);
      this.bytes -= bytes;
    }
    for (const [key, { bytes }] of this.entries) {
      if (!key.startsWith(prefix)) continue;
      this.entries.delete(key);
      this.bytes -= bytes;
    }
    for (const key of this.seen) if (key.startsWith(prefix)) this.seen.delete(key);
  }

  /** Shares one computation among all who wait for its key. One that fails, or is cancelled, is not kept. */
  private async computeOnce<T>(
    key: string,
    compute: () => T | Promise<T>,
    keep: (value: T) => void,
  ): Promise<T> {
    for (let other = this.pending.get(key); other; other = this.pending.get(key)) {
      try {
        return (await other) as T;
      } catch (error) {
        // That another caller gave up is no reason for this one to.
        if (!(error instanceof CancelledError)) throw error;
      }
    }
    const computing = (async () => compute())();
    this.pending.set(key, computing);
    try {
      const value = await computing;
      keep(value);
      return value;
    } finally {
      this.pending.delete(key);
    }
  }

  /** Drops what was used longest ago until the rest fits. */
  private evict(): void {
    for (const [oldest, { bytes }] of this.entries) {
      if (this.bytes <= this.limit) break;
      this.entries.delete(oldest);
      this.bytes -= bytes;
    }
  }
}
