/** What lies where: edges between surfaces, tiles of radii, and a pyramid of what lies farthest. */
import { apart, Level, NONE, plane, Plan, setPlane, STRIP, STRIP_LEVELS } from './plan';

/** A share of what tells surfaces apart makes an edge between neighbours. */
const EDGE: f32 = 0.35;

/** Finds all of that for one strip. */
export function surveyStrip(at: usize, strip: i32): void {
  const plan = changetype<Plan>(at);
  const from = strip * STRIP;
  const to = min(plan.height, from + STRIP);
  findEdges(plan, from, to);
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
  const fineWidth = first ? plan.width : finer.width;
  const fineHeight = first ? plan.height : finer.height;
  const fineRadius = first ? plan.radius : finer.radius;
  for (let y = from; y < to; y++) {
    for (let x = 0; x < level.width; x++) {
      const cell = y * level.width + x;
      let most = NONE;
      for (let q = 0; q < 4; q++) {
        const v = min(fineHeight - 1, 2 * y + (q >> 1));
        const i = v * fineWidth + min(fineWidth - 1, 2 * x + (q & 1));
        if (first && load<u8>(plan.edges + <usize>i)) continue;
        most = max(most, plane(fineRadius, i));
      }
      setPlane(level.radius, cell, most);
      if (most === NONE) continue;
      const farthest = most - apart(most, most);
      let sum = f32x4.splat(0);
      let radius: f32 = 0;
      let count: f32 = 0;
      for (let q = 0; q < 4; q++) {
        const v = min(fineHeight - 1, 2 * y + (q >> 1));
        const i = v * fineWidth + min(fineWidth - 1, 2 * x + (q & 1));
        if (first && load<u8>(plan.edges + <usize>i)) continue;
        const r = plane(fineRadius, i);
        if (r <= farthest) continue;
        sum = f32x4.add(sum, first ? heldLight(plan, i) : v128.load(finer.colour + ((<usize>i) << 4)));
        radius += r;
        count += 1;
      }
      setPlane(level.radius, cell, radius / count);
      v128.store(level.colour + ((<usize>cell) << 4), f32x4.div(sum, f32x4.splat(count)));
    }
  }
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
