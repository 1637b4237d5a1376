import type { Rgb } from '../../bench/light';
import { CancelledError } from '../../errors';
import type { RunOptions } from '../../kernels/parallel';
import type { Fragments } from './fragments';
import type { KernelSet } from './kernels';

/** Discs up to this radius are points: what is in focus keeps its very bits. */
export const SHARP = 0.5;

/** Bounds of the layers by size of the radius: each as thick as a quarter of it, at least a pixel. */
function layerBounds(most: number): number[] {
  const bounds = [SHARP];
  while (bounds.at(-1)! < most) bounds.push(bounds.at(-1)! + Math.max(1, 0.25 * bounds.at(-1)!));
  return bounds;
}

/** The layer of a radius: 0 in focus, negative before it (nearer first), positive behind it. */
function layerOf(radius: number, bounds: readonly number[]): number {
  const size = Math.abs(radius);
  if (size <= SHARP) return 0;
  let k = 1;
  while (k < bounds.length && size > bounds[k]!) k++;
  return radius < 0 ? -k : k;
}

/** Below this coverage a layer is as good as not there. */
const LEAST = 1e-5;

/**
 * Spreads every fragment over its disc, layer by layer from the nearest, and lays the layers over each other: adjacent
 * ones are one surface and add up, others go over what is behind them. Gives the picture; where less than a whole pixel
 * is covered it is made whole (`edge` same) or left dark (black).
 */
export async function scatterFragments(
  fragments: Fragments,
  kernels: KernelSet,
  size: { width: number; height: number },
  place: (x: number, y: number) => readonly [u: number, v: number],
  edge: 'same' | 'black',
  options: RunOptions,
): Promise<Rgb> {
  const { width, height } = size;
  let most = 0;
  for (let k = 0; k < fragments.count; k++) most = Math.max(most, Math.abs(fragments.radius[k]!));
  const bounds = layerBounds(most);
  const order = sortByLayer(fragments, bounds);
  const composite = new Composite(width * height);
  const layer = new LayerBuffer(width, height);
  for (const [index, { layer: id, from, to }] of order.layers.entries()) {
    if (options.signal?.aborted) throw new CancelledError();
    layer.clear();
    for (let k = from; k < to; k++) {
      const f = order.sorted[k]!;
      const at = fragments.place[f]!;
      const [x, y] = [at % width, Math.floor(at / width)];
      if (id === 0) layer.point(x, y, fragments, f);
      else {
        const [u, v] = place(x, y);
        layer.splat(x, y, kernels.at(fragments.radius[f]!, u, v), fragments, f);
      }
    }
    layer.sum(id !== 0);
    composite.add(layer, id);
    options.progress?.((index + 1) / order.layers.length);
    // Waiting messages are let in, a cancel among them.
    await new Promise((resolve) => setTimeout(resolve, 0));
  }
  return composite.done(edge);
}

interface LayerRun {
  layer: number;
  from: number;
  to: number;
}

/** Fragments in the order of their layers, nearest first; within a layer in the order of the picture. */
function sortByLayer(
  fragments: Fragments,
  bounds: readonly number[],
): { sorted: Uint32Array; layers: LayerRun[] } {
  const offset = bounds.length + 1;
  const ids = new Int16Array(fragments.count);
  const counts = new Uint32Array(2 * offset + 2);
  for (let k = 0; k < fragments.count; k++) {
    ids[k] = layerOf(fragments.radius[k]!, bounds);
    counts[ids[k]! + offset + 1]!++;
  }
  for (let k = 1; k < counts.length; k++) counts[k]! += counts[k - 1]!;
  const layers: LayerRun[] = [];
  for (let id = -offset; id <= offset; id++) {
    const [from, to] = [counts[id + offset]!, counts[id + offset + 1]!];
    if (to > from) layers.push({ layer: id, from, to });
  }
  const next = counts.slice();
  const sorted = new Uint32Array(fragments.count);
  for (let k = 0; k < fragments.count; k++) sorted[next[ids[k]! + offset]!++] = k;
  return { sorted, layers };
}

