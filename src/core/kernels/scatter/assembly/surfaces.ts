/** What lies where: edges between surfaces, tiles of radii, and a pyramid of what lies farthest. */
import { apart, Level, NONE, PARTIAL, plane, Plan, setPlane, STRIP, STRIP_LEVELS } from './plan';

/** A share of what tells surfaces apart makes an edge between neighbours. */
const EDGE: f32 = 0.35;
const QUARTER: f32 = 0.25;

/** Finds all of that for one strip. */
export function surveyStrip(at: usize, strip: i32): void {
  const plan = changetype<Plan>(at);
  const from = strip * STRIP;
  const to = min(plan.height, from + STRIP);
  findEdges(plan, from, to);
  if (plan.coverage) markPartial(plan, from, to);
  measureTiles(plan, from, to);
  for (let k = 1; k <= min(plan.levelCount, STRIP_LEVELS); k++) {
    const level = levelAt(plan, k);
    buildLevel(plan, k, from >> k, min(level.height, (from + STRIP) >> k));
  }
}

/** The pyramid's levels that are coarser than strips. */
export function surveyRest(at: usize): void {
  const plan = changetype<Plan>(at);
  for (let k = STRIP_LEVELS + 1; k <= plan.levelCount; k++) buildLevel(plan, k, 0, levelAt(plan, k).height);
}

/** The least of `count` floats, and after it the greatest, 0 among them, to `to`. */
export function findRange(from: usize, count: i32, to: usize): void {
  let low = f32x4.splat(0);
  let high = f32x4.splat(0);
  let i = 0;
  for (; i + 4 <= count; i += 4) {
    const v = v128.load(from + ((<usize>i) << 2));
    low = f32x4.pmin(low, v);
    high = f32x4.pmax(high, v);
  }
  let least: f32 = min(
    min(f32x4.extract_lane(low, 0), f32x4.extract_lane(low, 1)),
    min(f32x4.extract_lane(low, 2), f32x4.extract_lane(low, 3)),
  );
  let most: f32 = max(
    max(f32x4.extract_lane(high, 0), f32x4.extract_lane(high, 1)),
    max(f32x4.extract_lane(high, 2), f32x4.extract_lane(high, 3)),
  );
  for (; i < count; i++) {
    const value = plane(from, i);
    if (value < least) least = value;
    if (value > most) most = value;
  }
  setPlane(to, 0, least);
  setPlane(to, 1, most);
}

function meets(a: f32, b: f32): bool {
  return abs(a - b) > EDGE * apart(a, b);
}

function findEdges(plan: Plan, from: i32, to: i32): void {
  const width = plan.width;
  const edges = plan.edges;
  memory.fill(edges + <usize>(from * width), 0, <usize>((to - from) * width));
  const reject = f32x4.splat(EDGE);
  for (let y = from; y < to; y++) {
    const row = y * width;
    const here = plan.radius + ((<usize>row) << 2);
    for (let side = -1; side <= 1; side++) {
      // Beside, above and below.
      const limit = side === 0 ? width - 1 : width;
      if (y + side < 0 || y + side >= plan.height) continue;
      const other = side === 0 ? here + 4 : here + <usize>(side * width * 4);
      let x = 0;
      for (; x + 4 <= limit; x += 4) {
        const offset = (<usize>x) << 2;
        const gap = f32x4.abs(f32x4.sub(v128.load(here + offset), v128.load(other + offset)));
        if (!v128.any_true(f32x4.gt(gap, reject))) continue;
        for (let k = x; k < x + 4; k++) mark(here, other, edges + <usize>row, k, side === 0);
      }
      for (; x < limit; x++) mark(here, other, edges + <usize>row, x, side === 0);
    }
  }
}

/** Pixels that the surface does not take up whole say nothing about what lies near them. */
function markPartial(plan: Plan, from: i32, to: i32): void {
  for (let i = from * plan.width; i < to * plan.width; i++) {
    if (plane(plan.coverage, i) < 0.999) store<u8>(plan.edges + <usize>i, PARTIAL);
  }
}

function mark(here: usize, other: usize, edges: usize, x: i32, both: bool): void {
  if (!meets(plane(here, x), plane(other, x))) return;
  store<u8>(edges + <usize>x, 1);
  if (both) store<u8>(edges + <usize>x, 1, 1);
}

function measureTiles(plan: Plan, from: i32, to: i32): void {
  const width = plan.width;
  const across = (width + 15) >> 4;
  for (let y = from; y < to; y += 16) {
    for (let x = 0; x < width; x += 16) {
      let least: f32 = 1e30;
      let most: f32 = -1e30;
      let edge: u8 = 0;
      for (let v = y; v < min(to, y + 16); v++) {
        for (let u = x; u < min(width, x + 16); u++) {
          const i = v * width + u;
          const r = plane(plan.radius, i);
          least = min(least, r);
          most = max(most, r);
          edge |= load<u8>(plan.edges + <usize>i);
        }
      }
      const tile = (y >> 4) * across + (x >> 4);
      store<u8>(plan.tileEdges + <usize>tile, edge);
      setPlane(plan.tileLeast, tile, least);
      setPlane(plan.tileMost, tile, most);
      setPlane(plan.tileSize, tile, max(abs(least), abs(most)));
    }
  }
}

export function levelAt(plan: Plan, k: i32): Level {
  return changetype<Level>(plan.levels + ((<usize>k) << 4));
}

