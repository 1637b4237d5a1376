import { PLAN } from '../generated/convolution';
import { Arena } from '../runtime/memory';
import { convolutionKernel, type ConvolutionCall } from './jobs';
import type { ConvolutionKernel, KernelPlane, KernelRows, Spectrum } from '.';
import { nextFastLength } from './fft';
import { rangeTasks, subProgress, type TaskRunner, type RunOptions } from '../runtime/parallel';
import { Plan } from '../runtime/plan';
import { runInWorkspace, withScratchBuffers } from '../runtime/scratch';

/** Rows that the kernel does at once, columns of a block, bytes of a block's row and of a number four lanes wide. */
const ROWS = 8;
const BLOCK = 16;
const BLOCK_ROW = 128;
const NUMBER = 32;
/** Bytes at the end of a row's scratch buffer, for transposing a square of frequencies. */
const SQUARE = 256;
/** Spectra that are kept in the kernel's memory: for each channel that of a kernel and that of a plane. */
const SLOTS = 6;
/** Calls in one step: enough that threads even out, and each with so many numbers that its message does not weigh. */
const CALLS = 16;
const NUMBERS_A_CALL = 250_000;
/** Memory is kept between convolutions for so many sizes and up to so many bytes. */
const KEPT = 3;
const KEPT_BYTES = 512 * 1024 ** 2;

/**
 * A spectrum in the order in which the kernel's grid holds it: blocks of 16 columns, each with all rows (128 bytes a row, four
 * complex numbers at a time: real parts, then imaginary ones), and a last narrow block of the highest frequency. Values of
 * a plane's transform are doubled.
 */
export class WasmSpectrum implements Spectrum {
  /** Its numbers outside of the kernel's memory, once they had to leave it. */
  private saved: Float32Array | undefined;

  constructor(
    readonly width: number,
    readonly height: number,
    readonly layout: GridLayout,
    private slot: Slot | undefined,
    /** What it was made from, if that is kept anyway: it is made again from there instead of being copied. */
    readonly planes?: readonly KernelPlane[],
  ) {}

  get bytes(): number {
    return this.layout.bytes;
  }

  /** Its numbers: a copy, or a view that is good until the kernel is used again. */
  read(): Float32Array {
    if (this.slot) return this.slot.floats();
    if (!this.saved) throw new TypeError('this spectrum was given up');
    return this.saved;
  }

  /** Where it lies in the kernel's memory, if it still does. */
  get resident(): Slot | undefined {
    return this.slot;
  }

  /** Takes its numbers out of the slot, which is needed for others, or gives them up, if they can be made again. */
  leave(): void {
    if (!this.slot) return;
    if (!this.planes) this.saved = this.slot.floats().slice();
    this.slot.holds = undefined;
    this.slot = undefined;
  }

  /** Takes a slot that holds its numbers. */
  enter(slot: Slot): void {
    slot.holds = this;
    this.slot = slot;
    this.saved = undefined;
  }

  dispose(): void {
    if (this.slot) this.slot.holds = undefined;
    this.slot = undefined;
    this.saved = undefined;
  }

  /** By frequency, the row of the grid that holds it. */
  rowPlaces(): Int32Array {
    return reversedPlaces(chooseRadices(this.layout.rows));
  }
}

/** How the numbers of a size lie in a grid. */
export interface GridLayout {
  /** Length of a padded row, and number of padded rows. */
  length: number;
  rows: number;
  blockBytes: number;
  /** Of all blocks. */
  bytes: number;
}

/** A place for one spectrum in a kernel's memory. */
class Slot {
  holds: WasmSpectrum | undefined;
  used = 0;

  constructor(
    private readonly arena: Arena,
    readonly address: number,
    private readonly bytes: number,
  ) {}

  floats(): Float32Array {
    return this.arena.floats(this.address, this.bytes / 4);
  }
}

/** Checks that a spectrum was made by this kernel. */
function ownSpectrum(spectrum: Spectrum): WasmSpectrum {
  if (spectrum instanceof WasmSpectrum) return spectrum;
  throw new TypeError('this spectrum was made by another convolution kernel');
}

/** Memory for convolutions of one size. */
class ConvolutionWorkspace {
  readonly arena: Arena;
  private readonly plan: Plan<typeof PLAN>;
  private readonly length: number;
  private readonly rows: number;
  private readonly grid: number;
  private readonly layout: GridLayout;
  private readonly slots: Slot[] = [];
  private readonly buffers: number[];
  private readonly calls: number;
  private uses = 0;

