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

/** Memory that an arena has let go, for the next one to take: it is large, and collected late. */
let spare: WeakRef<WebAssembly.Memory> | undefined;

/** Spare memory is taken for what needs at least this share of it. */
const LEAST_USE = 0.25;

function takeMemory(expectedBytes: number): WebAssembly.Memory {
  const memory = spare?.deref();
  if (memory && expectedBytes >= LEAST_USE * memory.buffer.byteLength) {
    spare = undefined;
    return memory;
  }
  return new WebAssembly.Memory({ initial: INITIAL_PAGES, maximum: MAX_PAGES, shared: canShareMemory });
}

/** A stack allocator over the shared memory of a WebAssembly kernel. Addresses are in bytes; memory is not zeroed. */
export class Arena {
  readonly memory: WebAssembly.Memory;
  readonly shared: SharedMemory;
  private next = 0;

  /** `expectedBytes`: about how much will be allocated. */
  constructor(expectedBytes = 0) {
    this.memory = takeMemory(expectedBytes);
    this.shared = { id: ++lastId, memory: this.memory };
  }

  /** Allocates bytes, aligned to 16. Throws a RangeError if the memory cannot grow so far. */
  allocate(bytes: number): number {
    // No bit operation: they end at 2 GiB.
    const address = Math.ceil(this.next / 16) * 16;
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
    return Math.ceil(this.allocate(bytes + 64) / 64) * 64;
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

  /** Lets the memory go. Nothing may be at work in it, and it is not used through this arena again. */
  dispose(): void {
    const other = spare?.deref();
    if (!other || other.buffer.byteLength < this.bytes) spare = new WeakRef(this.memory);
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
