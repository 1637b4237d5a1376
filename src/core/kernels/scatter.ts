import { Arena } from './arena';
import { portion, type Parallel, type RunOptions } from './parallel';
import { inRooms } from './rooms';
import { scatterKernel, type ScatterCall } from './scatter-jobs';

/**
 * A blur disc as the derivative along x of its coverage: add each entry at its place, and a running sum along the row
 * gives the disc. The coverage of all pixels together is 1.
 */
export interface Disc {
  /** Rows from `-reach` to `reach`. */
  reach: number;
  /** Where each row's entries begin, and the end. */
  rows: Int32Array;
  dx: Int16Array;
  weight: Float32Array;
}

/** All discs that a lens makes, by radius and by place in the frame. */
export interface Discs {
  /** How finely radii are told apart: the step of an absolute radius in pixels, from 0 on. */
  stepOf(radius: number): number;
  /** Cells of the field, for discs that change over it. */
  cellsAcross: number;
  cellsDown: number;
  disc(step: number, side: 'before' | 'behind', cellX: number, cellY: number): Disc;
}

export interface ScatterInput {
  /** Names light and radii: pieces that were cut for the same key before are used again. */
  key: string;
  width: number;
  height: number;
  light: readonly Float32Array[];
  /** Signed radius in pixels, negative before the focus. */
  radius: Float32Array;
  discs: Discs;
  /** The cell of each column and row. */
  cellX: Uint8Array;
  cellY: Uint8Array;
  /** What the frame's edge leaves uncovered is made whole; else it stays dark. */
  fill: boolean;
}

/** The heavy loop of the focus: every piece of surface over its disc, nearer ones over farther ones. */
export interface ScatterKernel {
  scatter(input: ScatterInput, options?: RunOptions): Promise<[Float32Array, Float32Array, Float32Array]>;
}

/** Discs up to this radius are points: what is in focus keeps its very bits. */
export const SHARP = 0.5;
const STRIP = 64;
const TILE = 16;
const STRIP_LEVELS = 6;
const BAND = 128;
/** Layers of discs from this radius on go on a grid of half the size, those of twice it on a quarter, and so on. */
const COARSE_FROM = 6;
const COARSEST = 3;
/** Larger memory is not kept between pictures. */
const KEPT_BYTES = 320 * 1024 ** 2;

/** The fields of the kernel's plan, in its order. */
const FIELDS = [
  'width',
  'height',
  'red',
  'green',
  'blue',
  'radius',
  'edges',
  'levels',
  'levelCount',
  'tileLeast',
  'tileMost',
  'tileSize',
  'tileEdges',
  'farthest',
  'white',
  'place',
  'pieceRadius',
  'colour',
  'added',
  'counts',
  'starts',
  'order',
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
  'margin',
  'fill',
] as const;
type Field = (typeof FIELDS)[number];

/** One picture cut into pieces in the kernel's memory. */
class Workshop {
  readonly arena = new Arena();
  private readonly shared = this.arena.shared;
  private readonly plan: number;
  private readonly places = new Map<Field, number>();
  /** What the pieces in memory were cut for, once they are. */
  private cut: string | undefined;
  private afterPieces = 0;
  /** The range of radii of each layer; none for what is in focus. */
  private layers: (LayerRange | undefined)[] = [];

  constructor(private readonly parallel: Parallel) {
    // What the module keeps for itself lies first.
    this.arena.release(scatterKernel(this.shared).firstFree());
    this.plan = this.arena.take(FIELDS.length * 4);
  }

  private set(field: Field, value: number): void {
    this.places.set(field, value);
    this.arena.ints(this.plan + 4 * FIELDS.indexOf(field), 1)[0] = value;
  }

  private setFloat(field: Field, value: number): void {
    this.arena.floats(this.plan + 4 * FIELDS.indexOf(field), 1)[0] = value;
  }

  private at(field: Field): number {
    return this.places.get(field)!;
  }

  private take(field: Field, bytes: number): number {
    const at = this.arena.take(bytes);
    this.set(field, at);
    return at;
  }

  private async run(calls: ScatterCall[], options: RunOptions): Promise<void> {
    const { shared, plan } = this;
    const tasks = calls.map((call) => ({ job: 'scatter', input: { ...call, ...shared, plan } }));
    await this.parallel.run(tasks, options);
  }

  private overStrips(step: 'surveyStrip' | 'cutStrip' | 'orderStrip', height: number): ScatterCall[] {
    return Array.from({ length: Math.ceil(height / STRIP) }, (_, strip) => ({ step, strip }));
  }

  async scatter(
    input: ScatterInput,
    options: RunOptions,
  ): Promise<[Float32Array, Float32Array, Float32Array]> {
    const { key: name, width, height, discs } = input;
    const key = `${name} ${width}x${height} ${discs.cellsAcross}x${discs.cellsDown}`;
    if (this.cut !== key) await this.cutPieces(input, key, options);
    this.arena.release(this.afterPieces);
    this.layDiscs(input);
    await this.spread(input, options);
    const count = width * height;
    const plane = (field: Field): Float32Array => this.arena.floats(this.at(field), count).slice();
    return [plane('red'), plane('green'), plane('blue')];
  }

