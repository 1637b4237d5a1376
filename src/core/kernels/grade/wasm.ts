import { toRgb, type Rgb } from '../../image/rgb';
import { PLAN } from '../generated/grade';
import { Arena } from '../runtime/memory';
import { rangeTasks, type RunOptions, type Task, type TaskRunner } from '../runtime/parallel';
import { Plan } from '../runtime/plan';
import { runInWorkspace, withScratchBuffers } from '../runtime/scratch';
import { allocateShared, shareFloats, type Shared } from '../runtime/shared';
import type { GradeInput, GradeKernel, GradeStep, NoiseInput } from '.';
import { gradeKernel } from './jobs';

/** Rows of a task; a multiple of four, so that none shares a vector with the next. */
const ROWS = 48;
/** Larger memory is not kept between calls. */
const KEPT_BYTES = 256 * 1024 ** 2;
/** Of a step's record, and kinds of steps (see assembly/plan.ts). */
const STEP_BYTES = 32;
const KINDS = { matrix: 0, tone: 1, colour: 2, grain: 3 } as const;

/** Grading in WebAssembly, on all threads. */
export function wasmGrade(parallel: TaskRunner): GradeKernel {
  let kept: Arena | undefined;
  const inArena = <T>(bytes: number, work: (arena: Arena) => Promise<T>): Promise<T> => {
    const arena = kept ?? new Arena(bytes);
    kept = undefined;
    arena.release(gradeKernel(arena.shared).firstFree());
    const keep = (): void => {
      if (arena.bytes <= KEPT_BYTES) kept = arena;
      else arena.dispose();
    };
    return runInWorkspace(() => work(arena), keep);
  };
  return {
    grade: (input, options = {}) =>
      inArena(input.width * input.height * 24, (arena) => gradeOn(arena, input, parallel, options)),
    noise: (input, options = {}) =>
      inArena(input.width * input.height * 4, (arena) => noiseOn(arena, input, parallel, options)),
  };
}

const PLANES = ['red', 'green', 'blue'] as const;

async function gradeOn(
  arena: Arena,
  { width, height, light, steps, sharpening }: GradeInput,
  parallel: TaskRunner,
  options: RunOptions,
): Promise<Rgb> {
  const plan = new Plan(arena, PLAN);
  const { shared } = arena;
  const write = (values: Float32Array): number => {
    const address = arena.allocate(values.byteLength + 16);
    arena.floats(address, values.length).set(values);
    return address;
  };
  const planes: { from: Shared; to: number }[] = [];
  /** Takes a plane, which is copied in as its rows are worked on. */
  const take = (plane: Float32Array): number => {
    const to = arena.allocate(plane.byteLength + 16);
    planes.push({ from: shareFloats(plane), to });
    return to;
  };
  plan.set('width', width);
  plan.set('height', height);
  PLANES.forEach((field, c) => plan.set(field, take(light[c]!)));
  const records = plan.allocate('steps', STEP_BYTES * Math.max(1, steps.length));
  plan.set('stepCount', steps.length);
  steps.forEach((step, k) => {
    const { table, amount, noise, mono } = tablesOf(step);
    const [tableAt, maskAt] = [table ? write(table) : 0, step.mask ? take(step.mask) : 0];
    const noiseAt = noise.map(take);
    const at = records + STEP_BYTES * k;
    arena.ints(at, 3).set([KINDS[step.kind], maskAt, tableAt]);
    arena.floats(at + 12, 1)[0] = amount;
    arena.ints(at + 16, 4).set([noiseAt[0] ?? 0, noiseAt[1] ?? 0, noiseAt[2] ?? 0, mono ? 1 : 0]);
  });
  const out = PLANES.map(() => allocateShared(4 * width * height));
  const finish = { planes: PLANES.map((field) => plan.get(field)), columns: width, out };
  const task = { ...shared, plan: plan.address };
  const start = { planes, columns: width };
  const grading = { ...task, step: 'gradeRows', start, finish: sharpening ? undefined : finish } as const;
  await parallel.run(rangeTasks('grade', grading, height, ROWS), options);
  if (sharpening) {
    for (const field of ['levels', 'blurred'] as const) plan.allocate(field, 4 * width * height + 16);
    plan.set('weights', write(sharpening.weights));
    plan.set('reach', (sharpening.weights.length - 1) / 2);
    plan.set('sharpenAmount', sharpening.amount);
    plan.set('sharpenThreshold', sharpening.threshold);
    plan.set('sharpenLimit', Math.max(1e-6, sharpening.limit));
    plan.set('sharpenMask', sharpening.mask ? write(sharpening.mask) : 0);
    const { signal } = options;
    for (const step of ['levelRows', 'blurRows'] as const)
      await parallel.run(rangeTasks('grade', { ...task, step }, height, ROWS), { signal });
    await inBands(arena, parallel, height, 4 * width + 16, options, (rows, scratch) => ({
      job: 'grade',
      input: { ...task, ...rows, step: 'sharpenRows', scratch, finish },
    }));
  }
  return toRgb(out.map((buffer) => new Float32Array(buffer)));
}