/** Rows of one level: of each four finer cells the farthest surface, its radius and its light. */
function buildLevel(plan: Plan, k: i32, from: i32, to: i32): void {
  const level = levelAt(plan, k);
  const finer = levelAt(plan, k - 1);
  const first = k === 1;
  const width = first ? plan.width : finer.width;
  const height = first ? plan.height : finer.height;
  for (let y = from; y < to; y++) {
    const row0 = 2 * y * width;
    const row1 = min(height - 1, 2 * y + 1) * width;
    for (let x = 0; x < level.width; x++) {
      const cell = y * level.width + x;
      const right = min(width - 1, 2 * x + 1);
      if (first) {
        if (!joinEven(plan, level, cell, row0 + 2 * x, row0 + right, row1 + 2 * x, row1 + right))
          joinPixels(plan, level, cell, row0 + 2 * x, row0 + right, row1 + 2 * x, row1 + right);
      } else joinCells(finer, level, cell, row0 + 2 * x, row0 + right, row1 + 2 * x, row1 + right);
    }
  }
}

/** Four pixels of one surface, none of them on an edge or a lamp: their mean. False if they are not that. */
function joinEven(plan: Plan, level: Level, cell: i32, a: i32, b: i32, c: i32, d: i32): bool {
  const edges = plan.edges;
  if (load<u8>(edges + <usize>a) | load<u8>(edges + <usize>b)) return false;
  if (load<u8>(edges + <usize>c) | load<u8>(edges + <usize>d)) return false;
  const ra = plane(plan.radius, a);
  const rb = plane(plan.radius, b);
  const rc = plane(plan.radius, c);
  const rd = plane(plan.radius, d);
  const most = max(max(ra, rb), max(rc, rd));
  if (min(min(ra, rb), min(rc, rd)) <= most - 1) return false;
  let sum = f32x4.splat(0);
  let brightest: f32 = 0;
  for (let channel = 0; channel < 3; channel++) {
    const base = channel === 0 ? plan.red : channel === 1 ? plan.green : plan.blue;
    const va = plane(base, a);
    const vb = plane(base, b);
    const vc = plane(base, c);
    const vd = plane(base, d);
    brightest = max(brightest, max(max(va, vb), max(vc, vd)));
    const mean: f32 = QUARTER * (va + vb + vc + vd);
    if (channel === 0) sum = f32x4.replace_lane(sum, 0, mean);
    else if (channel === 1) sum = f32x4.replace_lane(sum, 1, mean);
    else sum = f32x4.replace_lane(sum, 2, mean);
  }
  if (brightest > plan.white) return false;
  setPlane(level.radius, cell, QUARTER * (ra + rb + rc + rd));
  v128.store(level.colour + ((<usize>cell) << 4), f32x4.replace_lane(sum, 3, 1));
  return true;
}

/** What the farthest of some cells brings, as it is added up. */
let sum: v128 = f32x4.splat(0);
let radius: f32 = 0;
let count: f32 = 0;

function begin(): void {
  sum = f32x4.splat(0);
  radius = 0;
  count = 0;
}

function finish(level: Level, cell: i32): void {
  setPlane(level.radius, cell, radius / count);
  v128.store(level.colour + ((<usize>cell) << 4), f32x4.div(sum, f32x4.splat(count)));
}

function joinPixels(plan: Plan, level: Level, cell: i32, a: i32, b: i32, c: i32, d: i32): void {
  const ra = offEdge(plan, a);
  const rb = offEdge(plan, b);
  const rc = offEdge(plan, c);
  const rd = offEdge(plan, d);
  const most = max(max(ra, rb), max(rc, rd));
  setPlane(level.radius, cell, most);
  if (most === NONE) return;
  const farthest = most - apart(most, most);
  begin();
  addPixel(plan, a, ra, farthest);
  addPixel(plan, b, rb, farthest);
  addPixel(plan, c, rc, farthest);
  addPixel(plan, d, rd, farthest);
  finish(level, cell);
}

function offEdge(plan: Plan, i: i32): f32 {
  return load<u8>(plan.edges + <usize>i) ? NONE : plane(plan.radius, i);
}

function addPixel(plan: Plan, i: i32, r: f32, farthest: f32): void {
  if (r <= farthest) return;
  sum = f32x4.add(sum, heldLight(plan, i));
  radius += r;
  count += 1;
}

function joinCells(finer: Level, level: Level, cell: i32, a: i32, b: i32, c: i32, d: i32): void {
  const most = max(
    max(plane(finer.radius, a), plane(finer.radius, b)),
    max(plane(finer.radius, c), plane(finer.radius, d)),
  );
  setPlane(level.radius, cell, most);
  if (most === NONE) return;
  const farthest = most - apart(most, most);
  begin();
  addCell(finer, a, farthest);
  addCell(finer, b, farthest);
  addCell(finer, c, farthest);
  addCell(finer, d, farthest);
  finish(level, cell);
}

function addCell(finer: Level, i: i32, farthest: f32): void {
  const r = plane(finer.radius, i);
  if (r <= farthest) return;
  sum = f32x4.add(sum, v128.load(finer.colour + ((<usize>i) << 4)));
  radius += r;
  count += 1;
}

/** A pixel's light, that of lamps held down: a lamp that is guessed behind something would glow through it. */
function heldLight(plan: Plan, i: i32): v128 {
  const r = plane(plan.red, i);
  const g = plane(plan.green, i);
  const b = plane(plan.blue, i);
  const most = max(r, max(g, b));
  const gain: f32 = most > plan.white ? plan.white / most : 1;
  return f32x4.mul(f32x4(r, g, b, 1), f32x4.splat(gain));
}
