import { PLAN } from '../generated/scatter';
import { Arena } from '../runtime/memory';
import { subProgress, type TaskRunner, type RunOptions, type Task } from '../runtime/parallel';
import { Plan } from '../runtime/plan';
import { allocateShared, type Shared } from '../runtime/shared';
import { runInWorkspace, withScratchBuffers } from '../runtime/scratch';
import {
  IN_FOCUS_RADIUS,
  type Disc,
  type Discs,
  type ScatterInput,
  type ScatterKernel,
  type Surface,
} from '.';
import { scatterKernel, type ScatterCall } from './jobs';

const STRIP = 64;
const TILE = 16;
const STRIP_LEVELS = 6;
const BAND = 128;
/** Layers of discs from this radius on go on a grid of half the size, those of twice it on a quarter, and so on. */
const COARSE_FROM = 6;
const COARSEST = 3;
/** Larger memory is not kept between pictures. */
const KEPT_BYTES = 320 * 1024 ** 2;

type Field = keyof typeof PLAN;

const CHANNELS = ['red', 'green', 'blue'] as const;
/** What the surfaces of a picture have in common. */
const SHARED: readonly Field[] = [
  'layers',
  'focusLayer',
  'layerBefore',
  'layerBehind',
  'stepOf',
  'cellX',
  'cellY',
  'cellsAcross',
  'steps',
  'needed',
  'discs',
  'grids',
  'coarsest',
  'margins',
];

/** One picture cut into pieces in the kernel's memory. */
class ScatterWorkspace {
  readonly arena = new Arena();
  private readonly shared = this.arena.shared;
  /** Where the first plan may begin. */
  private readonly begin: number;
  /** One a surface, the nearest first. */
  private plans: Plan<typeof PLAN>[] = [];
  /** What the pieces in memory were cut for, once they are. */
  private cut: string | undefined;
  private afterPieces = 0;
  /** The range of radii of each layer; none for what is in focus. */
  private layers: (LayerRange | undefined)[] = [];

  constructor(private readonly parallel: TaskRunner) {
    // What the module keeps for itself lies first.
    this.arena.release(scatterKernel(this.shared).firstFree());
    this.begin = this.arena.mark();
  }

  /** The plan of the nearest surface; what all share stands in each. */
  private get plan(): Plan<typeof PLAN> {
    return this.plans[0]!;
  }

  private async run(
    calls: ScatterCall[],
    options: RunOptions,
    plans: readonly Plan<typeof PLAN>[] = [this.plan],
  ): Promise<void> {
    const tasks = plans.flatMap((plan) =>
      calls.map((call): Task<'scatter'> => ({
        job: 'scatter',
        input: { ...call, ...this.shared, plan: plan.address },
      })),
    );
    await this.parallel.run(tasks, options);
  }

  private stripCalls(step: 'surveyStrip' | 'cutStrip' | 'orderStrip', height: number): ScatterCall[] {
    return Array.from({ length: Math.ceil(height / STRIP) }, (_, strip) => ({ step, strip }));
  }

  async scatter(
    input: ScatterInput,
    options: RunOptions,
  ): Promise<[Float32Array, Float32Array, Float32Array]> {
    const { key: name, width, height, discs } = input;
    const key = `${name} ${width}x${height} ${discs.cellsAcross}x${discs.cellsDown}`;
    if (this.cut !== key) await this.splitSurfaces(input, key, options);
    this.arena.release(this.afterPieces);
    this.writeDiscs(input);
    const out = CHANNELS.map(() => allocateShared(4 * width * height));
    await this.spread(input, out, options);
    return out.map((buffer) => new Float32Array(buffer)) as [Float32Array, Float32Array, Float32Array];
  }