/** Runs a task on every band of rows, each with memory of its own. */
function inBands(
  arena: Arena,
  parallel: TaskRunner,
  height: number,
  bytes: number,
  options: RunOptions,
  task: (rows: { from: number; to: number }, scratch: number) => Task<'grade'>,
): Promise<void> {
  const buffers = Array.from({ length: parallel.threads }, () => arena.allocate(bytes));
  const bands = Array.from({ length: Math.ceil(height / ROWS) }, (_, k) => ({
    from: k * ROWS,
    to: Math.min(height, (k + 1) * ROWS),
  }));
  return withScratchBuffers(buffers, bands, (rows, scratch) => parallel.run([task(rows, scratch)]), options);
}

/** What of a step lies in memory, and its number. */
function tablesOf(step: GradeStep): {
  table: Float32Array | undefined;
  amount: number;
  noise: readonly Float32Array[];
  mono: boolean;
} {
  const none = { noise: [], mono: false };
  switch (step.kind) {
    case 'matrix':
      return { ...none, table: step.matrix, amount: 0 };
    case 'tone': {
      const [red, green, blue] = step.tables;
      const table = new Float32Array(3 * red.length);
      [red, green, blue].forEach((values, c) => table.set(values, c * red.length));
      return { ...none, table, amount: 0 };
    }
    case 'colour':
      return { ...none, table: step.hues, amount: step.saturation };
    case 'grain':
      return { table: step.strength, amount: step.amount, noise: step.noise, mono: step.noise.length === 1 };
  }
}

async function noiseOn(
  arena: Arena,
  { width, height, left, top, seeds, weights }: NoiseInput,
  parallel: TaskRunner,
  options: RunOptions,
): Promise<Float32Array[]> {
  const reach = (weights.length - 1) / 2;
  const across = ((width + 2 * reach + 3) & ~3) + 4;
  const down = height + 2 * reach;
  const white = arena.allocate(4 * across * down + 64);
  const weightsAt = arena.allocate(weights.byteLength);
  arena.floats(weightsAt, weights.length).set(weights);
  const planes: Float32Array[] = [];
  const mark = arena.mark();
  for (const seed of seeds) {
    arena.release(mark);
    const place = { across, left: left - reach, top: top - reach };
    const making = { ...arena.shared, ...place, step: 'noiseRows', out: white, seed } as const;
    await parallel.run(rangeTasks('grade', making, down, 2 * ROWS), { signal: options.signal });
    const out = allocateShared(4 * width * height);
    await inBands(arena, parallel, height, 4 * (width * ROWS + across) + 64, options, (rows, scratch) => ({
      job: 'grade',
      input: {
        ...arena.shared,
        ...rows,
        step: 'filterRows',
        white,
        across,
        weights: weightsAt,
        reach,
        width,
        scratch,
        out,
      },
    }));
    planes.push(new Float32Array(out));
  }
  return planes;
}
