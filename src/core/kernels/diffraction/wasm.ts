import { WasmSpectrum, wasmConvolution } from '../convolution/wasm';
import { PLAN } from '../generated/diffraction';
import { Arena } from '../runtime/memory';
import { subProgress, type RunOptions, type Task, type TaskRunner } from '../runtime/parallel';
import { Plan } from '../runtime/plan';
import { runInWorkspace, withScratchBuffers } from '../runtime/scratch';
import { ANGLES, STEP, type DiffractionKernel, type PolarGrid, type Pupil, type RasterInput } from '.';
import { diffractionKernel, type DiffractionCall } from './jobs';

/** Spacing in samples of the points that a cell is the mean of. */
const SPACING = 0.8;
/** Calls of a step: enough that threads even out. */
const CALLS = 16;
/** Rows of pixels that one call lays. */
const RASTER_ROWS = 32;
const CELL_BYTES = 16;
/** Fields of a spectrum's record (class Spectrum in assembly/plan.ts), four bytes each. */
const SPECTRUM_FIELDS = 9;

/** A call without the rows that it does. */
type Step = DiffractionCall extends infer Call
  ? Call extends DiffractionCall
    ? Omit<Call, 'from' | 'to' | 'scratch' | 'task'>
    : never
  : never;

/** A power spectrum in the kernel's memory. */
interface SpectrumRecord {
  address: number;
  length: number;
}

class DiffractionWorkspace {
  readonly arena = new Arena();
  private readonly plan: Plan<typeof PLAN>;
  private readonly base: number;

  constructor(private readonly parallel: TaskRunner) {
    // What the module keeps for itself lies first.
    this.arena.release(diffractionKernel(this.arena.shared).firstFree());
    this.plan = new Plan(this.arena, PLAN);
    this.base = this.plan.end;
  }

  /** Runs a step over `count` rows, `size` a call, each call with so many bytes of scratch. */
  private async run(
    step: Step,
    count: number,
    options: RunOptions,
    { size = 2 * Math.ceil(count / CALLS / 2), scratchBytes = 0 } = {},
  ): Promise<void> {
    const { arena, parallel } = this;
    const calls = Array.from({ length: Math.ceil(count / size) }, (_, task) => ({
      ...step,
      task,
      from: task * size,
      to: Math.min(count, (task + 1) * size),
    }));
    const threads = Math.min(parallel.threads, calls.length);
    const buffers = Array.from({ length: threads }, () => arena.allocateAligned(scratchBytes));
    const run = (call: (typeof calls)[number], scratch: number): Promise<void> => {
      const input = { ...call, ...arena.shared, scratch } as Task<'diffraction'>['input'];
      return parallel.run([{ job: 'diffraction', input }], { signal: options.signal });
    };
    await withScratchBuffers(buffers, calls, run, options);
  }

  private writeFloats(values: ArrayLike<number>): number {
    const address = this.arena.allocateAligned(4 * values.length);
    this.arena.floats(address, values.length).set(values);
    return address;
  }

  private writeInts(values: ArrayLike<number>): number {
    const address = this.arena.allocateAligned(4 * values.length);
    this.arena.ints(address, values.length).set(values);
    return address;
  }

  /** Squares a transform; `scale` brings all of it to 1. */
  private async powerOf(
    transform: WasmSpectrum,
    scale: number,
    options: RunOptions,
  ): Promise<SpectrumRecord> {
    const { length, rows, blockBytes } = transform.layout;
    const half = length / 2;
    const pitch = half + 4;
    const pixel = Float64Array.from({ length: half + 1 }, (_, k) => {
      const x = (Math.PI * k) / length;
      return k === 0 ? 1 : (x / Math.sin(x)) ** 2;
    });
    const grid = this.writeFloats(transform.read());
    const power = this.arena.allocateAligned(4 * pitch * rows);
    const places = this.writeInts(transform.rowPlaces());
    const sinc = this.writeFloats(pixel);
    const address = this.arena.allocate(4 * SPECTRUM_FIELDS);
    this.arena
      .ints(address, SPECTRUM_FIELDS)
      .set([length, pitch, power, grid, blockBytes, half / 16, places, sinc]);
    // Values of the transform are doubled.
    this.arena.floats(address + 4 * (SPECTRUM_FIELDS - 1), 1)[0] = scale / 4;
    await this.run({ step: 'powerRows', address }, rows, options);
    return { address, length };
  }

