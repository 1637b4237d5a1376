import type { Rgb } from '../../bench/light';

/**
 * What the picture is made of, as far as blur is concerned: pieces of surface with a place, a signed blur radius in
 * pixels, a coverage, and the light they bring (multiplied by the coverage).
 */
export interface Fragments {
  count: number;
  place: Int32Array;
  radius: Float32Array;
  alpha: Float32Array;
  light: [Float32Array, Float32Array, Float32Array];
}

/** Radii that differ by more than this belong to different surfaces. */
const apart = (a: number, b: number): number => Math.max(1, 0.15 * Math.min(Math.abs(a), Math.abs(b)));
/** A share of it makes an edge between neighbours. */
const EDGE = 0.35;

/**
 * Takes a picture apart: most pixels are one piece; those on an edge, which mix two surfaces, become two; and where a
 * nearer surface will be blurred, a piece of what is likely to lie behind it is added.
 */
export function toFragments(rgb: Rgb, radius: Float32Array, width: number, height: number): Fragments {
  const count = width * height;
  const edges = findEdges(radius, width, height);
  const behind = new Hidden(rgb, radius, edges, width, height);
  const out = new Builder(count + (count >> 1));
  for (let i = 0; i < count; i++) {
    if (edges[i]) splitPixel(i, rgb, radius, edges, width, height, out);
    else out.add(i, radius[i]!, 1, rgb[0][i]!, rgb[1][i]!, rgb[2][i]!);
    behind.fill(i, out);
  }
  return out.done();
}

function findEdges(radius: Float32Array, width: number, height: number): Uint8Array {
  const edges = new Uint8Array(radius.length);
  const mark = (a: number, b: number): void => {
    if (Math.abs(radius[a]! - radius[b]!) <= EDGE * apart(radius[a]!, radius[b]!)) return;
    edges[a] = 1;
    edges[b] = 1;
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (x + 1 < width) mark(i, i + 1);
      if (y + 1 < height) mark(i, i + width);
    }
  return edges;
}

class Builder {
  private place: Int32Array;
  private radius: Float32Array;
  private alpha: Float32Array;
  private light: [Float32Array, Float32Array, Float32Array];
  private count = 0;

  constructor(room: number) {
    this.place = new Int32Array(room);
    this.radius = new Float32Array(room);
    this.alpha = new Float32Array(room);
    this.light = [new Float32Array(room), new Float32Array(room), new Float32Array(room)];
  }

  add(place: number, radius: number, alpha: number, r: number, g: number, b: number): void {
    if (this.count === this.place.length) this.grow();
    const at = this.count++;
    this.place[at] = place;
    this.radius[at] = radius;
    this.alpha[at] = alpha;
    this.light[0][at] = r;
    this.light[1][at] = g;
    this.light[2][at] = b;
  }

  private grow(): void {
    const wider = <T extends Int32Array | Float32Array>(old: T): T => {
      const more = new (old.constructor as new (length: number) => T)(old.length * 2);
      more.set(old as never);
      return more;
    };
    this.place = wider(this.place);
    this.radius = wider(this.radius);
    this.alpha = wider(this.alpha);
    this.light = [wider(this.light[0]), wider(this.light[1]), wider(this.light[2])];
  }

  done(): Fragments {
    const { count, place, radius, alpha, light } = this;
    return { count, place, radius, alpha, light };
  }
}

/** Within this share of the extremes a neighbour counts to the near or the far surface. */
const EXTREME = 0.15;

