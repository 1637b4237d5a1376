/**
 * Results by content key, the least recently used ones dropped when they outgrow the limit. What a key stands for
 * never changes, so nothing is ever invalidated.
 */
export class ContentCache {
  private readonly entries = new Map<string, { value: unknown; bytes: number }>();
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
    for (const [key, entry] of this.entries) {
      if (!key.startsWith(prefix)) continue;
      this.entries.delete(key);
      this.bytes -= entry.bytes;
    }
  }
}
