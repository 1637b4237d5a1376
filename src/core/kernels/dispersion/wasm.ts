import type { Rectangle } from '../../image/rectangle';
import { blackRgb, toRgb, type Rgb } from '../../image/rgb';
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
      const box = boundsOf(input);
      if (!box) return Promise.resolve(blackRgb(input.matte.length));
      const arena = new Arena(box.width * box.height * 40);
      return runInWorkspace(
        () => disperseOn(arena, input, box, parallel, options),
        () => arena.dispose(),
      );
    },
  };
}

async function disperseOn(
  arena: Arena,
  input: DispersionInput,
  box: Rectangle,
  parallel: TaskRunner,
  options: RunOptions,
): Promise<Rgb> {
  const { width, height, steepest, levels } = input;
  const samples = levels.flatMap((level) => level.samples);
  const count = box.width * box.height;
  arena.release(dispersionKernel(arena.shared).firstFree());
  const plan = new Plan(arena, PLAN);
  plan.set('width', box.width);
  plan.set('height', box.height);
  plan.set('levels', levels.length);
  const records = plan.allocate('levelTable', 12 * levels.length);
  let first = 0;
  levels.forEach(({ upTo, samples: own }, k) => {
    arena.floats(records + 12 * k, 1)[0] = upTo;
    arena.ints(records + 12 * k + 4, 2).set([first, own.length]);
    first += own.length;
  });
  plan.set('stepsPerLean', LEAN_STEPS / steepest);
  const light = plan.allocate('light', 16 * count);
  const leans = [plan.allocate('right', 4 * count), plan.allocate('down', 4 * count)];
  writePixels(input, box, arena.floats(light, 4 * count));
  [input.right, input.down].forEach((plane, c) => {
    const target = arena.floats(leans[c]!, count);
    for (let row = 0; row < box.height; row++) {
      const from = (box.y + row) * width + box.x;
      target.set(plane.subarray(from, from + box.width), row * box.width);
    }
  });
  const tables = arena.floats(
    plan.allocate('shifts', 4 * (LEAN_STEPS + 1) * samples.length),
    (LEAN_STEPS + 1) * samples.length,
  );
  samples.forEach(({ shifts }, k) => tables.set(shifts, k * (LEAN_STEPS + 1)));
  const weights = arena.floats(plan.allocate('weights', 16 * samples.length), 4 * samples.length);
  samples.forEach(({ weight }, k) => weights.set([...weight, 0], 4 * k));
  const planes = (['red', 'green', 'blue'] as const).map((field) => plan.allocate(field, 4 * count));
  const out = planes.map(() => allocateShared(4 * width * height));
  const task = { ...arena.shared, plan: plan.address, planes, box, columns: width, out };
  await parallel.run(rangeTasks('dispersion', task, box.height, ROWS), options);
  return toRgb(out.map((buffer) => new Float32Array(buffer)));
}

/** The smallest part of the picture with all of the matte in it and, but at the picture's edge, a pixel around. */
function boundsOf({ matte, width, height }: DispersionInput): Rectangle | undefined {
  let [left, right, top, bottom] = [width, -1, height, -1];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (matte[i]! <= 0) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  if (bottom < 0) return undefined;
  const [x, y] = [Math.max(0, left - 1), Math.max(0, top - 1)];
  return { x, y, width: Math.min(width, right + 2) - x, height: Math.min(height, bottom + 2) - y };
}

/** Red, green, blue and matte of a pixel together, as they are read. What is seen beside the glass is not seen through it. */
function writePixels({ seen, matte, width }: DispersionInput, box: Rectangle, target: Float32Array): void {
  const [red, green, blue] = seen;
  for (let row = 0, at = 0; row < box.height; row++) {
    const first = (box.y + row) * width + box.x;
    for (let i = first; i < first + box.width; i++, at += 4) {
      const isIn = matte[i]! > 0;
      target[at] = isIn ? red[i]! : 0;
      target[at + 1] = isIn ? green[i]! : 0;
      target[at + 2] = isIn ? blue[i]! : 0;
      target[at + 3] = isIn ? matte[i]! : 0;
    }
  }
}