  async diffract(
    far: WasmSpectrum,
    middle: WasmSpectrum,
    { size, across: wide, mask }: Pupil,
    grid: PolarGrid,
    options: RunOptions,
  ): Promise<Float32Array> {
    const { arena, plan } = this;
    const { rows, nearest, nearSamples, farSamples, middleTo } = grid;
    arena.release(this.base);
    // By the squares of the mask, all light together is 1 (Parseval).
    const squares = mask.reduce((sum, value) => sum + value * value, 0);
    // Samples of a transform to a unit of distance, which is a cycle across the pupil.
    const density = (samples: number): number => (samples * size) / wide;
    const scaleFor = (samples: number, length: number): number => {
      const reduced = length / samples / size;
      return squares > 0 ? density(samples) ** 2 / (squares * reduced ** 2 * length ** 2) : 0;
    };
    const farPower = await this.powerOf(
      far,
      scaleFor(farSamples, far.layout.length),
      subProgress(options, 0, 0.2),
    );
    const middlePower = await this.powerOf(
      middle,
      scaleFor(nearSamples, middle.layout.length),
      subProgress(options, 0.2, 0.3),
    );
    const units = Float64Array.from({ length: rows }, (_, row) => nearest * Math.exp(row * STEP));
    const isMiddle = (unit: number): boolean => unit < middleTo;
    const distances = units.map((unit) => unit * density(isMiddle(unit) ? nearSamples : farSamples));
    const along = distances.map((d) => Math.max(1, Math.ceil((d * STEP) / SPACING)));
    const across = distances.map((d) => Math.max(1, Math.ceil((d * Math.PI) / ANGLES / SPACING)));
    plan.set('far', farPower.address);
    plan.set('middle', middlePower.address);
    plan.set('middleRows', units.filter(isMiddle).length);
    plan.set('distances', this.writeFloats(distances));
    plan.set('along', this.writeInts(along));
    plan.set('across', this.writeInts(across));
    plan.set('directions', this.writeDirections(Math.max(...across)));
    plan.allocate('density', 4 * rows * ANGLES);
    await this.run({ step: 'polarRows', address: plan.address }, rows, subProgress(options, 0.3, 1));
    return arena.floats(plan.get('density'), rows * ANGLES).slice();
  }

  /** Cosines and sines of the directions of samples, for 1 up to so many of them across a cell. */
  private writeDirections(most: number): number {
    const tables = [0];
    for (let across = 1; across <= most; across++) {
      const table = new Float32Array(2 * ANGLES * across);
      for (let k = 0; k < ANGLES * across; k++) {
        const direction = (Math.PI * (k + 0.5)) / (ANGLES * across) - Math.PI / 2;
        table[2 * k] = Math.cos(direction);
        table[2 * k + 1] = Math.sin(direction);
      }
      tables.push(this.writeFloats(table));
    }
    return this.writeInts(tables);
  }

  async blurAngles(density: Float32Array, reach: number, options: RunOptions): Promise<Float32Array> {
    const { arena, plan } = this;
    arena.release(this.base);
    plan.set('density', this.writeFloats(density));
    plan.set('blurReach', reach);
    const step = { step: 'blurRows', address: plan.address } as const;
    await this.run(step, density.length / ANGLES, options, { scratchBytes: 8 * ANGLES });
    return arena.floats(plan.get('density'), density.length).slice();
  }

  async mixWavelengths(
    density: Float32Array,
    weights: readonly (readonly number[])[],
    options: RunOptions,
  ): Promise<[Float32Array, Float32Array, Float32Array]> {
    const { arena, plan } = this;
    arena.release(this.base);
    plan.set('density', this.writeFloats(density));
    plan.set('weights', this.writeFloats(weights.flatMap(([r, g, b]) => [r!, g!, b!, 0])));
    plan.set('wavelengths', weights.length);
    for (const channel of ['red', 'green', 'blue'] as const) plan.allocate(channel, density.byteLength);
    await this.run({ step: 'mixRows', address: plan.address }, density.length / ANGLES, options);
    const plane = (channel: 'red' | 'green' | 'blue'): Float32Array =>
      arena.floats(plan.get(channel), density.length).slice();
    return [plane('red'), plane('green'), plane('blue')];
  }

