import type { Arena } from './memory';

/** A field of a plan as the kernel's own source declares it: its name, and whether it holds a whole number or a float. */
export type PlanFields = Readonly<Record<string, 'int' | 'float'>>;

/**
 * A record of 4-byte fields in a kernel's memory, by which TypeScript and WebAssembly tell each other sizes and addresses.
 * The fields come from `class Plan` in the kernel's `assembly/plan.ts`; the build writes them beside the module.
 */
export class Plan<Fields extends PlanFields> {
  /** Byte address of the record. */
  readonly address: number;
  private readonly offsets: ReadonlyMap<string, number>;

  constructor(
    private readonly arena: Arena,
    private readonly fields: Fields,
  ) {
    const names = Object.keys(fields);
    this.offsets = new Map(names.map((name, index) => [name, 4 * index]));
    this.address = arena.allocate(4 * names.length);
  }

  /** Address of the first byte behind the record. */
  get end(): number {
    return this.address + 4 * this.offsets.size;
  }

  /** A field's value; addresses go up to 4 GiB. */
  get(field: keyof Fields & string): number {
    const value = this.view(field)[0]!;
    return this.fields[field] === 'float' ? value : value >>> 0;
  }

  set(field: keyof Fields & string, value: number): void {
    this.view(field)[0] = value;
  }

  /** Allocates bytes and notes their address in a field. */
  allocate(field: keyof Fields & string, bytes: number): number {
    const address = this.arena.allocate(bytes);
    this.set(field, address);
    return address;
  }

  private view(field: keyof Fields & string): Int32Array | Float32Array {
    const address = this.address + this.offsets.get(field)!;
    return this.fields[field] === 'float' ? this.arena.floats(address, 1) : this.arena.ints(address, 1);
  }
}
