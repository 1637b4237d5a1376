import { toRgb, type Rgb } from '../../image/rgb';
import { PLAN } from '../generated/ghosts';
import { Arena } from '../runtime/memory';
import { subProgress, type RunOptions, type Task, type TaskRunner } from '../runtime/parallel';
import { Plan } from '../runtime/plan';
import { runInWorkspace, withScratchBuffers } from '../runtime/scratch';
import { allocateShared } from '../runtime/shared';
import {
  AFFINE_NUMBERS,
  LEG_NUMBERS,
  type GhostBounds,
  type GhostDrawing,
  type GhostKernel,
  type GhostPath,
  type GhostRaster,
  type GhostRays,
  type StartArea,
  type StopMask,
} from '.';
import { ghostKernel, type GhostCall } from './jobs';

/** Bytes of a traced ray, most parts along a side of a cell, and others of assembly/plan.ts. */
const NODE_BYTES = 48;
const MOST_PARTS = 32;
const LEG_BYTES = 32;
const MASK_MARGIN = 2;
const BLOCKS = 64;
/** The smallest copy of a mask, and pixels beyond a block that count with it. */
const LEAST_MASK = 32;
const BLOCK_REACH = 2;
const LEVEL_MARGIN = 2;
/** A level of pixels is as coarse as leaves a ghost's blur at least so many of them. */
const LEAST_BLUR = 0.85;
const COARSEST = 6;
/** Distance of samples in pixels: each is drawn as a rectangle as large. */
const SPACING = 1.9;
/** Variance, in square pixels, of a pixel and such a rectangle, and of going from coarse pixels to finer ones. */
const PART_VARIANCE = (1 + SPACING ** 2) / 12;
const LEVEL_VARIANCE = 0.25;
/** Rows of the result that one call finishes. */
const FINISH_ROWS = 32;
/** Larger memory is not kept between calls. */
const KEPT_BYTES = 256 * 1024 ** 2;

type GhostPlan = Plan<typeof PLAN>;
type Step = GhostCall extends infer Call ? (Call extends GhostCall ? Omit<Call, 'scratch'> : never) : never;

