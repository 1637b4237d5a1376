import { Arena } from './arena';
import { convolutionKernel, type ConvolutionCall } from './convolution-wasm-jobs';
import type { ConvolutionKernel, KernelPlane, KernelRows, Spectrum } from './convolution';
import { goodSize } from './fft';
import type { KernelPlacing } from './kernel-planes';
import { portion, type Parallel, type RunOptions, type Task } from './parallel';
import { inRooms } from './rooms';

/** Rows that the kernel does at once, columns of a block, bytes of a block's row and of a number four lanes wide. */
const ROWS = 8;
const BLOCK = 16;
const BLOCK_ROW = 128;
const NUMBER = 32;
/** A row's room ends with a square that frequencies are turned in. */
const SQUARE = 256;
/** Spectra that are kept in the kernel's memory: for each channel that of a kernel and that of a plane. */
const SLOTS = 6;
/** Calls in one step: enough that threads even out, and each with so many numbers that its message does not weigh. */
const CALLS = 16;
const NUMBERS_A_CALL = 250_000;
/** Memory is kept between convolutions for so many sizes and up to so many bytes. */
const KEPT = 3;
const KEPT_BYTES = 512 * 1024 ** 2;

/** The fields of the kernel's plan, in its order. */
const FIELDS = [
  'height',
  'pitch',
  'length',
  'rows',
  'rowStages',
  'columnStages',
  'positions',
  'blocks',
  'blockBytes',
  'grid',
  'plane',
] as const;
type Field = (typeof FIELDS)[number];

/** A spectrum as the kernel's grid holds it. */
interface FastSpectrum extends Spectrum {
  data: Float32Array;
}

/** Memory for convolutions of one size. */
class Workshop {
  readonly arena = new Arena();
  private readonly plan: number;
  private readonly places = new Map<Field, number>();
  private readonly length: number;
  private readonly rows: number;
  private readonly grid: number;
  private readonly gridBytes: number;
  private readonly slots: { at: number; holds: FastSpectrum | undefined; used: number }[] = [];
  private readonly rooms: number[];
  private readonly calls: number;
  private uses = 0;

  constructor(
    private readonly parallel: Parallel,
    readonly width: number,
    readonly height: number,
  ) {
    const { arena } = this;
    // What the module keeps for itself lies first.
    arena.release(convolutionKernel(arena.shared).firstFree());
    this.plan = arena.take(FIELDS.length * 4);
    this.length = BLOCK * 2 * goodSize(Math.ceil((2 * width - 1) / (2 * BLOCK)));
    this.rows = goodSize(Math.max(2 * height - 1, Math.ceil(height / ROWS) * ROWS));
    // The kernel's own rows go by eight.
    while (this.rows % ROWS !== 0) this.rows = goodSize(this.rows + 1);
    const { length, rows } = this;
    const wanted = Math.round((length * rows) / NUMBERS_A_CALL);
    this.calls = Math.min(CALLS, Math.max(2 * parallel.threads, wanted));
    this.set('length', length);
    this.set('rows', rows);
    const rowLevels = radicesOf(length);
    const columnLevels = radicesOf(rows);
    this.set('rowStages', this.layStages(rowLevels));
    this.set('columnStages', this.layStages(columnLevels));
    this.set('positions', this.layPositions(rowLevels));
    const blocks = length / 2 / BLOCK;
    // Blocks a power of two apart would all fall in the same lines of the cache.
    const blockBytes = (rows | 1) * BLOCK_ROW;
    this.set('blocks', blocks);
    this.set('blockBytes', blockBytes);
    this.gridBytes = blocks * blockBytes + rows * NUMBER;
    this.grid = this.takeLines(this.gridBytes);
    this.rooms = Array.from({ length: parallel.threads }, () => this.takeLines(length * NUMBER + SQUARE));
    this.set('plane', this.takeLines(length * rows * 4));
  }

  /** Memory that begins with a line of the cache. */
  private takeLines(bytes: number): number {
    return (this.arena.take(bytes + 64) + 63) & ~63;
  }

  private set(field: Field, value: number): void {
    this.places.set(field, value);
    this.arena.ints(this.plan + 4 * FIELDS.indexOf(field), 1)[0] = value;
  }

  /** Writes the levels of a transform with their twiddle factors. */
  private layStages(radices: readonly number[]): number {
    const at = this.arena.take(radices.length * 16);
    let rest = radices.reduce((product, radix) => product * radix, 1);
    radices.forEach((radix, level) => {
      const count = rest / radix;
      const twiddles = this.arena.take(count * (radix - 1) * 8);
      const factors = this.arena.floats(twiddles, count * (radix - 1) * 2);
      for (let p = 0, i = 0; p < count; p++)
        for (let k = 1; k < radix; k++) {
          const angle = (-2 * Math.PI * ((p * k) % rest)) / rest;
          factors[i++] = Math.cos(angle);
          factors[i++] = Math.sin(angle);
        }
      this.arena.ints(at + 16 * level, 4).set([radix, count, twiddles, 0]);
      rest = count;
    });
    return at;
  }