/** Splits a pixel that mixes two surfaces by its colour: how much of it is the near one, and what is left of the far. */
function splitPixel(
  i: number,
  rgb: Rgb,
  radius: Float32Array,
  edges: Uint8Array,
  width: number,
  height: number,
  out: Builder,
): void {
  const [x, y] = [i % width, Math.floor(i / width)];
  const [x0, x1] = [Math.max(0, x - 2), Math.min(width - 1, x + 2)];
  const [y0, y1] = [Math.max(0, y - 2), Math.min(height - 1, y + 2)];
  let [low, high] = [Infinity, -Infinity];
  for (let v = y0; v <= y1; v++)
    for (let u = x0; u <= x1; u++) {
      const r = radius[v * width + u]!;
      if (r < low) low = r;
      if (r > high) high = r;
    }
  const own: [number, number, number] = [rgb[0][i]!, rgb[1][i]!, rgb[2][i]!];
  if (high - low <= EDGE * apart(low, high)) return out.add(i, radius[i]!, 1, ...own);
  const near = meanNear(low, low + EXTREME * (high - low));
  const far = meanNear(high - EXTREME * (high - low), high);
  const isNear = radius[i]! - low < high - radius[i]!;
  let dot = 0;
  let length = 0;
  let brighter = true;
  for (let c = 0; c < 3; c++) {
    const across = near[c]! - far[c]!;
    dot += (own[c]! - far[c]!) * across;
    length += across * across;
    if (own[c]! <= 2 * (near[c]! + far[c]!)) brighter = false;
  }
  // A pixel far brighter than both sides holds a lamp, which must not paint a ghost of the near surface.
  if (brighter) return out.add(i, high, 1, ...own);
  const share = length > 1e-12 ? dot / length : isNear ? 1 : 0;
  const alpha = isNear ? Math.min(1, Math.max(0.4, share)) : Math.min(0.6, Math.max(0, share));
  if (alpha > 0.001) out.add(i, low, alpha, alpha * near[0]!, alpha * near[1]!, alpha * near[2]!);
  const rest = own.map((value, c) => {
    // What the near surface hides of the far one is as bright as what is seen of it, lamps apart.
    return Math.max(0, value - alpha * near[c]! + alpha * far[c]!);
  });
  out.add(i, high, 1, rest[0]!, rest[1]!, rest[2]!);

  /** Mean colour of the neighbours within a range of radii; those off any edge come first, near ones count for more. */
  function meanNear(from: number, to: number): [number, number, number] {
    for (const clean of [true, false]) {
      const sum: [number, number, number] = [0, 0, 0];
      let weight = 0;
      for (let v = y0; v <= y1; v++)
        for (let u = x0; u <= x1; u++) {
          const at = v * width + u;
          if (radius[at]! < from || radius[at]! > to || (clean && edges[at])) continue;
          const w = 1 / Math.max(0.5, (u - x) ** 2 + (v - y) ** 2);
          for (let c = 0; c < 3; c++) sum[c]! += w * rgb[c as 0 | 1 | 2][at]!;
          weight += w;
        }
      if (weight > 0) return [sum[0] / weight, sum[1] / weight, sum[2] / weight];
    }
    return own;
  }
}

/** One level of the pyramid of farthest surfaces: per cell, their radius (or none) and colour. */
interface Level {
  width: number;
  height: number;
  radius: Float32Array;
  /** The greatest radius of a cell and the eight about it: what lies there at most. */
  most: Float32Array;
  colour: [Float32Array, Float32Array, Float32Array];
}

const NONE = -1e30;

/** What is likely to lie behind: a pyramid that keeps, of each four cells, the farthest surface. */
class Hidden {
  private readonly levels: Level[] = [];

  constructor(
    rgb: Rgb,
    private readonly radius: Float32Array,
    edges: Uint8Array,
    private readonly width: number,
    height: number,
  ) {
    const clean = radius.map((r, i) => (edges[i] ? NONE : r));
    let widest = 0;
    for (const r of radius) widest = Math.max(widest, Math.abs(r));
    let level: Level = { width, height, radius: clean, most: clean, colour: [...rgb] };
    // Cells coarser than any disc are of no use.
    while (level.width > 1 && level.height > 1 && 2 << this.levels.length <= coarsest(widest)) {
      level = coarser(level);
      this.levels.push(level);
    }
  }