/** A rectangle of a level's pixels. */
interface PixelArea {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Ghosts that are drawn on the same pixels and blurred at once. */
interface GhostGroup extends PixelArea {
  level: number;
  /** Standard deviations in the level's pixels: what is blurred, and the distance of samples. */
  blur: number;
  spacing: number;
  ghosts: GhostDrawing[];
}

/** Blurs are rounded to so many steps an octave, so that many ghosts share one. */
const BLUR_STEPS = 4;
/** Ghosts that one task draws, at most. */
const MOST_IN_GROUP = 3;

/** Puts ghosts together by their blurs, each group on the coarsest level that is fine enough for it. */
function groupGhosts(ghosts: readonly GhostDrawing[], raster: GhostRaster): GhostGroup[] {
  const groups: GhostGroup[] = [];
  const open = new Map<number, GhostGroup>();
  for (const ghost of ghosts) {
    const step = Math.round(BLUR_STEPS * Math.log2(Math.max(1e-4, ghost.blur)));
    const sigma = 2 ** (step / BLUR_STEPS) * raster.pitch;
    const level = Math.min(COARSEST, Math.max(0, Math.floor(Math.log2(sigma / LEAST_BLUR))));
    const size = 2 ** level;
    const variance = (sigma / size) ** 2 - PART_VARIANCE - (level > 0 ? LEVEL_VARIANCE : 0);
    const blur = Math.sqrt(Math.max(0, variance));
    const area = pixelAreaOf(ghost, raster, size, Math.ceil(3 * blur) + 2);
    if (!area) continue;
    let group = open.get(step);
    if (!group || group.ghosts.length >= MOST_IN_GROUP) {
      const spacing = sigma > LEAST_BLUR ? SPACING : 1;
      group = { ...area, level, blur, spacing, ghosts: [] };
      groups.push(group);
      open.set(step, group);
    }
    group.ghosts.push(ghost);
    Object.assign(group, unionOf(group, area));
  }
  return groups;
}

function unionOf(a: PixelArea, b: PixelArea): PixelArea {
  const [left, top] = [Math.min(a.left, b.left), Math.min(a.top, b.top)];
  return {
    left,
    top,
    width: Math.max(a.left + a.width, b.left + b.width) - left,
    height: Math.max(a.top + a.height, b.top + b.height) - top,
  };
}

/** The pixels of a level, each of `size` of a raster's, that a ghost and its blur can reach; undefined if it lies outside. */
function pixelAreaOf(
  { bounds }: GhostDrawing,
  raster: GhostRaster,
  size: number,
  reach: number,
): PixelArea | undefined {
  const { axisX, axisY, pitch } = raster;
  const low = (value: number, axis: number): number =>
    Math.max(-LEVEL_MARGIN - reach, Math.floor((value * pitch + axis) / size) - reach);
  const high = (value: number, axis: number, most: number): number =>
    Math.min(Math.ceil(most / size) + LEVEL_MARGIN + reach, Math.ceil((value * pitch + axis) / size) + reach);
  const [left, top] = [low(bounds.left, axisX), low(bounds.top, axisY)];
  const width = high(bounds.right, axisX, raster.width) - left;
  const height = high(bounds.bottom, axisY, raster.height) - top;
  return width > 0 && height > 0 ? { left, top, width, height } : undefined;
}

/** Weights of Catmull and Rom's cubic (1974), and of straight lines, for 1 up to the most parts of a cell. */
const CELL_WEIGHTS = ((): Float32Array => {
  const bent: number[] = [];
  const straight: number[] = [];
  for (let parts = 1; parts <= MOST_PARTS; parts++)
    for (let k = 0; k < parts; k++) {
      const t = (k + 0.5) / parts;
      bent.push(
        (-t + 2 * t * t - t ** 3) / 2,
        (2 - 5 * t * t + 3 * t ** 3) / 2,
        (t + 4 * t * t - 3 * t ** 3) / 2,
        (t ** 3 - t * t) / 2,
      );
      straight.push(0, 1 - t, t, 0);
    }
  return Float32Array.from([...bent, ...straight]);
})();

class GhostWorkspace {
  readonly arena = new Arena();
  private readonly base: number;
  private readonly weights: number;
  /** The mask that lies in memory, with its smaller copies. */
  private mask:
    { of: Float32Array; address: number; blocks: number; levels: number; end: number } | undefined;
  private tables = new Map<Float32Array, number>();

  constructor(private readonly parallel: TaskRunner) {
    // What the module keeps for itself lies first.
    this.arena.release(ghostKernel(this.arena.shared).firstFree());
    this.weights = this.writeFloats(CELL_WEIGHTS);
    this.base = this.arena.mark();
  }

  private writeFloats(values: Float32Array): number {
    const address = this.arena.allocateAligned(4 * values.length);
    this.arena.floats(address, values.length).set(values);
    return address;
  }

  /** Begins anew behind the mask, which stays if it is the same. */
  private begin(mask: StopMask | undefined): void {
    this.tables = new Map();
    if (!mask) {
      this.arena.release(this.mask?.end ?? this.base);
      return;
    }
    if (this.mask?.of !== mask.plane) {
      this.arena.release(this.base);
      const planes = [mask.plane];
      for (let size = mask.size; size > LEAST_MASK; size /= 2) planes.push(halvePlane(planes.at(-1)!, size));
      // One after the other, without gaps.
      const padded = planes.map(withMargin);
      const address = this.arena.allocateAligned(padded.reduce((sum, { byteLength }) => sum + byteLength, 0));
      let at = address;
      for (const plane of padded) {
        this.arena.floats(at, plane.length).set(plane);
        at += plane.byteLength;
      }
      const blocks = this.writeFloats(blockExtremes(mask));
      this.mask = { of: mask.plane, address, blocks, levels: planes.length, end: this.arena.mark() };
    }
    this.arena.release(this.mask.end);
  }

  private async run(
    calls: readonly Step[],
    scratchBytes: number,
    { signal, progress }: RunOptions,
  ): Promise<void> {
    const threads = Math.min(this.parallel.threads, calls.length);
    const mark = this.arena.mark();
    const buffers = Array.from({ length: threads }, () => this.arena.allocateAligned(scratchBytes));
    const run = (call: Step, scratch: number): Promise<void> => {
      const input = { ...call, ...this.arena.shared, scratch } as Task<'ghosts'>['input'];
      return this.parallel.run([{ job: 'ghosts', input }], { signal });
    };
    await withScratchBuffers(buffers, calls, run, { signal, progress });
    this.arena.release(mark);
  }

