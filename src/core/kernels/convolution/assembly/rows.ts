/**
 * Rows of a real plane to the grid and back, eight at a time: two rows are the real and imaginary part of one number,
 * and four such pairs lie in its lanes. The two are told apart by symmetry: a real row's frequencies mirror each other.
 */
import { BLOCK_ROW, NUMBER, Plan, ROWS, Stage } from './plan';
import { forward, inverse } from './transform';

/** Writes the columns of a square of 4 x 4 floats. */
function storeTurned(a: v128, b: v128, c: v128, d: v128, to: usize, apart: usize): void {
  const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const abHigh = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cdHigh = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(ab, cd, 0, 1, 4, 5));
  v128.store(to + apart, v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
  v128.store(to + 2 * apart, v128.shuffle<f32>(abHigh, cdHigh, 0, 1, 4, 5));
  v128.store(to + 3 * apart, v128.shuffle<f32>(abHigh, cdHigh, 2, 3, 6, 7));
}

/** Reads four rows and writes their columns. */
function turn(from: usize, apart: usize, to: usize, apartThere: usize): void {
  storeTurned(
    v128.load(from),
    v128.load(from + apart),
    v128.load(from + 2 * apart),
    v128.load(from + 3 * apart),
    to,
    apartThere,
  );
}

/** Transforms groups `from` to `to` of eight rows into the grid; `scratch` is for a row of four-lane numbers. */
export function rowsForward(at: usize, from: i32, to: i32, scratch: usize): void {
  transformRows(changetype<Plan>(at), from, to, scratch, false);
}

/**
 * The same of a plane that is the same turned half way round: each group also gives the rows as far from the other end, whose
 * frequencies are those of its own with the imaginary part turned. Not for the first and the last group.
 */
export function rowsMirrored(at: usize, from: i32, to: i32, scratch: usize): void {
  transformRows(changetype<Plan>(at), from, to, scratch, true);
}

function transformRows(plan: Plan, from: i32, to: i32, scratch: usize, mirrored: bool): void {
  const pitch = <usize>plan.pitch;
  const bytes = <usize>plan.length * NUMBER;
  for (let group = from; group < to; group++) {
    const first = plan.plane + <usize>(group * ROWS) * pitch;
    for (let x: usize = 0; x < pitch; x += 16) {
      turn(first + x, 2 * pitch, scratch + x * 8, NUMBER);
      turn(first + pitch + x, 2 * pitch, scratch + x * 8 + 16, NUMBER);
    }
    memory.fill(scratch + pitch * 8, 0, bytes - pitch * 8);
    forward(changetype<Stage>(plan.rowStages), scratch, NUMBER);
    toGrid(plan, group * ROWS, scratch, mirrored);
  }
}

function position(plan: Plan, frequency: i32): usize {
  return <usize>load<i32>(plan.positions + ((<usize>frequency) << 2));
}

/** Tells the two rows of each pair apart and writes what they have below the highest frequency. Both come out doubled. */
function toGrid(plan: Plan, y: i32, scratch: usize, mirrored: bool): void {
  const half = plan.length >> 1;
  // Four frequencies of the even rows' real and imaginary parts, then of the odd rows'.
  const square = scratch + <usize>plan.length * NUMBER;
  for (let k = 0; k < half; k += 4) {
    for (let i = 0; i < 4; i++) {
      const own = scratch + position(plan, k + i);
      const mirrored = scratch + position(plan, plan.length - k - i);
      const to = square + ((<usize>i) << 4);
      const re = v128.load(own);
      const im = v128.load(own, 16);
      const mirroredRe = v128.load(mirrored);
      const mirroredIm = v128.load(mirrored, 16);
      v128.store(to, f32x4.add(re, mirroredRe));
      v128.store(to, f32x4.sub(im, mirroredIm), 64);
      v128.store(to, f32x4.add(im, mirroredIm), 128);
      v128.store(to, f32x4.sub(mirroredRe, re), 192);
    }
    const to = place(plan, k, y);
    turn(square, 16, to, 2 * BLOCK_ROW);
    turn(square + 64, 16, to + 16, 2 * BLOCK_ROW);
    turn(square + 128, 16, to + BLOCK_ROW, 2 * BLOCK_ROW);
    turn(square + 192, 16, to + BLOCK_ROW + 16, 2 * BLOCK_ROW);
    if (!mirrored) continue;
    for (let i: usize = 0; i < 64; i += 16) {
      v128.store(square + 64 + i, f32x4.neg(v128.load(square + 64 + i)));
      v128.store(square + 192 + i, f32x4.neg(v128.load(square + 192 + i)));
    }
    // Upwards from the row that mirrors the first.
    const back = place(plan, k, plan.rows - y);
    const up: usize = 0 - 2 * BLOCK_ROW;
    turn(square, 16, back, up);
    turn(square + 64, 16, back + 16, up);
    turn(square + 128, 16, back - BLOCK_ROW, up);
    turn(square + 192, 16, back - BLOCK_ROW + 16, up);
  }
  // The highest frequency is real, like the lowest.
  const top = scratch + position(plan, half);
  const to = highest(plan, y);
  for (let pair: usize = 0; pair < 4; pair++) {
    const even = to + 2 * pair * NUMBER;
    v128.store(even, f32x4(2 * load<f32>(top + (pair << 2)), 0, 0, 0));
    v128.store(even, f32x4.splat(0), 16);
    v128.store(even, f32x4(2 * load<f32>(top + 16 + (pair << 2)), 0, 0, 0), 32);
    v128.store(even, f32x4.splat(0), 48);
    if (!mirrored) continue;
    const back = highest(plan, plan.rows - y - 2 * <i32>pair);
    memory.copy(back, even, NUMBER);
    memory.copy(back - NUMBER, even + NUMBER, NUMBER);
  }
}