  constructor(
    private readonly parallel: TaskRunner,
    readonly width: number,
    readonly height: number,
  ) {
    // A plane, a grid and a spectrum, each four bytes a padded pixel.
    const arena = new Arena(12 * 2 * width * 2 * height);
    this.arena = arena;
    // What the module keeps for itself lies first.
    arena.release(convolutionKernel(arena.shared).firstFree());
    this.plan = new Plan(arena, PLAN);
    this.length = BLOCK * 2 * nextFastLength(Math.ceil((2 * width - 1) / (2 * BLOCK)));
    this.rows = nextFastLength(Math.max(2 * height - 1, Math.ceil(height / ROWS) * ROWS));
    // The kernel's own rows go by eight.
    while (this.rows % ROWS !== 0) this.rows = nextFastLength(this.rows + 1);
    const { length, rows } = this;
    const wanted = Math.round((length * rows) / NUMBERS_A_CALL);
    this.calls = Math.min(CALLS, Math.max(2 * parallel.threads, wanted));
    this.plan.set('length', length);
    this.plan.set('rows', rows);
    const rowLevels = chooseRadices(length);
    const columnLevels = chooseRadices(rows);
    this.plan.set('rowStages', this.writeStages(rowLevels));
    this.plan.set('columnStages', this.writeStages(columnLevels));
    this.plan.set('positions', this.writePositions(rowLevels));
    const blocks = length / 2 / BLOCK;
    // Blocks a power of two apart would all fall in the same lines of the cache.
    const blockBytes = (rows | 1) * BLOCK_ROW;
    this.plan.set('blocks', blocks);
    this.plan.set('blockBytes', blockBytes);
    this.layout = { length, rows, blockBytes, bytes: blocks * blockBytes + rows * NUMBER };
    this.grid = this.arena.allocateAligned(this.layout.bytes);
    this.buffers = Array.from({ length: parallel.threads }, () =>
      this.arena.allocateAligned(length * NUMBER + SQUARE),
    );
    this.plan.set('plane', this.arena.allocateAligned(length * rows * 4));
  }