  private tableAddress(table: Float32Array | undefined): number {
    if (!table) return 0;
    const known = this.tables.get(table);
    if (known !== undefined) return known;
    const address = this.writeFloats(table);
    this.tables.set(table, address);
    return address;
  }

  /** The legs of all wavelengths, one after the other. */
  private writePaths(plan: GhostPlan, paths: readonly GhostPath[]): void {
    const { affine, meetings } = paths[0]!;
    plan.set('affine', affine ? 1 : 0);
    plan.set('legCount', meetings);
    plan.set('wavelengths', paths.length);
    if (affine) {
      const length = AFFINE_NUMBERS * (meetings + 1);
      const address = this.arena.allocateAligned(4 * length * paths.length);
      paths.forEach(({ legs }, k) => this.arena.floats(address + 4 * length * k, length).set(legs));
      plan.set('legs', address);
      return;
    }
    const tables = paths.map((path) => path.tables.map((table) => this.tableAddress(table)));
    const bytes = LEG_BYTES * (meetings + 1);
    const address = this.arena.allocateAligned(bytes * paths.length);
    paths.forEach(({ legs }, k) => {
      const floats = this.arena.floats(address + bytes * k, (bytes / 4) | 0).fill(0);
      const ints = this.arena.ints(address + bytes * k, (bytes / 4) | 0);
      for (let m = 0; m <= meetings; m++) {
        floats.set(legs.subarray(m * LEG_NUMBERS, (m + 1) * LEG_NUMBERS), (m * LEG_BYTES) / 4);
        ints[(m * LEG_BYTES) / 4 + LEG_NUMBERS] = tables[k]![m] ?? 0;
      }
    });
    plan.set('legs', address);
  }

  private planFor(
    { direction }: GhostRays,
    start: StartArea,
    paths: readonly GhostPath[],
    nodes: number,
    mask?: StopMask,
  ): GhostPlan {
    const plan = new Plan(this.arena, PLAN);
    this.arena.ints(plan.address, (plan.end - plan.address) / 4).fill(0);
    this.writePaths(plan, paths);
    plan.set('directionX', direction[0]);
    plan.set('directionY', direction[1]);
    plan.set('directionZ', direction[2]);
    plan.set('middleX', start.x);
    plan.set('middleY', start.y);
    plan.set('halfX', start.halfX);
    plan.set('halfY', start.halfY);
    plan.set('nodes', nodes);
    plan.set('pitch', 1);
    plan.set('weights', this.weights);
    if (mask && this.mask) {
      plan.set('mask', this.mask.address);
      plan.set('blocks', this.mask.blocks);
      plan.set('maskSize', mask.size);
      plan.set('maskLevels', this.mask.levels);
    }
    return plan;
  }

  async survey(
    rays: readonly GhostRays[],
    wavelengths: readonly number[],
    nodes: number,
    options: RunOptions,
  ): Promise<(GhostBounds | undefined)[]> {
    this.begin(undefined);
    const plans = rays.map((one) => {
      const plan = this.planFor(
        one,
        one.start,
        wavelengths.map((wavelength) => one.path(wavelength)),
        nodes,
      );
      plan.allocate('bounds', 16);
      return plan;
    });
    const calls = plans.map(({ address }) => ({ step: 'surveyGhost', plan: address }) as const);
    await this.run(calls, 3 * nodes * nodes * NODE_BYTES + 64, options);
    return plans.map((plan) => {
      if (!plan.get('lit')) return undefined;
      const [left, top, right, bottom] = this.arena.floats(plan.get('bounds'), 4) as unknown as number[];
      const start = {
        x: plan.get('middleX'),
        y: plan.get('middleY'),
        halfX: plan.get('halfX'),
        halfY: plan.get('halfY'),
      };
      return { left: left!, top: top!, right: right!, bottom: bottom!, apart: plan.get('apart'), start };
    });
  }