  /** Surveys the picture, cuts it into pieces and puts them in the order of their layers. */
  private async splitSurfaces(input: ScatterInput, key: string, options: RunOptions): Promise<void> {
    const { width, height } = input;
    this.cut = undefined;
    this.arena.release(this.begin);
    const surfaces = input.surfaces.toReversed();
    this.plans = surfaces.map(() => new Plan(this.arena, PLAN));
    const ranges = surfaces.map((surface, k) => this.writeSurface(surface, k, width, height));
    const least = Math.min(...ranges.map(([low]) => low));
    const most = Math.max(...ranges.map(([, high]) => high));
    const layers = this.allocateLayers(least, most, input.discs);
    this.allocateCells(input);
    for (const plan of this.plans.slice(1)) for (const field of SHARED) plan.set(field, this.plan.get(field));
    const strips = Math.ceil(height / STRIP);
    for (const plan of this.plans) this.allocatePieces(plan, width, height, layers, Math.max(-least, most));
    const all = this.plans;
    await this.run(this.stripCalls('surveyStrip', height), subProgress(options, 0, 0.1), all);
    if (this.plan.get('levelCount') > STRIP_LEVELS)
      await this.run([{ step: 'surveyRest' }], { signal: options.signal }, all);
    await this.run(this.stripCalls('cutStrip', height), subProgress(options, 0.1, 0.3), all);
    for (const plan of all) this.computeRunStarts(plan, strips, layers);
    await this.run(this.stripCalls('orderStrip', height), { signal: options.signal }, all);
    this.afterPieces = this.arena.mark();
    this.cut = key;
  }

  /** Writes a surface's light and radii; gives the least and the greatest of these. */
  private writeSurface(
    { light, coverage, radius }: Surface,
    index: number,
    width: number,
    height: number,
  ): readonly [least: number, most: number] {
    const plan = this.plans[index]!;
    const count = width * height;
    plan.set('width', width);
    plan.set('height', height);
    plan.set('next', this.plans[index + 1]?.address ?? 0);
    plan.set('surfaces', this.plans.length - index);
    const write = (field: Field, plane: Float32Array): number => {
      const address = plan.allocate(field, count * 4);
      this.arena.floats(address, count).set(plane);
      return address;
    };
    CHANNELS.forEach((field, c) => write(field, light[c]!));
    if (coverage) write('coverage', coverage);
    else plan.set('coverage', 0);
    const radii = write('radius', radius);
    const range = this.arena.allocate(8);
    scatterKernel(this.shared).findRange(radii, count, range);
    const [least, most] = this.arena.floats(range, 2) as unknown as [number, number];
    plan.set('farthest', most);
    plan.set('white', highlightLevel(light, coverage));
    return [least, most];
  }

  private allocatePieces(
    plan: Plan<typeof PLAN>,
    width: number,
    height: number,
    layers: number,
    reach: number,
  ): void {
    const count = width * height;
    const strips = Math.ceil(height / STRIP);
    plan.allocate('edges', count + 16);
    if (this.plans.length > 1) plan.allocate('closedAt', count);
    else plan.set('closedAt', 0);
    for (const field of ['tileLeast', 'tileMost', 'tileSize', 'tileEdges'] as const)
      plan.allocate(field, Math.ceil(width / TILE) * Math.ceil(height / TILE) * 4);
    this.allocateLevels(plan, width, height, reach);
    plan.allocate('added', strips * 4);
    plan.allocate('counts', strips * layers * 4);
    plan.allocate('starts', strips * layers * 4);
    // As many may be added as there are pixels.
    for (const field of ['place', 'pieceRadius', 'order'] as const) plan.allocate(field, 2 * count * 4);
    plan.allocate('colour', 2 * count * 16);
  }

  /** Room for the pyramid: down to cells that no disc reaches over. */
  private allocateLevels(plan: Plan<typeof PLAN>, width: number, height: number, reach: number): void {
    const count = Math.max(2, Math.ceil(Math.log2(reach + 1)) + 1);
    plan.set('levelCount', count);
    const levels = plan.allocate('levels', (count + 1) * 16);
    for (let k = 1; k <= count; k++) {
      // Strips build whole rows of cells, so that there may be a few below the picture.
      const [w, h] = [Math.ceil(width / 2 ** k), Math.ceil(height / 2 ** k)];
      const [radius, colour] = [this.arena.allocate(w * h * 4), this.arena.allocate(w * h * 16)];
      this.arena.ints(levels + 16 * k, 4).set([w, h, radius, colour]);
    }
  }