/** Where a row's frequencies from `k` on, a multiple of four, lie in the grid. */
function place(plan: Plan, k: i32, y: i32): usize {
  const block = plan.grid + <usize>(k >> 4) * <usize>plan.blockBytes;
  return block + <usize>y * BLOCK_ROW + <usize>((k >> 2) & 3) * NUMBER;
}

function highest(plan: Plan, y: i32): usize {
  return plan.grid + <usize>plan.blocks * <usize>plan.blockBytes + <usize>y * NUMBER;
}

/** Transforms groups of eight rows back from the grid to the plane. */
export function rowsInverse(at: usize, from: i32, to: i32, scratch: usize): void {
  const plan = changetype<Plan>(at);
  const pitch = <usize>plan.pitch;
  for (let group = from; group < to; group++) {
    fromGrid(plan, group * ROWS, scratch);
    inverse(changetype<Stage>(plan.rowStages), scratch, NUMBER);
    const first = plan.plane + <usize>(group * ROWS) * pitch;
    for (let x: usize = 0; x < pitch; x += 16) {
      turn(scratch + x * 8, NUMBER, first + x, 2 * pitch);
      turn(scratch + x * 8 + 16, NUMBER, first + pitch + x, 2 * pitch);
    }
  }
}

/** Packs pairs of rows into numbers again, and fills in the mirrored frequencies. */
function fromGrid(plan: Plan, y: i32, scratch: usize): void {
  const half = plan.length >> 1;
  const square = scratch + <usize>plan.length * NUMBER;
  for (let k = 0; k < half; k += 4) {
    const from = place(plan, k, y);
    turn(from, 2 * BLOCK_ROW, square, 16);
    turn(from + 16, 2 * BLOCK_ROW, square + 64, 16);
    turn(from + BLOCK_ROW, 2 * BLOCK_ROW, square + 128, 16);
    turn(from + BLOCK_ROW + 16, 2 * BLOCK_ROW, square + 192, 16);
    for (let i = 0; i < 4; i++) {
      const own = scratch + position(plan, k + i);
      const mirrored = scratch + position(plan, plan.length - k - i);
      const at = square + ((<usize>i) << 4);
      const evenRe = v128.load(at);
      const evenIm = v128.load(at, 64);
      const oddRe = v128.load(at, 128);
      const oddIm = v128.load(at, 192);
      v128.store(mirrored, f32x4.add(evenRe, oddIm));
      v128.store(mirrored, f32x4.sub(oddRe, evenIm), 16);
      v128.store(own, f32x4.sub(evenRe, oddIm));
      v128.store(own, f32x4.add(evenIm, oddRe), 16);
    }
  }
  const top = scratch + position(plan, half);
  const from = highest(plan, y);
  for (let pair: usize = 0; pair < 4; pair++) {
    const even = from + 2 * pair * NUMBER;
    store<f32>(top + (pair << 2), load<f32>(even));
    store<f32>(top + 16 + (pair << 2), load<f32>(even, 32));
  }
}