  async measure(
    ghosts: readonly Pick<GhostDrawing, 'rays' | 'bounds'>[],
    wavelengths: readonly number[],
    mask: StopMask,
    nodes: number,
    options: RunOptions,
  ): Promise<number[][]> {
    this.begin(mask);
    const plans = ghosts.map(({ rays, bounds }) => {
      const paths = wavelengths.map((wavelength) => rays.path(wavelength));
      const plan = this.planFor(rays, bounds.start, paths, nodes, mask);
      plan.set('colours', this.weights);
      plan.allocate('flux', 8 * wavelengths.length);
      return plan;
    });
    const calls = plans.map(({ address }) => ({ step: 'measureGhost', plan: address }) as const);
    await this.run(calls, nodes * nodes * NODE_BYTES + 64, options);
    return plans.map((plan) => [
      ...new Float64Array(this.arena.memory.buffer, plan.get('flux'), wavelengths.length),
    ]);
  }

  async draw(
    ghosts: readonly GhostDrawing[],
    raster: GhostRaster,
    mask: StopMask,
    nodes: number,
    options: RunOptions,
  ): Promise<Rgb> {
    this.begin(mask);
    const levels: number[][] = [];
    const { width, height } = raster;
    const out = [0, 1, 2].map(() => allocateShared(4 * width * height));
    const planes = toRgb(out.map((buffer) => new Float32Array(buffer)));
    const groups = groupGhosts(ghosts, raster);
    if (groups.length === 0) return planes;
    const calls = groups.map((group) => {
      const { address } = this.groupPlan(group, raster, mask, nodes);
      (levels[group.level] ??= []).push(address);
      return { step: 'drawGroup' as const, plan: address };
    });
    const largest = Math.max(...groups.map((group) => group.width * group.height));
    const scratch = Math.max(nodes * nodes * NODE_BYTES, 16 * largest + 4096) + 64;
    await this.run(calls, scratch, subProgress(options, 0, 0.8));
    let above: { address: number; width: number } | undefined;
    for (let level = levels.length - 1; level >= 0; level--) {
      const size = 2 ** level;
      const levelWidth = Math.ceil(width / size) + 2 * LEVEL_MARGIN;
      const rows = Math.ceil(height / size) + 2 * LEVEL_MARGIN;
      const plan = new Plan(this.arena, PLAN);
      const here = levels[level] ?? [];
      const addresses = plan.allocate('ghosts', 4 * here.length + 4);
      this.arena.ints(addresses, here.length).set(here);
      plan.set('ghostCount', here.length);
      plan.set('above', above?.address ?? 0);
      plan.set('aboveWidth', above?.width ?? 0);
      plan.set('levelWidth', levelWidth);
      plan.set('columns', width);
      if (level === 0) {
        const bytes = 12 * width * FINISH_ROWS + 16 * levelWidth + 64;
        await this.run(finishCalls(plan.address, width, height, out), bytes, subProgress(options, 0.8, 1));
      } else {
        const address = plan.allocate('level', 16 * levelWidth * rows);
        await this.run(rangeCalls(plan.address, rows), 16, { signal: options.signal });
        above = { address, width: levelWidth };
      }
    }
    return planes;
  }

