import { type Shared } from './shared';
import { canShareMemory } from './shared';

const PAGE = 65536;
const INITIAL_PAGES = 16;
const MAX_PAGES = 65536;

/** Shared memory with a stable id: a message wraps it in a new object, so threads cache instances by id. */
export interface SharedMemory {
  id: number;
  memory: WebAssembly.Memory;
}

let lastId = 0;

/** A stack allocator over the shared memory of a WebAssembly kernel. Addresses are in bytes. */
export class Arena {
  readonly memory = new WebAssembly.Memory({
    initial: INITIAL_PAGES,
    maximum: MAX_PAGES,
    shared: canShareMemory,
  });
  readonly shared: SharedMemory = { id: ++lastId, memory: this.memory };
  private next = 0;

  /** Allocates bytes, aligned to 16. Throws a RangeError if the memory cannot grow so far. */
  allocate(bytes: number): number {
    const address = (this.next + 15) & ~15;
    this.next = address + bytes;
    const pages = Math.ceil(this.next / PAGE) - this.memory.buffer.byteLength / PAGE;
    try {
      if (pages > 0) this.memory.grow(pages);
    } catch {
      throw new RangeError(`Array buffer allocation failed: ${this.next} bytes for a kernel`);
    }
    return address;
  }

  /** Allocates bytes that begin with a cache line. */
  allocateAligned(bytes: number): number {
    return (this.allocate(bytes + 64) + 63) & ~63;
  }

  mark(): number {
    return this.next;
  }

  /** Frees everything that was allocated since a mark. */
  release(mark: number): void {
    this.next = mark;
  }

  get bytes(): number {
    return this.memory.buffer.byteLength;
  }

  floats(address: number, count: number): Float32Array {
    return new Float32Array(this.memory.buffer, address, count);
  }

  ints(address: number, count: number): Int32Array {
    return new Int32Array(this.memory.buffer, address, count);
  }

  octets(address: number, count: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, address, count);
  }
}