  /** Surveys the picture, cuts it into pieces and puts them in the order of their layers. */
  private async cutPieces(input: ScatterInput, key: string, options: RunOptions): Promise<void> {
    const { width, height, light, radius } = input;
    this.cut = undefined;
    this.arena.release(this.plan + FIELDS.length * 4);
    const count = width * height;
    this.set('width', width);
    this.set('height', height);
    (['red', 'green', 'blue'] as const).forEach((field, c) =>
      this.arena.floats(this.take(field, count * 4), count).set(light[c]!),
    );
    this.arena.floats(this.take('radius', count * 4), count).set(radius);
    let [least, most] = [0, 0];
    for (let i = 0; i < count; i++) {
      const r = radius[i]!;
      if (r < least) least = r;
      else if (r > most) most = r;
    }
    this.setFloat('farthest', most);
    this.setFloat('white', whiteOf(light));
    const strips = Math.ceil(height / STRIP);
    this.take('edges', count + 16);
    for (const field of ['tileLeast', 'tileMost', 'tileSize', 'tileEdges'] as const)
      this.take(field, Math.ceil(width / TILE) * Math.ceil(height / TILE) * 4);
    this.takeLevels(width, height, Math.max(-least, most));
    const layers = this.takeLayers(least, most, input.discs);
    this.take('added', strips * 4);
    this.take('counts', strips * layers * 4);
    this.take('starts', strips * layers * 4);
    // As many may be added as there are pixels.
    for (const field of ['place', 'pieceRadius', 'order'] as const) this.take(field, 2 * count * 4);
    this.take('colour', 2 * count * 16);
    this.takeCells(input);
    await this.run(this.overStrips('surveyStrip', height), portion(options, 0, 0.1));
    if (this.at('levelCount') > STRIP_LEVELS)
      await this.run([{ step: 'surveyRest' }], { signal: options.signal });
    await this.run(this.overStrips('cutStrip', height), portion(options, 0.1, 0.3));
    this.orderRuns(strips, layers);
    await this.run(this.overStrips('orderStrip', height), { signal: options.signal });
    this.afterPieces = this.arena.mark();
    this.cut = key;
  }

  /** Room for the pyramid: down to cells that no disc reaches over. */
  private takeLevels(width: number, height: number, reach: number): void {
    const count = Math.max(2, Math.ceil(Math.log2(reach + 1)) + 1);
    this.set('levelCount', count);
    const levels = this.take('levels', (count + 1) * 16);
    for (let k = 1; k <= count; k++) {
      // Strips build whole rows of cells, so that there may be a few below the picture.
      const [w, h] = [Math.ceil(width / 2 ** k), Math.ceil(height / 2 ** k)];
      const [radius, colour] = [this.arena.take(w * h * 4), this.arena.take(w * h * 16)];
      this.arena.ints(levels + 16 * k, 4).set([w, h, radius, colour]);
    }
  }