  async rasterize(
    { image, rows, first, squeeze, width, height, out }: RasterInput,
    options: RunOptions,
  ): Promise<[number, number, number]> {
    const { arena, plan } = this;
    arena.release(this.base);
    const tasks = Math.ceil(height / RASTER_ROWS);
    const columns = 2 * width - 1;
    plan.set('image', this.writeFloats(image));
    plan.set('imageRows', rows);
    plan.set('firstLog', first);
    plan.set('squeeze', squeeze);
    plan.set('width', width);
    const sumsAt = plan.allocate('sums', 32 * tasks);
    const address = plan.address;
    await this.run({ step: 'antialiasRows', address }, rows, subProgress(options, 0, 0.2), {
      scratchBytes: CELL_BYTES * ANGLES,
    });
    await this.run({ step: 'rasterRows', address, columns, out }, height, subProgress(options, 0.2, 1), {
      size: RASTER_ROWS,
      scratchBytes: 12 * columns * RASTER_ROWS,
    });
    const sums = new Float64Array(arena.memory.buffer, sumsAt, 4 * tasks);
    const total = (channel: number): number => {
      let sum = 0;
      for (let task = 0; task < tasks; task++) sum += sums[4 * task + channel]!;
      return sum;
    };
    return [total(0), total(1), total(2)];
  }
}

/** The mean of squares of `times * times` pixels. */
function reduceMask(mask: Float32Array, size: number, times: number): Float32Array {
  const small = size / times;
  const out = new Float32Array(small * small);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      out[Math.floor(y / times) * small + Math.floor(x / times)]! += mask[y * size + x]! / times ** 2;
  return out;
}

/** A small square in the corner of a larger one of zeros. */
function padded(plane: Float32Array, size: number, to: number): Float32Array {
  const out = new Float32Array(to * to);
  for (let y = 0; y < size; y++) out.set(plane.subarray(y * size, (y + 1) * size), y * to);
  return out;
}

/** Diffraction in WebAssembly on shared memory; its result does not depend on the number of threads. */
export function wasmDiffraction(parallel: TaskRunner): DiffractionKernel {
  // Transforms of its own, so that those of pictures stay in memory.
  const transforms = wasmConvolution(parallel);
  let idle: DiffractionWorkspace | undefined;
  const using = <T>(work: (workspace: DiffractionWorkspace) => Promise<T>): Promise<T> => {
    const workspace = idle ?? new DiffractionWorkspace(parallel);
    idle = undefined;
    return runInWorkspace(
      () => work(workspace),
      () => (idle = workspace),
    );
  };
  /** The transform of a plane on `samples` times its size, which is that of the pupil in the plane's corner. */
  const transform = async (
    plane: Float32Array,
    size: number,
    length: number,
    options: RunOptions,
  ): Promise<WasmSpectrum> => {
    const half = length / 2;
    const [spectrum] = await transforms.transform(half, half, [padded(plane, size, half)], options);
    if (
      !(spectrum instanceof WasmSpectrum) ||
      spectrum.layout.length !== length ||
      spectrum.layout.rows !== length
    )
      throw new RangeError(`a pupil of ${size} pixels cannot be transformed: a power of two is wanted`);
    return spectrum;
  };
  return {
    async diffract(pupil, grid, options = {}) {
      const { mask, size } = pupil;
      const { nearSamples, farSamples } = grid;
      // The middle needs few pixels: as many samples of a smaller mask span the same distances.
      const times = Math.max(1, Math.min(8, size / 8));
      const far = await transform(mask, size, farSamples * size, subProgress(options, 0, 0.3));
      const small = size / times;
      const middle = await transform(
        reduceMask(mask, size, times),
        small,
        nearSamples * small,
        subProgress(options, 0.3, 0.4),
      );
      return using((workspace) => workspace.diffract(far, middle, pupil, grid, subProgress(options, 0.4, 1)));
    },
    blurAngles: (density, reach, options = {}) =>
      using((workspace) => workspace.blurAngles(density, reach, options)),
    mixWavelengths: (density, weights, options = {}) =>
      using((workspace) => workspace.mixWavelengths(density, weights, options)),
    rasterize: (input, options = {}) => using((workspace) => workspace.rasterize(input, options)),
  };
}