  /** Where each frequency lies after a transform, whose digits come out reversed. */
  private layPositions(radices: readonly number[]): number {
    const { length } = this;
    const at = this.arena.take((length + 1) * 4);
    const positions = this.arena.ints(at, length + 1);
    for (let frequency = 0; frequency < length; frequency++) {
      let [rest, size, place] = [frequency, length, 0];
      for (const radix of radices) {
        size /= radix;
        place += (rest % radix) * size;
        rest = Math.floor(rest / radix);
      }
      positions[frequency] = place * NUMBER;
    }
    positions[length] = positions[0]!;
    return at;
  }

  /** Does a step, shared out over threads, each with a room of its own. */
  private async run(
    step: ConvolutionCall['step'],
    count: number,
    options: RunOptions,
    places: Pick<ConvolutionCall, 'spectrum' | 'source'> = {},
  ): Promise<void> {
    const size = Math.ceil(count / Math.min(count, this.calls));
    const calls: ConvolutionCall[] = [];
    for (let from = 0; from < count; from += size)
      calls.push({ step, from, to: Math.min(count, from + size), ...places });
    const { plan, arena, parallel } = this;
    const work = (call: ConvolutionCall, room: number): Promise<void> =>
      parallel.run([{ job: 'convolution', input: { ...call, ...arena.shared, plan, room } }], {
        signal: options.signal,
      });
    await inRooms(this.rooms, calls, work, options);
  }

  async prepare(kernel: KernelRows | readonly KernelPlane[], options: RunOptions): Promise<Spectrum> {
    const { length, rows } = this;
    const slot = this.freeSlot();
    slot.holds = undefined;
    // Rows come out of the transform doubled, and it does not divide by its length.
    const scale = 1 / (4 * length * rows);
    if (typeof kernel === 'function') this.layRows(kernel, scale);
    else await this.layPlanes(kernel, scale, options);
    this.set('pitch', length * 4);
    this.set('height', rows);
    this.set('grid', slot.at);
    await this.run('rowsForward', rows / ROWS, portion(options, 0.2, 0.6));
    await this.run('columnsForward', this.places.get('blocks')! + 1, portion(options, 0.6, 1));
    return this.keep(slot);
  }

  /** Lays a kernel's planes into the padded plane, shared out over threads. */
  private async layPlanes(
    planes: readonly KernelPlane[],
    scale: number,
    { signal }: RunOptions,
  ): Promise<void> {
    const { width, height, length, rows, arena, parallel } = this;
    const placing = {
      ...{ ...arena.shared, at: this.places.get('plane')!, length, rows, width, height },
      planes: planes.map((plane) => ({ ...plane, gain: plane.gain * scale })),
    };
    const size = Math.ceil(rows / this.calls);
    const tasks: Task[] = [];
    for (let from = 0; from < rows; from += size)
      tasks.push({
        job: 'placeKernel',
        input: { ...placing, from, to: Math.min(rows, from + size) } satisfies KernelPlacing,
      });
    await parallel.run(tasks, { signal });
  }

  private layRows(kernelRow: KernelRows, scale: number): void {
    const { width, height, length, rows, arena } = this;
    const plane = arena.floats(this.places.get('plane')!, length * rows);
    const row = new Float32Array(2 * width - 1);
    plane.fill(0, height * length, (rows - height + 1) * length);
    for (let dy = 1 - height; dy < height; dy++) {
      kernelRow(dy, row);
      const at = ((dy + rows) % rows) * length;
      const back = at + length - (width - 1);
      for (let dx = 0; dx < width; dx++) plane[at + dx] = scale * row[width - 1 + dx]!;
      plane.fill(0, at + width, back);
      for (let i = 0; i < width - 1; i++) plane[back + i] = scale * row[i]!;
    }
  }

  private freeSlot(): (typeof this.slots)[number] {
    if (this.slots.length < SLOTS)
      this.slots.push({ at: this.takeLines(this.gridBytes), holds: undefined, used: 0 });
    const slot = this.slots.reduce((oldest, other) => (other.used < oldest.used ? other : oldest));
    slot.used = ++this.uses;
    return slot;
  }

  /** Where a spectrum lies, brought back if another took its place. */
  private place(spectrum: FastSpectrum): number {
    let slot = this.slots.find(({ holds }) => holds === spectrum);
    if (!slot) {
      slot = this.freeSlot();
      this.arena.floats(slot.at, this.gridBytes / 4).set(spectrum.data);
      slot.holds = spectrum;
    }
    slot.used = ++this.uses;
    return slot.at;
  }