  /** Layers by absolute radius: each as thick as a quarter of it, at least a pixel; the nearest is the first. */
  private takeLayers(least: number, most: number, discs: Discs): number {
    const before = layerBounds(-least);
    const behind = layerBounds(most);
    const focus = before.length - 1;
    const entries = Math.ceil(Math.max(-least, most) * 16) + 2;
    const lut = (field: Field, bounds: readonly number[], towards: 1 | -1): void => {
      const table = this.arena.octets(this.take(field, entries), entries);
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
    this.set('focusLayer', focus);
    this.set('layers', focus + behind.length);
    const stepsAt = this.take('stepOf', entries * 2);
    const steps = new Uint16Array(this.arena.memory.buffer, stepsAt, entries);
    for (let i = 0; i < entries; i++) steps[i] = discs.stepOf((i + 0.5) / 16);
    this.set('steps', steps.at(-1)! + 1);
    return focus + behind.length;
  }

  private takeCells({ width, height, cellX, cellY, discs }: ScatterInput): void {
    this.arena.octets(this.take('cellX', width), width).set(cellX);
    this.arena.octets(this.take('cellY', height), height).set(cellY);
    this.set('cellsAcross', discs.cellsAcross);
    const numbers = discs.cellsAcross * discs.cellsDown * 2 * this.at('steps');
    this.arena.octets(this.take('needed', numbers), numbers).fill(0);
    this.take('discs', numbers * 4 * (COARSEST + 1));
    this.layGrids(discs);
  }

  /** Chooses each layer's grid; discs that change over the field are all done at full size. */
  private layGrids(discs: Discs): void {
    const varies = discs.cellsAcross * discs.cellsDown > 1;
    const grids = this.layers.map((layer) => {
      const fits = layer && !varies ? Math.floor(Math.log2(layer.from / COARSE_FROM)) + 1 : 0;
      return Math.min(COARSEST, Math.max(0, fits));
    });
    this.arena.octets(this.take('grids', grids.length), grids.length).set(grids);
    this.set('coarsest', Math.max(...grids));
    this.take('margins', 4 * (COARSEST + 1));
  }

  /** Where each strip's run of each layer begins in the order: layer by layer, in each from the top down. */
  private orderRuns(strips: number, layers: number): void {
    const counts = this.arena.ints(this.at('counts'), strips * layers);
    const starts = this.arena.ints(this.at('starts'), strips * layers);
    let next = 0;
    for (let layer = 0; layer < layers; layer++)
      for (let strip = 0; strip < strips; strip++) {
        starts[strip * layers + layer] = next;
        next += counts[strip * layers + layer]!;
      }
  }

  /** Puts the discs that pieces need into memory, for each grid its own. */
  private layDiscs({ width, discs }: ScatterInput): void {
    const steps = this.at('steps');
    const numbers = discs.cellsAcross * discs.cellsDown * 2 * steps;
    const flags = this.arena.octets(this.at('needed'), numbers);
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
    this.set('margin', this.putDiscs(0, width, full));
    const grids = this.arena.octets(this.at('grids'), this.layers.length);
    for (let grid = 1; grid <= COARSEST; grid++) {
      const coarse = new Map<number, Disc>();
      this.layers.forEach((layer, index) => {
        if (!layer || grids[index] !== grid) return;
        const { from, to, side } = layer;
        for (let step = discs.stepOf(from / 2 ** grid); step <= discs.stepOf(to / 2 ** grid); step++)
          coarse.set((grid * 2 + (side === 'before' ? 0 : 1)) * steps + step, discs.disc(step, side, 0, 0));
      });
      this.putDiscs(grid, Math.ceil(width / 2 ** grid), [...coarse]);
    }
  }

  /** Writes the discs of one grid, and its margin, which is given back. */
  private putDiscs(grid: number, width: number, needed: readonly [number: number, disc: Disc][]): number {
    const margin = needed.reduce((most, [, { reach }]) => Math.max(most, reach), 0) + 4;
    this.arena.ints(this.at('margins') + 4 * grid, 1)[0] = margin;
    const pitch = (width + 2 * margin) * 16;
    for (const [number, { reach, rows, dx, weight }] of needed) {
      const at = this.arena.take(16);
      const begins = this.arena.take(rows.length * 4);
      const offsets = this.arena.take(weight.length * 4);
      const weights = this.arena.take(weight.length * 4);
      this.arena.ints(at, 4).set([reach, begins, offsets, weights]);
      this.arena.ints(begins, rows.length).set(rows);
      this.arena.floats(weights, weight.length).set(weight);
      const places = this.arena.ints(offsets, weight.length);
      for (let row = 0; row < rows.length - 1; row++)
        for (let k = rows[row]!; k < rows[row + 1]!; k++) places[k] = (row - reach) * pitch + dx[k]! * 16;
      this.arena.ints(this.at('discs') + 4 * number, 1)[0] = at;
    }
    return margin;
  }

  private async spread({ height, fill }: ScatterInput, options: RunOptions): Promise<void> {
    this.set('fill', fill ? 1 : 0);
    const bands: ScatterCall[] = [];
    for (let from = 0; from < height; from += BAND) {
      const to = Math.min(height, from + BAND);
      bands.push({ step: 'scatterBand', from, to, room: 0 });
    }
    // As many rooms as threads; a band takes the room of one that is done, so they go in rounds.
    const threads = Math.min(this.parallel.threads, bands.length);
    const bytes = scatterKernel(this.shared).bandBytes(this.plan, BAND);
    const rooms = Array.from({ length: threads }, () => this.arena.take(bytes));
    for (const room of rooms) this.arena.octets(room, bytes).fill(0);
    const work = (call: ScatterCall, room: number): Promise<void> =>
      this.run([{ ...call, room } as ScatterCall], { signal: options.signal });
    await inRooms(rooms, bands, work, portion(options, 0.3, 1));
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
  const bounds = [SHARP];
  while (bounds.at(-1)! < most) bounds.push(bounds.at(-1)! + Math.max(1, 0.25 * bounds.at(-1)!));
  return bounds;
}

/** Where light begins to be bright: nine pixels of ten are darker. */
function whiteOf(light: readonly Float32Array[]): number {
  const [r, g, b] = light as [Float32Array, Float32Array, Float32Array];
  const stride = Math.max(1, Math.floor(r.length / 20000));
  const seen: number[] = [];
  for (let i = 0; i < r.length; i += stride) seen.push(Math.max(r[i]!, g[i]!, b[i]!));
  seen.sort((p, q) => p - q);
  return Math.max(1e-6, seen[Math.floor(seen.length * 0.9)]!);
}

/** The kernel in WebAssembly on shared memory; its result does not depend on the number of threads. */
export function wasmScatter(parallel: Parallel): ScatterKernel {
  /** Memory of pictures that are done, with their pieces in it. */
  let idle: Workshop | undefined;
  return {
    async scatter(input, options = {}) {
      const workshop = idle ?? new Workshop(parallel);
      idle = undefined;
      try {
        return await workshop.scatter(input, options);
      } finally {
        if (workshop.arena.bytes <= KEPT_BYTES) idle = workshop;
      }
    },
  };
}