  /** Writes the levels of a transform with their twiddle factors. */
  private writeStages(radices: readonly number[]): number {
    const at = this.arena.allocate(radices.length * 16);
    let rest = radices.reduce((product, radix) => product * radix, 1);
    radices.forEach((radix, level) => {
      const count = rest / radix;
      const twiddles = this.arena.allocate(count * (radix - 1) * 8);
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

  /** Writes where each frequency lies after a transform of a row, in bytes. */
  private writePositions(radices: readonly number[]): number {
    const places = reversedPlaces(radices);
    const at = this.arena.allocate((places.length + 1) * 4);
    const positions = this.arena.ints(at, places.length + 1);
    places.forEach((place, frequency) => (positions[frequency] = place * NUMBER));
    positions[places.length] = positions[0]!;
    return at;
  }

  /** Runs a step on all threads, each with a scratch buffer of its own. */
  private async run(
    step: ConvolutionCall['step'],
    [first, end]: readonly [from: number, to: number],
    options: RunOptions,
    places: Pick<ConvolutionCall, 'spectrum' | 'source'> = {},
  ): Promise<void> {
    const size = Math.ceil((end - first) / this.calls);
    const calls: ConvolutionCall[] = [];
    for (let from = first; from < end; from += size)
      calls.push({ step, from, to: Math.min(end, from + size), ...places });
    const { arena, parallel } = this;
    const plan = this.plan.address;
    const work = (call: ConvolutionCall, scratch: number): Promise<void> =>
      parallel.run([{ job: 'convolution', input: { ...call, ...arena.shared, plan, scratch } }], {
        signal: options.signal,
      });
    await withScratchBuffers(this.buffers, calls, work, options);
  }

  async prepare(kernel: KernelRows | readonly KernelPlane[], options: RunOptions): Promise<Spectrum> {
    const slot = this.freeSlot();
    await this.transformKernel(kernel, slot, options);
    return this.holdIn(slot, typeof kernel === 'function' ? undefined : kernel);
  }

  /** Fills a slot with the transform of a kernel. */
  private async transformKernel(
    kernel: KernelRows | readonly KernelPlane[],
    slot: Slot,
    options: RunOptions,
  ): Promise<void> {
    const { length, rows } = this;
    // Rows come out of the transform doubled, and it does not divide by its length.
    const scale = 1 / (4 * length * rows);
    this.plan.set('pitch', length * 4);
    this.plan.set('height', rows);
    this.plan.set('grid', slot.address);
    if (typeof kernel === 'function') {
      this.writeKernelRows(kernel, scale);
      await this.run('rowsForward', [0, rows / ROWS], subProgress(options, 0.2, 0.6));
    } else await this.transformKernelPlanes(kernel, scale, options);
    await this.run('columnsForward', this.allBlocks, subProgress(options, 0.6, 1));
  }

  /** All blocks of columns, that of the highest frequency included. */
  private get allBlocks(): readonly [from: number, to: number] {
    return [0, this.plan.get('blocks') + 1];
  }

  /**
   * Writes a kernel's planes into the padded plane and transforms its rows. Of a kernel that is the same turned half way round
   * rows below the source give those above it, all but the first and last eight and what lies between the two halves.
   */
  private async transformKernelPlanes(
    planes: readonly KernelPlane[],
    scale: number,
    options: RunOptions,
  ): Promise<void> {
    const { width, height, length, rows, arena, parallel } = this;
    const groups = rows / ROWS;
    const filled = Math.ceil(height / ROWS);
    // Rows that have no twin: those between the halves hold nothing, but the grid's may hold something old.
    const isTurned = planes.every(({ kind }) => kind !== 'runs');
    const mirrored: [number, number] = [1, isTurned ? Math.min(filled, groups >> 1) : 1];
    const plain: [number, number][] = isTurned
      ? [
          [0, 1],
          [mirrored[1], Math.max(mirrored[1], groups - mirrored[1] + 1)],
          [groups - 1, groups],
        ]
      : [[0, groups]];
    const placing = {
      ...arena.shared,
      at: this.plan.get('plane'),
      length,
      rows,
      width,
      height,
      planes: planes.map((plane) => ({ ...plane, gain: plane.gain * scale })),
    };
    const tasks = [...plain, mirrored].flatMap(([from, to]) => {
      const size = Math.max(ROWS, Math.ceil((ROWS * (to - from)) / this.calls));
      return rangeTasks('placeKernel', placing, ROWS * to, size, ROWS * from);
    });
    await parallel.run(tasks, { signal: options.signal });
    if (isTurned) await this.run('rowsMirrored', mirrored, subProgress(options, 0.2, 0.5));
    for (const groupsOf of plain) await this.run('rowsForward', groupsOf, { signal: options.signal });
  }

  private writeKernelRows(kernelRow: KernelRows, scale: number): void {
    const { width, height, length, rows, arena } = this;
    const plane = arena.floats(this.plan.get('plane'), length * rows);
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

  /**
   * A slot whose numbers nobody needs here: one that is empty, or the one that was used longest ago among those that can be
   * given up, if there are any, or among all.
   */
  private freeSlot(): Slot {
    let slot = this.slots.find(({ holds }) => !holds);
    if (!slot && this.slots.length < SLOTS) {
      const { bytes } = this.layout;
      slot = new Slot(this.arena, this.arena.allocateAligned(bytes), bytes);
      this.slots.push(slot);
    }
    // The last one that was asked for is about to be used.
    const spare = this.slots.filter(({ holds, used }) => holds?.planes && used < this.uses);
    slot ??= (spare.length ? spare : this.slots).reduce((oldest, other) =>
      other.used < oldest.used ? other : oldest,
    );
    slot.holds?.leave();
    slot.used = ++this.uses;
    return slot;
  }

  /** Where a spectrum lies in this memory; it is brought in if it does not. */
  private async addressOf(spectrum: WasmSpectrum, { signal }: RunOptions): Promise<number> {
    let slot = spectrum.resident;
    if (!slot || !this.slots.includes(slot)) {
      const own = this.freeSlot();
      if (spectrum.planes) await this.transformKernel(spectrum.planes, own, { signal });
      else own.floats().set(spectrum.read());
      spectrum.dispose();
      spectrum.enter(own);
      slot = own;
    }
    slot.used = ++this.uses;
    return slot.address;
  }

  /** Takes every spectrum out, before this memory is let go. */
  emptySlots(): void {
    for (const { holds } of this.slots) holds?.leave();
  }

  dispose(): void {
    this.emptySlots();
    this.arena.dispose();
  }

  /** Lays a picture's plane where the kernel reads and writes it; gives how many of its rows go by eight. */
  private loadPlane(source: Float32Array | undefined, grid: number): number {
    const { width, height, arena } = this;
    const pitch = (width + 3) & ~3;
    const filled = Math.ceil(height / ROWS) * ROWS;
    this.plan.set('pitch', pitch * 4);
    this.plan.set('height', height);
    this.plan.set('grid', grid);
    if (!source) return filled;
    const plane = arena.floats(this.plan.get('plane'), pitch * filled);
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
    const filled = this.loadPlane(source, slot.address);
    await this.run('rowsForward', [0, filled / ROWS], subProgress(options, 0, 0.5));
    await this.run('columnsForward', this.allBlocks, subProgress(options, 0.5, 1));
    return this.holdIn(slot);
  }

  /** The spectrum that was made in a slot, which stays there as long as the slot is not needed. */
  private holdIn(slot: Slot, planes?: readonly KernelPlane[]): WasmSpectrum {
    slot.holds = new WasmSpectrum(this.width, this.height, this.layout, slot, planes);
    return slot.holds;
  }

  async convolve(
    source: Float32Array | Spectrum,
    spectrum: Spectrum,
    options: RunOptions,
  ): Promise<Float32Array> {
    const { width, height, arena } = this;
    const fresh = source instanceof Float32Array;
    const places = {
      spectrum: await this.addressOf(ownSpectrum(spectrum), options),
      ...(!fresh && { source: await this.addressOf(ownSpectrum(source), options) }),
    };
    const filled = this.loadPlane(fresh ? source : undefined, this.grid);
    if (fresh) await this.run('rowsForward', [0, filled / ROWS], subProgress(options, 0, 0.25));
    const step = fresh ? 'columnsConvolve' : 'columnsMultiply';
    await this.run(step, this.allBlocks, subProgress(options, fresh ? 0.25 : 0, 0.75), places);
    await this.run('rowsInverse', [0, filled / ROWS], subProgress(options, 0.75, 1));
    const pitch = (width + 3) & ~3;
    const plane = arena.floats(this.plan.get('plane'), pitch * filled);
    const out = new Float32Array(width * height);
    for (let y = 0; y < height && pitch !== width; y++)
      out.set(plane.subarray(y * pitch, y * pitch + width), y * width);
    if (pitch === width) out.set(plane.subarray(0, out.length));
    return out;
  }
}

/** By frequency, its place after a transform in place, whose digits come out reversed. */
function reversedPlaces(radices: readonly number[]): Int32Array {
  const length = radices.reduce((product, radix) => product * radix, 1);
  return Int32Array.from({ length }, (_, frequency) => {
    let [rest, size, place] = [frequency, length, 0];
    for (const radix of radices) {
      size /= radix;
      place += (rest % radix) * size;
      rest = Math.floor(rest / radix);
    }
    return place;
  });
}

/** Fours first, what is left of twos, then threes and fives; the last level, which needs no factors, is a four if it can be. */
function chooseRadices(length: number): number[] {
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
export function wasmConvolution(parallel: TaskRunner): ConvolutionKernel {
  /** Memory that nobody works in, the last used first: a draft and the full size take turns. */
  const idle: ConvolutionWorkspace[] = [];
  function using<T>(
    width: number,
    height: number,
    work: (workspace: ConvolutionWorkspace) => Promise<T>,
  ): Promise<T> {
    const fits = idle.findIndex((workspace) => workspace.width === width && workspace.height === height);
    const workspace =
      idle.splice(fits, fits < 0 ? 0 : 1)[0] ?? new ConvolutionWorkspace(parallel, width, height);
    const keep = (): void => {
      idle.unshift(workspace);
      while (idle.length > KEPT || idle.reduce((sum, { arena }) => sum + arena.bytes, 0) > KEPT_BYTES)
        idle.pop()!.dispose();
    };
    return runInWorkspace(
      () => work(workspace),
      keep,
      () => workspace.emptySlots(),
    );
  }
  return {
    prepare: (width, height, kernel, options = {}) =>
      using(width, height, (workspace) => workspace.prepare(kernel, options)),
    transform: (width, height, planes, options = {}) =>
      using(width, height, async (workspace) => {
        const made: Spectrum[] = [];
        for (const [index, plane] of planes.entries()) {
          const share = subProgress(options, index / planes.length, (index + 1) / planes.length);
          made.push(await workspace.transform(plane, share));
        }
        return made;
      }),
    convolve: (planes, spectra, options = {}) =>
      using(spectra[0]!.width, spectra[0]!.height, async (workspace) => {
        const results: Float32Array[] = [];
        for (const [index, plane] of planes.entries()) {
          const share = subProgress(options, index / planes.length, (index + 1) / planes.length);
          results.push(await workspace.convolve(plane, spectra[index % spectra.length]!, share));
        }
        return results;
      }),
  };
}