  /** Lays a picture's plane where the kernel reads and writes it; gives how many of its rows go by eight. */
  private open(source: Float32Array | undefined, grid: number): number {
    const { width, height, arena } = this;
    const pitch = (width + 3) & ~3;
    const filled = Math.ceil(height / ROWS) * ROWS;
    this.set('pitch', pitch * 4);
    this.set('height', height);
    this.set('grid', grid);
    if (!source) return filled;
    const plane = arena.floats(this.places.get('plane')!, pitch * filled);
    if (pitch === width) plane.set(source);
    else
      for (let y = 0; y < height; y++) {
        plane.set(source.subarray(y * width, (y + 1) * width), y * pitch);
        plane.fill(0, y * pitch + width, (y + 1) * pitch);
      }
    plane.fill(0, height * pitch);
    return filled;
  }

  /** Transforms a picture's plane, for convolutions to come. */
  async transform(source: Float32Array, options: RunOptions): Promise<Spectrum> {
    const slot = this.freeSlot();
    slot.holds = undefined;
    const filled = this.open(source, slot.at);
    await this.run('rowsForward', filled / ROWS, portion(options, 0, 0.5));
    await this.run('columnsForward', this.places.get('blocks')! + 1, portion(options, 0.5, 1));
    return this.keep(slot);
  }

  /** A copy of what was made in a slot, which stays there as long as there is room. */
  private keep(slot: (typeof this.slots)[number]): FastSpectrum {
    const data = this.arena.floats(slot.at, this.gridBytes / 4).slice();
    slot.holds = { width: this.width, height: this.height, bytes: data.byteLength, data };
    return slot.holds;
  }

  async convolve(
    source: Float32Array | Spectrum,
    spectrum: Spectrum,
    options: RunOptions,
  ): Promise<Float32Array> {
    const { width, height, arena } = this;
    const blocks = this.places.get('blocks')! + 1;
    const fresh = source instanceof Float32Array;
    const places = {
      spectrum: this.place(spectrum as FastSpectrum),
      ...(!fresh && { source: this.place(source as FastSpectrum) }),
    };
    const filled = this.open(fresh ? source : undefined, this.grid);
    if (fresh) await this.run('rowsForward', filled / ROWS, portion(options, 0, 0.25));
    const step = fresh ? 'columnsConvolve' : 'columnsMultiply';
    await this.run(step, blocks, portion(options, fresh ? 0.25 : 0, 0.75), places);
    await this.run('rowsInverse', filled / ROWS, portion(options, 0.75, 1));
    const pitch = (width + 3) & ~3;
    const plane = arena.floats(this.places.get('plane')!, pitch * filled);
    const out = new Float32Array(width * height);
    for (let y = 0; y < height && pitch !== width; y++)
      out.set(plane.subarray(y * pitch, y * pitch + width), y * width);
    if (pitch === width) out.set(plane.subarray(0, out.length));
    return out;
  }
}

/** Fours first, what is left of twos, then threes and fives; the last level, which needs no factors, is a four if it can be. */
function radicesOf(length: number): number[] {
  const odd: number[] = [];
  let rest = length;
  for (const radix of [3, 5]) for (; rest % radix === 0; rest /= radix) odd.push(radix);
  const even: number[] = [];
  for (; rest % 4 === 0; rest /= 4) even.push(4);
  if (rest === 2) even.splice(Math.max(0, even.length - 1), 0, 2);
  const last = even.pop();
  return last ? [...even, ...odd, last] : odd;
}

/** Single-precision convolution in WebAssembly on shared memory; its result does not depend on the number of threads. */
export function wasmConvolution(parallel: Parallel): ConvolutionKernel {
  /** Memory that nobody works in, the last used first: a draft and the full size take turns. */
  const idle: Workshop[] = [];
  async function using<T>(
    width: number,
    height: number,
    work: (workshop: Workshop) => Promise<T>,
  ): Promise<T> {
    const fits = idle.findIndex((workshop) => workshop.width === width && workshop.height === height);
    const workshop = idle.splice(fits, fits < 0 ? 0 : 1)[0] ?? new Workshop(parallel, width, height);
    try {
      return await work(workshop);
    } finally {
      idle.unshift(workshop);
      while (idle.length > KEPT || idle.reduce((sum, { arena }) => sum + arena.bytes, 0) > KEPT_BYTES)
        idle.pop();
    }
  }
  return {
    prepare: (width, height, kernel, options = {}) =>
      using(width, height, (workshop) => workshop.prepare(kernel, options)),
    transform: (width, height, planes, options = {}) =>
      using(width, height, async (workshop) => {
        const made: Spectrum[] = [];
        for (const [index, plane] of planes.entries()) {
          const share = portion(options, index / planes.length, (index + 1) / planes.length);
          made.push(await workshop.transform(plane, share));
        }
        return made;
      }),
    convolve: (planes, spectra, options = {}) =>
      using(spectra[0]!.width, spectra[0]!.height, async (workshop) => {
        const results: Float32Array[] = [];
        for (const [index, plane] of planes.entries()) {
          const share = portion(options, index / planes.length, (index + 1) / planes.length);
          results.push(await workshop.convolve(plane, spectra[index % spectra.length]!, share));
        }
        return results;
      }),
  };
}