/** Light and coverage of one layer: first as differences along x, then summed. Four values a pixel. */
class LayerBuffer {
  readonly values: Float32Array;
  private readonly pitch: number;
  private top: number;
  private bottom = -1;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.pitch = (width + 1) * 4;
    this.values = new Float32Array(this.pitch * height);
    this.top = height;
  }

  get rows(): [from: number, to: number] {
    return [this.top, this.bottom + 1];
  }

  rowAt(y: number): number {
    return y * this.pitch;
  }

  clear(): void {
    if (this.bottom >= this.top) this.values.fill(0, this.top * this.pitch, (this.bottom + 1) * this.pitch);
    this.top = this.height;
    this.bottom = -1;
  }

  private touch(y: number): void {
    if (y < this.top) this.top = y;
    if (y > this.bottom) this.bottom = y;
  }

  /** A fragment in focus: no disc. */
  point(x: number, y: number, { light, alpha }: Fragments, f: number): void {
    this.touch(y);
    const at = y * this.pitch + x * 4;
    this.values[at]! += light[0][f]!;
    this.values[at + 1]! += light[1][f]!;
    this.values[at + 2]! += light[2][f]!;
    this.values[at + 3]! += alpha[f]!;
  }

  /** Adds a disc's differences; what lies left of the picture enters at its border, what lies right of it is lost. */
  splat(
    x: number,
    y: number,
    kernel: { dx: Int16Array; dy: Int16Array; weight: Float32Array },
    { light, alpha }: Fragments,
    f: number,
  ): void {
    const { values, pitch, width, height } = this;
    const [r, g, b, a] = [light[0][f]!, light[1][f]!, light[2][f]!, alpha[f]!];
    const { dx, dy, weight } = kernel;
    const count = weight.length;
    if (count === 0) return;
    this.touch(Math.max(0, Math.min(height - 1, y + dy[0]!)));
    this.touch(Math.max(0, Math.min(height - 1, y + dy[count - 1]!)));
    for (let k = 0; k < count; k++) {
      const row = y + dy[k]!;
      if (row < 0 || row >= height) continue;
      let column = x + dx[k]!;
      if (column >= width) continue;
      if (column < 0) column = 0;
      const at = row * pitch + column * 4;
      const w = weight[k]!;
      values[at]! += w * r;
      values[at + 1]! += w * g;
      values[at + 2]! += w * b;
      values[at + 3]! += w * a;
    }
  }

  /** Turns differences into sums, row by row. */
  sum(differences: boolean): void {
    if (!differences) return;
    const { values, pitch, width } = this;
    for (let y = this.top; y <= this.bottom; y++) {
      let [r, g, b, a] = [0, 0, 0, 0];
      for (let x = 0, at = y * pitch; x < width; x++, at += 4) {
        r += values[at]!;
        g += values[at + 1]!;
        b += values[at + 2]!;
        a += values[at + 3]!;
        values[at] = r;
        values[at + 1] = g;
        values[at + 2] = b;
        values[at + 3] = a;
      }
    }
  }
}

/** The layers laid over each other so far, from the nearest on. */
class Composite {
  private readonly light: [Float32Array, Float32Array, Float32Array];
  /** Coverage of all layers, and of those that are before the present surface. */
  private readonly total: Float32Array;
  private readonly before: Float32Array;
  private readonly last: Int16Array;

  constructor(count: number) {
    this.light = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
    this.total = new Float32Array(count);
    this.before = new Float32Array(count);
    this.last = new Int16Array(count).fill(-30000);
  }

  add(layer: LayerBuffer, id: number): void {
    const { total, before, last, light } = this;
    const { values, width } = layer;
    const [from, to] = layer.rows;
    for (let y = from; y < to; y++) {
      for (let x = 0, i = y * width, at = layer.rowAt(y); x < width; x++, i++, at += 4) {
        const alpha = values[at + 3]!;
        if (alpha <= LEAST) continue;
        if (id - last[i]! > 1) before[i] = total[i]!;
        last[i] = id;
        const part = Math.min(alpha * (1 - before[i]!), 1 - total[i]!);
        if (part <= 0) continue;
        // A whole, uncovered pixel keeps its bits.
        const gain = part === alpha ? 1 : part / alpha;
        light[0][i]! += values[at]! * gain;
        light[1][i]! += values[at + 1]! * gain;
        light[2][i]! += values[at + 2]! * gain;
        total[i]! += part;
      }
    }
  }

  done(edge: 'same' | 'black'): Rgb {
    if (edge === 'same') {
      for (let i = 0; i < this.total.length; i++) {
        const whole = this.total[i]!;
        if (whole >= 1 || whole <= LEAST) continue;
        for (let c = 0; c < 3; c++) this.light[c]![i]! /= whole;
      }
    }
    return this.light;
  }
}