  /** The plan of a group, and those of its ghosts, which draw on its pixels. */
  private groupPlan(
    { ghosts, level, blur, spacing, ...area }: GhostGroup,
    raster: GhostRaster,
    mask: StopMask,
    nodes: number,
  ): GhostPlan {
    const size = 2 ** level;
    const pixels = this.arena.allocateAligned(16 * area.width * area.height);
    const setArea = (plan: GhostPlan): GhostPlan => {
      plan.set('pixels', pixels);
      for (const field of ['left', 'top', 'width', 'height'] as const) plan.set(field, area[field]);
      return plan;
    };
    const plans = ghosts.map(({ rays, bounds, colours }) => {
      const paths = colours.map(({ wavelength }) => rays.path(wavelength));
      const plan = setArea(this.planFor(rays, bounds.start, paths, nodes, mask));
      const density = 1 / size ** 2;
      const weights = colours.flatMap(({ weight: [r, g, b] }) => [r * density, g * density, b * density, 0]);
      plan.set('colours', this.writeFloats(Float32Array.from(weights)));
      plan.set('pitch', raster.pitch / size);
      plan.set('axisX', raster.axisX / size);
      plan.set('axisY', raster.axisY / size);
      plan.set('spacing', spacing);
      return plan.address;
    });
    const group = setArea(new Plan(this.arena, PLAN));
    this.arena.ints(group.allocate('ghosts', 4 * plans.length), plans.length).set(plans);
    group.set('ghostCount', plans.length);
    group.set('blur', blur);
    return group;
  }
}

const rangeCalls = (plan: number, rows: number): Step[] =>
  Array.from({ length: Math.ceil(rows / 64) }, (_, k) => ({
    step: 'sumRows' as const,
    plan,
    from: 64 * k,
    to: Math.min(rows, 64 * (k + 1)),
  }));

const finishCalls = (
  plan: number,
  columns: number,
  rows: number,
  out: Extract<Step, { step: 'finishRows' }>['out'],
): Step[] =>
  Array.from({ length: Math.ceil(rows / FINISH_ROWS) }, (_, k) => ({
    step: 'finishRows' as const,
    plan,
    from: FINISH_ROWS * k,
    to: Math.min(rows, FINISH_ROWS * (k + 1)),
    columns,
    out,
  }));

/** The means of squares of four pixels. */
function halvePlane(plane: Float32Array, size: number): Float32Array {
  const half = size / 2;
  const out = new Float32Array(half * half);
  for (let y = 0; y < half; y++)
    for (let x = 0; x < half; x++) {
      const at = 2 * y * size + 2 * x;
      out[y * half + x] = (plane[at]! + plane[at + 1]! + plane[at + size]! + plane[at + size + 1]!) / 4;
    }
  return out;
}

/** A square plane with a dark margin. */
function withMargin(plane: Float32Array): Float32Array {
  const size = Math.sqrt(plane.length);
  const across = size + 2 * MASK_MARGIN;
  const out = new Float32Array(across * across);
  for (let y = 0; y < size; y++)
    out.set(plane.subarray(y * size, (y + 1) * size), (y + MASK_MARGIN) * across + MASK_MARGIN);
  return out;
}

/** The least and the most of a mask in each of its blocks, and a little beyond, as pixels are mixed. */
function blockExtremes({ plane, size }: StopMask): Float32Array {
  const side = size / BLOCKS;
  const out = new Float32Array(2 * BLOCKS * BLOCKS);
  const [low, high] = [
    (block: number): number => Math.max(0, block * side - BLOCK_REACH),
    (block: number): number => Math.min(size, (block + 1) * side + BLOCK_REACH),
  ];
  for (let row = 0; row < BLOCKS; row++)
    for (let column = 0; column < BLOCKS; column++) {
      let [least, most] = [1, 0];
      for (let y = low(row); y < high(row); y++)
        for (let x = low(column); x < high(column); x++) {
          const value = plane[y * size + x]!;
          if (value < least) least = value;
          if (value > most) most = value;
        }
      out.set([least, most], 2 * (row * BLOCKS + column));
    }
  return out;
}

/** Ghosts in WebAssembly on shared memory; the result does not depend on the number of threads. */
export function wasmGhosts(parallel: TaskRunner): GhostKernel {
  let idle: GhostWorkspace | undefined;
  const using = <T>(work: (workspace: GhostWorkspace) => Promise<T>): Promise<T> => {
    const workspace = idle ?? new GhostWorkspace(parallel);
    idle = undefined;
    return runInWorkspace(
      () => work(workspace),
      () => {
        if (workspace.arena.bytes <= KEPT_BYTES) idle = workspace;
        else workspace.arena.dispose();
      },
    );
  };
  return {
    survey: (rays, wavelengths, nodes, options = {}) =>
      using((workspace) => workspace.survey(rays, wavelengths, nodes, options)),
    measure: (ghosts, wavelengths, mask, nodes, options = {}) =>
      using((workspace) => workspace.measure(ghosts, wavelengths, mask, nodes, options)),
    draw: (ghosts, raster, mask, nodes, options = {}) =>
      using((workspace) => workspace.draw(ghosts, raster, mask, nodes, options)),
  };
}