  /** Adds the hidden piece of a pixel, if something farther is near enough to matter for the blur. */
  fill(i: number, out: Builder): void {
    const own = this.radius[i]!;
    const [x, y] = [i % this.width, Math.floor(i / this.width)];
    for (const [index, level] of this.levels.entries()) {
      const size = 2 << index;
      const most = level.most[Math.floor(y / size) * level.width + Math.floor(x / size)]!;
      if (most - own <= apart(own, most)) continue;
      const found = farther(level, x / size, y / size, own);
      if (!found) continue;
      if (size > coarsest(Math.max(Math.abs(own), Math.abs(found.radius)))) return;
      return out.add(i, found.radius, 1, ...found.colour);
    }
  }
}

/** The largest cell that still says something about what lies behind a disc of a radius. */
const coarsest = (radius: number): number => 1.5 * radius + 1;

/** The mean of what lies farther in the cell of a place and the eight about it, near ones counting for more. */
function farther(
  { width, height, radius, colour }: Level,
  x: number,
  y: number,
  own: number,
): { radius: number; colour: [number, number, number] } | undefined {
  const [cx, cy] = [Math.floor(x), Math.floor(y)];
  let [weight, mean, r, g, b] = [0, 0, 0, 0, 0];
  for (let v = Math.max(0, cy - 1); v <= Math.min(height - 1, cy + 1); v++)
    for (let u = Math.max(0, cx - 1); u <= Math.min(width - 1, cx + 1); u++) {
      const at = v * width + u;
      const far = radius[at]!;
      if (far === NONE || far - own <= apart(own, far)) continue;
      const w = 1 / (0.1 + (u + 0.5 - x) ** 2 + (v + 0.5 - y) ** 2);
      weight += w;
      mean += w * far;
      r += w * colour[0][at]!;
      g += w * colour[1][at]!;
      b += w * colour[2][at]!;
    }
  if (weight === 0) return undefined;
  return { radius: mean / weight, colour: [r / weight, g / weight, b / weight] };
}

function coarser(fine: Level): Level {
  const [width, height] = [Math.ceil(fine.width / 2), Math.ceil(fine.height / 2)];
  const radius = new Float32Array(width * height).fill(NONE);
  const colour: Level['colour'] = [0, 1, 2].map(() => new Float32Array(width * height)) as Level['colour'];
  const cells = new Int32Array(4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let count = 0;
      let far = NONE;
      for (let v = 2 * y; v < Math.min(fine.height, 2 * y + 2); v++)
        for (let u = 2 * x; u < Math.min(fine.width, 2 * x + 2); u++) {
          const at = v * fine.width + u;
          cells[count++] = at;
          far = Math.max(far, fine.radius[at]!);
        }
      if (far === NONE) continue;
      let [sum, n] = [0, 0];
      const mean = [0, 0, 0];
      for (let k = 0; k < count; k++) {
        const at = cells[k]!;
        const r = fine.radius[at]!;
        if (r === NONE || far - r > apart(far, r)) continue;
        sum += r;
        n++;
        for (let c = 0; c < 3; c++) mean[c]! += fine.colour[c]![at]!;
      }
      const to = y * width + x;
      radius[to] = sum / n;
      // A hidden lamp would glow through what is before it: its light is held to that of its neighbours.
      for (let c = 0; c < 3; c++)
        colour[c]![to] = heldToRest(mean[c]!, n, fine.colour[c]!, cells, count, far, fine);
    }
  return { width, height, radius, most: mostAround(radius, width, height), colour };
}

function mostAround(radius: Float32Array, width: number, height: number): Float32Array {
  return radius.map((_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    let most = NONE;
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++)
        most = Math.max(most, radius[v * width + u]!);
    return most;
  });
}

/** The mean of some cells, none counting for more than four times the others' mean. */
function heldToRest(
  sum: number,
  n: number,
  plane: Float32Array,
  cells: Int32Array,
  count: number,
  far: number,
  fine: Level,
): number {
  if (n < 2) return sum / Math.max(1, n);
  let most = 0;
  for (let k = 0; k < count; k++) {
    const r = fine.radius[cells[k]!]!;
    if (r !== NONE && far - r <= apart(far, r)) most = Math.max(most, plane[cells[k]!]!);
  }
  const others = (sum - most) / (n - 1);
  return (sum - most + Math.min(most, 4 * others)) / n;
}