  /** Layers by absolute radius: each as thick as a quarter of it, at least a pixel; the nearest is the first. */
  private allocateLayers(least: number, most: number, discs: Discs): number {
    const before = layerBounds(-least);
    const behind = layerBounds(most);
    const focus = before.length - 1;
    const entries = Math.ceil(Math.max(-least, most) * 16) + 2;
    const lut = (field: Field, bounds: readonly number[], towards: 1 | -1): void => {
      const table = this.arena.octets(this.plan.allocate(field, entries), entries);
      let layer = 0;
      for (let i = 0; i < entries; i++) {
        while (layer < bounds.length - 1 && i / 16 > bounds[layer]!) layer++;
        table[i] = focus + towards * layer;
      }
    };
    lut('layerBefore', before, -1);
    lut('layerBehind', behind, 1);
    this.layers = [
      ...before.slice(1).map((_, k) => layerAt(before, before.length - 2 - k, 'before')),
      undefined,
      ...behind.slice(1).map((_, k) => layerAt(behind, k, 'behind')),
    ];
    this.plan.set('focusLayer', focus);
    this.plan.set('layers', focus + behind.length);
    const stepsAt = this.plan.allocate('stepOf', entries * 2);
    const steps = new Uint16Array(this.arena.memory.buffer, stepsAt, entries);
    for (let i = 0; i < entries; i++) steps[i] = discs.stepOf((i + 0.5) / 16);
    this.plan.set('steps', steps.at(-1)! + 1);
    return focus + behind.length;
  }

  private allocateCells({ width, height, cellX, cellY, discs }: ScatterInput): void {
    this.arena.octets(this.plan.allocate('cellX', width), width).set(cellX);
    this.arena.octets(this.plan.allocate('cellY', height), height).set(cellY);
    this.plan.set('cellsAcross', discs.cellsAcross);
    const numbers = discs.cellsAcross * discs.cellsDown * 2 * this.plan.get('steps');
    this.arena.octets(this.plan.allocate('needed', numbers), numbers).fill(0);
    this.plan.allocate('discs', numbers * 4 * (COARSEST + 1));
    this.chooseGrids(discs);
  }

  /** Chooses each layer's grid; discs that change over the field are all done at full size. */
  private chooseGrids(discs: Discs): void {
    const varies = discs.cellsAcross * discs.cellsDown > 1;
    const grids = this.layers.map((layer) => {
      const fits = layer && !varies ? Math.floor(Math.log2(layer.from / COARSE_FROM)) + 1 : 0;
      return Math.min(COARSEST, Math.max(0, fits));
    });
    this.arena.octets(this.plan.allocate('grids', grids.length), grids.length).set(grids);
    this.plan.set('coarsest', Math.max(...grids));
    this.plan.allocate('margins', 4 * (COARSEST + 1));
  }

  /** Where each strip's run of each layer begins in the order: layer by layer, in each from the top down. */
  private computeRunStarts(plan: Plan<typeof PLAN>, strips: number, layers: number): void {
    const counts = this.arena.ints(plan.get('counts'), strips * layers);
    const starts = this.arena.ints(plan.get('starts'), strips * layers);
    let next = 0;
    for (let layer = 0; layer < layers; layer++)
      for (let strip = 0; strip < strips; strip++) {
        starts[strip * layers + layer] = next;
        next += counts[strip * layers + layer]!;
      }
  }

  /** Puts the discs that pieces need into memory, for each grid its own. */
  private writeDiscs({ width, discs }: ScatterInput): void {
    const steps = this.plan.get('steps');
    const numbers = discs.cellsAcross * discs.cellsDown * 2 * steps;
    const flags = this.arena.octets(this.plan.get('needed'), numbers);
    const full: [number: number, disc: Disc][] = [];
    for (let number = 0; number < numbers; number++) {
      if (!flags[number]) continue;
      const cell = Math.floor(number / (2 * steps));
      const disc = discs.disc(
        number % steps,
        Math.floor(number / steps) % 2 === 0 ? 'before' : 'behind',
        cell % discs.cellsAcross,
        Math.floor(cell / discs.cellsAcross),
      );
      full.push([number, disc]);
    }
    const margin = this.writeGridDiscs(0, width, full);
    for (const plan of this.plans) plan.set('margin', margin);
    const grids = this.arena.octets(this.plan.get('grids'), this.layers.length);
    for (let grid = 1; grid <= COARSEST; grid++) {
      const coarse = new Map<number, Disc>();
      this.layers.forEach((layer, index) => {
        if (!layer || grids[index] !== grid) return;
        const { from, to, side } = layer;
        for (let step = discs.stepOf(from / 2 ** grid); step <= discs.stepOf(to / 2 ** grid); step++)
          coarse.set((grid * 2 + (side === 'before' ? 0 : 1)) * steps + step, discs.disc(step, side, 0, 0));
      });
      this.writeGridDiscs(grid, Math.ceil(width / 2 ** grid), [...coarse]);
    }
  }

