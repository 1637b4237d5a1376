const PAGE = 65536;
const FIRST_PAGES = 16;
const MOST_PAGES = 65536;

/** One kernel's memory. Threads know it by its number: what arrives by message is a new object each time. */
export interface SharedMemory {
  id: number;
  memory: WebAssembly.Memory;
}

let lastId = 0;

/** Memory of a WebAssembly kernel that is handed out piece by piece. */
export class Arena {
  readonly memory = new WebAssembly.Memory({ initial: FIRST_PAGES, maximum: MOST_PAGES, shared: true });
  /** What threads are handed: by its number they know memory that they have seen. */
  readonly shared: SharedMemory = { id: ++lastId, memory: this.memory };
  private next = 0;

  take(bytes: number): number {
    const at = (this.next + 15) & ~15;
    this.next = at + bytes;
    const pages = Math.ceil(this.next / PAGE) - this.memory.buffer.byteLength / PAGE;
    try {
      if (pages > 0) this.memory.grow(pages);
    } catch {
      throw new RangeError(`Array buffer allocation failed: ${this.next} bytes for a kernel`);
    }
    return at;
  }

  mark(): number {
    return this.next;
  }

  /** Gives back what was taken since a mark. */
  release(mark: number): void {
    this.next = mark;
  }

  get bytes(): number {
    return this.memory.buffer.byteLength;
  }

  floats(at: number, count: number): Float32Array {
    return new Float32Array(this.memory.buffer, at, count);
  }

  ints(at: number, count: number): Int32Array {
    return new Int32Array(this.memory.buffer, at, count);
  }

  octets(at: number, count: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, at, count);
  }
}
