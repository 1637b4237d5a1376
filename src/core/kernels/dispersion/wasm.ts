import { toRgb, type Rgb } from '../../image/rgb';
import { PLAN } from '../generated/dispersion';
import { Arena } from '../runtime/memory';
import { rangeTasks, type RunOptions, type TaskRunner } from '../runtime/parallel';
import { Plan } from '../runtime/plan';
import { runInWorkspace } from '../runtime/scratch';
import { allocateShared } from '../runtime/shared';
import { LEAN_STEPS, type DispersionInput, type DispersionKernel } from '.';
import { dispersionKernel } from './jobs';

const ROWS = 16;

/** The dispersion in WebAssembly, on all threads. */
export function wasmDispersion(parallel: TaskRunner): DispersionKernel {
  return {
    disperse(input, options = {}) {
      const arena = new Arena(input.width * input.height * 40);
      return runInWorkspace(
        () => disperseOn(arena, input, parallel, options),
        () => arena.dispose(),
      );
    },
  };
}

async function disperseOn(
  arena: Arena,
  input: DispersionInput,
  parallel: TaskRunner,
  options: RunOptions,
): Promise<Rgb> {
  const { width, height, seen, matte, right, down, steepest, levels } = input;
  const samples = levels.flatMap((level) => level.samples);
  const count = width * height;
  arena.release(dispersionKernel(arena.shared).firstFree());
  const plan = new Plan(arena, PLAN);
  plan.set('width', width);
  plan.set('height', height);
  plan.set('levels', levels.length);
  const records = plan.allocate('levelTable', 12 * levels.length);
  let first = 0;
  levels.forEach(({ upTo, samples: own }, k) => {
    arena.floats(records + 12 * k, 1)[0] = upTo;
    arena.ints(records + 12 * k + 4, 2).set([first, own.length]);
    first += own.length;
  });
  plan.set('stepsPerLean', LEAN_STEPS / steepest);
  // Red, green, blue and matte of a pixel together, as they are read.
  const light = plan.allocate('light', 16 * count);
  const woven = arena.floats(light, 4 * count);
  const [red, green, blue] = seen;
  for (let i = 0, at = 0; i < count; i++, at += 4) {
    woven[at] = red[i]!;
    woven[at + 1] = green[i]!;
    woven[at + 2] = blue[i]!;
    woven[at + 3] = matte[i]!;
  }
  arena.floats(plan.allocate('right', 4 * count), count).set(right);
  arena.floats(plan.allocate('down', 4 * count), count).set(down);
  const tables = arena.floats(
    plan.allocate('shifts', 4 * (LEAN_STEPS + 1) * samples.length),
    (LEAN_STEPS + 1) * samples.length,
  );
  samples.forEach(({ shifts }, k) => tables.set(shifts, k * (LEAN_STEPS + 1)));
  const weights = arena.floats(plan.allocate('weights', 16 * samples.length), 4 * samples.length);
  samples.forEach(({ weight }, k) => weights.set([...weight, 0], 4 * k));
  const planes = (['red', 'green', 'blue'] as const).map((field) => plan.allocate(field, 4 * count));
  const out = planes.map(() => allocateShared(4 * count));
  const task = { ...arena.shared, plan: plan.address, planes, columns: width, out };
  await parallel.run(rangeTasks('dispersion', task, height, ROWS), options);
  return toRgb(out.map((buffer) => new Float32Array(buffer)));
}
