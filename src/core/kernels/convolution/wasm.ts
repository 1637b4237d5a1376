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
  constructor(
    readonly width: number,
    readonly height: number,
    readonly data: Float32Array,
    /** Length of a padded row, and number of padded rows. */
    readonly length: number,
    readonly rows: number,
    readonly blockBytes: number,
  ) {}

  get bytes(): number {
    return this.data.byteLength;
  }

  /** By frequency, the row of the grid that holds it. */
  rowPlaces(): Int32Array {
    return reversedPlaces(chooseRadices(this.rows));
  }
}

/** Checks that a spectrum was made by this kernel. */
function ownSpectrum(spectrum: Spectrum): WasmSpectrum {
  if (spectrum instanceof WasmSpectrum) return spectrum;
  throw new TypeError('this spectrum was made by another convolution kernel');
}

/** Memory for convolutions of one size. */
class ConvolutionWorkspace {
  readonly arena = new Arena();
  private readonly plan: Plan<typeof PLAN>;
  private readonly length: number;
  private readonly rows: number;
  private readonly grid: number;
  private readonly gridBytes: number;
  private readonly slots: { at: number; holds: WasmSpectrum | undefined; used: number }[] = [];
  private readonly buffers: number[];
  private readonly calls: number;
  private uses = 0;

  constructor(
    private readonly parallel: TaskRunner,
    readonly width: number,
    readonly height: number,
  ) {
    const { arena } = this;
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
    this.gridBytes = blocks * blockBytes + rows * NUMBER;
    this.grid = this.arena.allocateAligned(this.gridBytes);
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
    count: number,
    options: RunOptions,
    places: Pick<ConvolutionCall, 'spectrum' | 'source'> = {},
  ): Promise<void> {
    const size = Math.ceil(count / Math.min(count, this.calls));
    const calls: ConvolutionCall[] = [];
    for (let from = 0; from < count; from += size)
      calls.push({ step, from, to: Math.min(count, from + size), ...places });
    const { arena, parallel } = this;
    const plan = this.plan.address;
    const work = (call: ConvolutionCall, scratch: number): Promise<void> =>
      parallel.run([{ job: 'convolution', input: { ...call, ...arena.shared, plan, scratch } }], {
        signal: options.signal,
      });
    await withScratchBuffers(this.buffers, calls, work, options);
  }

  async prepare(kernel: KernelRows | readonly KernelPlane[], options: RunOptions): Promise<Spectrum> {
    const { length, rows } = this;
    const slot = this.freeSlot();
    slot.holds = undefined;
    // Rows come out of the transform doubled, and it does not divide by its length.
    const scale = 1 / (4 * length * rows);
    if (typeof kernel === 'function') this.writeKernelRows(kernel, scale);
    else await this.writeKernelPlanes(kernel, scale, options);
    this.plan.set('pitch', length * 4);
    this.plan.set('height', rows);
    this.plan.set('grid', slot.at);
    await this.run('rowsForward', rows / ROWS, subProgress(options, 0.2, 0.6));
    await this.run('columnsForward', this.plan.get('blocks') + 1, subProgress(options, 0.6, 1));
    return this.copySpectrum(slot);
  }

  /** Lays a kernel's planes into the padded plane, shared out over threads. */
  private async writeKernelPlanes(
    planes: readonly KernelPlane[],
    scale: number,
    { signal }: RunOptions,
  ): Promise<void> {
    const { width, height, length, rows, arena, parallel } = this;
    const placing = {
      ...arena.shared,
      at: this.plan.get('plane'),
      length,
      rows,
      width,
      height,
      planes: planes.map((plane) => ({ ...plane, gain: plane.gain * scale })),
    };
    const tasks = rangeTasks('placeKernel', placing, rows, Math.ceil(rows / this.calls));
    await parallel.run(tasks, { signal });
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

  private freeSlot(): (typeof this.slots)[number] {
    if (this.slots.length < SLOTS)
      this.slots.push({ at: this.arena.allocateAligned(this.gridBytes), holds: undefined, used: 0 });
    const slot = this.slots.reduce((oldest, other) => (other.used < oldest.used ? other : oldest));
    slot.used = ++this.uses;
    return slot;
  }

  /** Where a spectrum lies, brought back if another took its place. */
  private place(spectrum: WasmSpectrum): number {
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
    slot.holds = undefined;
    const filled = this.loadPlane(source, slot.at);
    await this.run('rowsForward', filled / ROWS, subProgress(options, 0, 0.5));
    await this.run('columnsForward', this.plan.get('blocks') + 1, subProgress(options, 0.5, 1));
    return this.copySpectrum(slot);
  }

  /** A copy of what was made in a slot, which stays there as long as the slot is not needed. */
  private copySpectrum(slot: (typeof this.slots)[number]): WasmSpectrum {
    const data = this.arena.floats(slot.at, this.gridBytes / 4).slice();
    slot.holds = new WasmSpectrum(
      this.width,
      this.height,
      data,
      this.length,
      this.rows,
      this.plan.get('blockBytes'),
    );
    return slot.holds;
  }

  async convolve(
    source: Float32Array | Spectrum,
    spectrum: Spectrum,
    options: RunOptions,
  ): Promise<Float32Array> {
    const { width, height, arena } = this;
    const blocks = this.plan.get('blocks') + 1;
    const fresh = source instanceof Float32Array;
    const places = {
      spectrum: this.place(ownSpectrum(spectrum)),
      ...(!fresh && { source: this.place(ownSpectrum(source)) }),
    };
    const filled = this.loadPlane(fresh ? source : undefined, this.grid);
    if (fresh) await this.run('rowsForward', filled / ROWS, subProgress(options, 0, 0.25));
    const step = fresh ? 'columnsConvolve' : 'columnsMultiply';
    await this.run(step, blocks, subProgress(options, fresh ? 0.25 : 0, 0.75), places);
    await this.run('rowsInverse', filled / ROWS, subProgress(options, 0.75, 1));
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
        idle.pop();
    };
    return runInWorkspace(() => work(workspace), keep);
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
