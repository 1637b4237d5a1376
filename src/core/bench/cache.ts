/**
 * Results by content key, the least recently used ones dropped when they outgrow the limit. What a key stands for
 * never changes, so nothing is ever invalidated.
 */
export class ContentCache {
  private readonly entries = new Map<string, { value: unknown; bytes: number }>();
  private readonly slots = new Map<string, { key: string; value: unknown }>();
  private bytes = 0;

  constructor(readonly limit: number) {}

  get size(): number {
    return this.bytes;
  }

  /** The value of a key, made by `make` if it is not there; `sizeOf` tells the bytes it takes. */
  async take<T>(key: string, make: () => T | Promise<T>, sizeOf: (value: T) => number): Promise<T> {
    const found = this.entries.get(key);
    if (found) {
      this.entries.delete(key);
      this.entries.set(key, found);
      return found.value as T;
    }
    const value = await make();
    this.put(key, value, sizeOf(value));
    return value;
  }

  /**
   * The value of a key if it was the last one made for its slot; otherwise makes it and forgets the one before. For
   * large results of which only the newest is likely to be wanted again.
   */
  async latest<T>(slot: string, key: string, make: () => Promise<T>): Promise<T> {
    const found = this.slots.get(slot);
    if (found?.key === key) return found.value as T;
    const value = await make();
    this.slots.set(slot, { key, value });
    return value;
  }

  private put(key: string, value: unknown, bytes: number): void {
    this.entries.set(key, { value, bytes });
    this.bytes += bytes;
    for (const [oldest, entry] of this.entries) {
      if (this.bytes <= this.limit || oldest === key) break;
      this.entries.delete(oldest);
      this.bytes -= entry.bytes;
    }
  }

  /** Forgets every key that begins with a text. */
  drop(prefix: string): void {
    for (const [slot, { key }] of this.slots) if (key.startsWith(prefix)) this.slots.delete(slot);
    for (const [key, entry] of this.entries) {
      if (!key.startsWith(prefix)) continue;
      this.entries.delete(key);
      this.bytes -= entry.bytes;
    }
  }
}