  /** Writes the discs of one grid, and its margin, which is given back. */
  private writeGridDiscs(
    grid: number,
    width: number,
    needed: readonly [number: number, disc: Disc][],
  ): number {
    const margin = needed.reduce((most, [, { reach }]) => Math.max(most, reach), 0) + 4;
    this.arena.ints(this.plan.get('margins') + 4 * grid, 1)[0] = margin;
    const pitch = (width + 2 * margin) * 16;
    for (const [number, { reach, rows, dx, weight }] of needed) {
      const at = this.arena.allocate(16);
      const begins = this.arena.allocate(rows.length * 4);
      const offsets = this.arena.allocate(weight.length * 4);
      const weights = this.arena.allocate(weight.length * 4);
      this.arena.ints(at, 4).set([reach, begins, offsets, weights]);
      this.arena.ints(begins, rows.length).set(rows);
      this.arena.floats(weights, weight.length).set(weight);
      const places = this.arena.ints(offsets, weight.length);
      for (let row = 0; row < rows.length - 1; row++)
        for (let k = rows[row]!; k < rows[row + 1]!; k++) places[k] = (row - reach) * pitch + dx[k]! * 16;
      this.arena.ints(this.plan.get('discs') + 4 * number, 1)[0] = at;
    }
    return margin;
  }

  private async spread(
    { width, height, fill }: ScatterInput,
    out: readonly Shared[],
    options: RunOptions,
  ): Promise<void> {
    this.plan.set('fill', fill ? 1 : 0);
    const planes = CHANNELS.map((field) => this.plan.get(field));
    const bands: { from: number; to: number }[] = [];
    for (let from = 0; from < height; from += BAND) bands.push({ from, to: Math.min(height, from + BAND) });
    // As many buffers as threads; a band takes the scratch of one that is done, so they go in rounds.
    const threads = Math.min(this.parallel.threads, bands.length);
    const bytes = scatterKernel(this.shared).bandBytes(this.plan.address, BAND);
    const buffers = Array.from({ length: threads }, () => this.arena.allocate(bytes));
    const { signal } = options;
    await this.run(
      buffers.map((scratch) => ({ step: 'clearScratch', scratch, bytes })),
      { signal },
    );
    const work = ({ from, to }: { from: number; to: number }, scratch: number): Promise<void> =>
      this.run([{ step: 'scatterBand', from, to, scratch, columns: width, planes, out }], { signal });
    await withScratchBuffers(buffers, bands, work, subProgress(options, 0.3, 1));
  }
}

interface LayerRange {
  from: number;
  to: number;
  side: 'before' | 'behind';
}

function layerAt(bounds: readonly number[], k: number, side: LayerRange['side']): LayerRange {
  return { from: bounds[k]!, to: bounds[k + 1]!, side };
}

/** Bounds of the layers on one side of the focus. */
function layerBounds(most: number): number[] {
  const bounds = [IN_FOCUS_RADIUS];
  while (bounds.at(-1)! < most) bounds.push(bounds.at(-1)! + Math.max(1, 0.25 * bounds.at(-1)!));
  return bounds;
}

/** Where light begins to be bright: nine pixels of ten that the surface is seen in are darker. */
function highlightLevel(light: readonly Float32Array[], coverage: Float32Array | undefined): number {
  const [r, g, b] = light as [Float32Array, Float32Array, Float32Array];
  const stride = Math.max(1, Math.floor(r.length / 20000));
  const seen = new Float32Array(Math.ceil(r.length / stride));
  let k = 0;
  for (let i = 0; i < r.length; i += stride)
    if (!coverage || coverage[i]! > 0.1) seen[k++] = Math.max(r[i]!, g[i]!, b[i]!);
  const sorted = seen.subarray(0, k).sort();
  return Math.max(1e-6, sorted[Math.floor(k * 0.9)] ?? 0);
}

/** The kernel in WebAssembly on shared memory; its result does not depend on the number of threads. */
export function wasmScatter(parallel: TaskRunner): ScatterKernel {
  /** Memory of pictures that are done, with their pieces in it. */
  let idle: ScatterWorkspace | undefined;
  return {
    async scatter(input, options = {}) {
      const workspace = idle ?? new ScatterWorkspace(parallel);
      idle = undefined;
      const keep = (): void => {
        if (workspace.arena.bytes <= KEPT_BYTES) idle = workspace;
        else workspace.arena.dispose();
      };
      return runInWorkspace(() => workspace.scatter(input, options), keep);
    },
  };
}
