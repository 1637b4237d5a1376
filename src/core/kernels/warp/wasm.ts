import { toRgb, type Rgb } from '../../image/rgb';
import { PLAN } from '../generated/warp';
import { Arena } from '../runtime/memory';
import { rangeTasks, type RunOptions, type TaskRunner } from '../runtime/parallel';
import { Plan } from '../runtime/plan';
import { runInWorkspace, withScratchBuffers } from '../runtime/scratch';
import { allocateShared, shareFloats } from '../runtime/shared';
import { NO_MOVE, RATIO_STEPS, type WarpInput, type WarpKernel } from '.';
import { lanczosTable } from './filter';
import { BORDER, warpKernel } from './jobs';

/** Values behind the last of a row, at least; sides of a tile; pixels read at once (assembly/index.ts). */
const [BEHIND, TILE, BLOCK] = [20, 4, 8];
const ROWS = 16;
/** Pixels that a place may be off so that several can be read at once: the more wavelengths blur it, the more. */
const [LEAST_TOLERANCE, TOLERANCE] = [0.012, 0.01];
/** Larger memory is not kept between calls. */
const KEPT_BYTES = 256 * 1024 ** 2;

/** The warp in WebAssembly, on all threads. */
export function wasmWarp(parallel: TaskRunner): WarpKernel {
  let kept: Arena | undefined;
  return {
    warp(input, options = {}) {
      const { width, height } = input;
      const arena = kept ?? new Arena(width * height * 13);
      kept = undefined;
      return runInWorkspace(
        () => warpOn(arena, input, parallel, options),
        () => {
          if (arena.bytes <= KEPT_BYTES) kept = arena;
          else arena.dispose();
        },
        () => undefined,
      );
    },
  };
}

async function warpOn(
  arena: Arena,
  input: WarpInput,
  parallel: TaskRunner,
  options: RunOptions,
): Promise<Rgb> {
  const { width, height, light, guide = light, samples } = input;
  const { shared } = arena;
  arena.release(warpKernel(shared).firstFree());
  const plan = new Plan(arena, PLAN);
  const [across, down] = [upTo(width + BORDER + BEHIND, TILE), upTo(height + BORDER + BEHIND, TILE)];
  const [tilesAcross, tilesDown] = [across / TILE, down / TILE];
  for (const [field, value] of Object.entries({
    width,
    height,
    across,
    down,
    tilesAcross,
    tilesDown,
    axisX: input.axisX,
    axisY: input.axisY,
    ...(input.move ?? NO_MOVE),
    stepsPerSquare: RATIO_STEPS / Math.max(1e-6, input.limit),
    steps: RATIO_STEPS,
    samples: samples.length,
    tolerance: LEAST_TOLERANCE + TOLERANCE * (samples.length - 1),
  }))
    plan.set(field as keyof typeof PLAN, value);
  const addresses = (['red', 'green', 'blue'] as const).map((field) =>
    plan.allocate(field, 4 * across * down + 64),
  );
  for (const field of ['most', 'least', 'sharpness'] as const)
    plan.allocate(field, 4 * tilesAcross * tilesDown);
  const filter = lanczosTable();
  arena.floats(plan.allocate('filter', filter.byteLength), filter.length).set(filter);
  const ratios = arena.floats(
    plan.allocate('ratios', 4 * (RATIO_STEPS + 1) * samples.length + 4),
    (RATIO_STEPS + 1) * samples.length,
  );
  samples.forEach((sample, k) => ratios.set(sample.ratios, k * (RATIO_STEPS + 1)));
  const weights = arena.floats(plan.allocate('weights', 16 * samples.length), 4 * samples.length);
  samples.forEach(({ weight }, k) => weights.set(weight, 4 * k));
  const pitch = upTo(width, BLOCK);
  const buffers = Array.from({ length: parallel.threads }, () => arena.allocate(12 * pitch * ROWS));
  const task = { ...shared, plan: plan.address };
  const { signal } = options;
  const write = (rgb: Rgb): Promise<void> =>
    parallel.run(
      rgb.flatMap((plane, c) => {
        const copy = { ...task, plane: shareFloats(plane), target: addresses[c]!, width, height, across };
        return rangeTasks('warp', { ...copy, step: 'writePadded' }, down, 256);
      }),
      { signal },
    );
  await write(guide);
  for (const step of ['findExtremes', 'findSharpness'] as const)
    await parallel.run(rangeTasks('warp', { ...task, step }, tilesDown, 64), { signal });
  if (guide !== light) await write(light);
  const out = light.map(() => allocateShared(4 * width * height));
  const bands = Array.from({ length: Math.ceil(height / ROWS) }, (_, k) => ({
    from: k * ROWS,
    to: Math.min(height, (k + 1) * ROWS),
  }));
  await withScratchBuffers(
    buffers,
    bands,
    (rows, scratch) =>
      parallel.run([
        { job: 'warp', input: { ...task, ...rows, step: 'warpRows', scratch, columns: width, pitch, out } },
      ]),
    options,
  );
  return toRgb(out.map((buffer) => new Float32Array(buffer)));
}

const upTo = (value: number, multiple: number): number => Math.ceil(value / multiple) * multiple;
