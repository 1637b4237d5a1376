/** Resampling along rays from an axis, on memory that all threads share. */
import { Plan } from './plan';

/** Where memory is free for the caller. */
export function firstFree(): usize {
  return __heap_base;
}

/** Values before the first of a row and before the first row, which repeat the edge. */
const BORDER: i32 = 8;
const PHASES: f32 = 512;
/** Sides of a tile of which the extremes are known. */
const TILE: i32 = 4;
/** Overshoot of the sharp filter beside an edge, as a share of the step. */
const RING: f32 = 0.1;
/** Light beside which an overshoot does not count. */
const FLOOR: f32 = 0.1;
/** Pixels that are read at once. */
const BLOCK: i32 = 8;
const WIDE: f32 = 7;

/** Extremes of rows of tiles, `from` to `to`. */
export function findExtremes(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  const pitch = (<usize>plan.across) << 2;
  for (let row = from; row < to; row++) {
    for (let tile = 0; tile < plan.tilesAcross; tile++) {
      const offset = <usize>(row * TILE) * pitch + ((<usize>(tile * TILE)) << 2);
      let high = v128.load(plan.red + offset);
      let low = high;
      for (let k: usize = 0; k < 4; k++) {
        const at = offset + k * pitch;
        const red = v128.load(plan.red + at);
        const green = v128.load(plan.green + at);
        const blue = v128.load(plan.blue + at);
        high = f32x4.pmax(high, f32x4.pmax(red, f32x4.pmax(green, blue)));
        low = f32x4.pmin(low, f32x4.pmin(red, f32x4.pmin(green, blue)));
      }
      const at = (<usize>(row * plan.tilesAcross + tile)) << 2;
      store<f32>(
        plan.most + at,
        max(
          max(f32x4.extract_lane(high, 0), f32x4.extract_lane(high, 1)),
          max(f32x4.extract_lane(high, 2), f32x4.extract_lane(high, 3)),
        ),
      );
      store<f32>(
        plan.least + at,
        min(
          min(f32x4.extract_lane(low, 0), f32x4.extract_lane(low, 1)),
          min(f32x4.extract_lane(low, 2), f32x4.extract_lane(low, 3)),
        ),
      );
    }
  }
}

/** Tiles that a block's taps reach over, from the one that the first tap lies in. */
const TILES_ACROSS: i32 = 5;
const TILES_DOWN: i32 = 3;

/**
 * The share of the sharp filter for what is read from a tile on, in rows of tiles: all where it overshoots by less than there
 * is, none where it does by three times as much.
 */
export function findSharpness(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  const across = plan.tilesAcross;
  for (let row = from; row < to; row++) {
    const v1 = min(plan.tilesDown - 1, row + TILES_DOWN - 1);
    for (let tile = 0; tile < across; tile++) {
      const u1 = min(across - 1, tile + TILES_ACROSS - 1);
      let high: f32 = -Infinity;
      let low: f32 = Infinity;
      for (let v = row; v <= v1; v++) {
        for (let u = tile; u <= u1; u++) {
          const at = (<usize>(v * across + u)) << 2;
          high = max(high, load<f32>(plan.most + at));
          low = min(low, load<f32>(plan.least + at));
        }
      }
      const ring: f32 = (RING * (high - low)) / (max<f32>(0, low) + FLOOR);
      const over: f32 = 0.5 * (ring - <f32>1);
      store<f32>(plan.sharpness + ((<usize>(row * across + tile)) << 2), 1 - min<f32>(1, max<f32>(0, over)));
    }
  }
}

/** The same for what is read from a column and a row on, counted from the border's edge. */
function sharpnessAt(plan: Plan, left: i32, top: i32): f32 {
  return load<f32>(plan.sharpness + ((<usize>((top >> 2) * plan.tilesAcross + (left >> 2))) << 2));
}

/** Ratio of a sample at a place of its table. */
function ratioAt(table: usize, place: f32): f32 {
  const step = <i32>place;
  const at = table + ((<usize>step) << 2);
  const low = load<f32>(at);
  return low + (place - <f32>step) * (load<f32>(at, 4) - low);
}

/** Where an offset from the axis comes from, across and down, without the shift. */
function sourceX(plan: Plan, dx: f32, dy: f32, ratio: f32): f32 {
  return plan.xx * (dx * ratio) + plan.xy * (dy * ratio);
}

function sourceY(plan: Plan, dx: f32, dy: f32, ratio: f32): f32 {
  return plan.yx * (dx * ratio) + plan.yy * (dy * ratio);
}

/**
 * Rows of the result as planes of `pitch` floats a row, one after the other in `out`. `pitch` is the width rounded up to whole
 * blocks.
 */
export function warpRows(address: usize, from: i32, to: i32, out: usize, pitch: i32): void {
  const plan = changetype<Plan>(address);
  const plane = (<usize>(pitch * (to - from))) << 2;
  memory.fill(out, 0, 3 * plane);
  const table = (<usize>(plan.steps + 1)) << 2;
  // What lies farther out than the border is held at its edge.
  const leastPlace: f32 = -5;
  const mostX: f32 = <f32>(plan.width + BORDER - 4);
  const mostY: f32 = <f32>(plan.height + BORDER - 4);
  const half: f32 = 0.5 * WIDE;
  const originX: f32 = plan.axisX - <f32>0.5 + plan.x0;
  const originY: f32 = plan.axisY - <f32>0.5 + plan.y0;
  const lastStep: f32 = <f32>plan.steps - <f32>0.001;
  for (let y = from; y < to; y++) {
    const dy: f32 = <f32>y + 0.5 - plan.axisY;
    let at = out + ((<usize>((y - from) * pitch)) << 2);
    for (let x = 0; x < pitch; x += BLOCK) {
      const first: f32 = <f32>x + 0.5 - plan.axisX;
      const last: f32 = first + WIDE;
      const dx: f32 = first + half;
      const place = min(lastStep, (dx * dx + dy * dy) * plan.stepsPerSquare);
      const placeFirst = min(lastStep, (first * first + dy * dy) * plan.stepsPerSquare);
      const placeLast = min(lastStep, (last * last + dy * dy) * plan.stepsPerSquare);
      let entry = plan.ratios;
      let weight = plan.weights;
      for (let k = 0; k < plan.samples; k++) {
        const ratio = ratioAt(entry, place);
        const ratioFirst = ratioAt(entry, placeFirst);
        const ratioLast = ratioAt(entry, placeLast);
        const sx: f32 = originX + sourceX(plan, dx, dy, ratio) - half;
        const sy: f32 = originY + sourceY(plan, dx, dy, ratio);
        const firstX: f32 = sourceX(plan, first, dy, ratioFirst);
        // How far the ends lie from where a block without any change of scale, or turn, puts them.
        const miss: f32 =
          abs(originX + firstX - sx) +
          abs(firstX + WIDE - sourceX(plan, last, dy, ratioLast)) +
          abs(originY + sourceY(plan, first, dy, ratioFirst) - sy) +
          abs(originY + sourceY(plan, last, dy, ratioLast) - sy);
        const fits = sx >= leastPlace && sx + WIDE <= mostX && sy >= leastPlace && sy <= mostY;
        if (fits && miss <= plan.tolerance) readBlock(plan, sx, sy, weight, at, plane);
        else {
          for (let q = 0; q < BLOCK; q++) {
            const own: f32 = first + <f32>q;
            const r = ratioAt(entry, min(lastStep, (own * own + dy * dy) * plan.stepsPerSquare));
            const px = min(mostX, max(leastPlace, originX + sourceX(plan, own, dy, r)));
            const py = min(mostY, max(leastPlace, originY + sourceY(plan, own, dy, r)));
            readPixel(plan, px, py, weight, at + ((<usize>q) << 2), plane);
          }
        }
        entry += table;
        weight += 16;
      }
      at += BLOCK * 4;
    }
  }
}

/** The weights of the six taps about a place `ahead` (0 to 1) behind the third, in the first six lanes of two vectors. */
let firstTaps: v128 = f32x4.splat(0);
let lastTaps: v128 = f32x4.splat(0);

function setTaps(plan: Plan, ahead: f32, sharpness: f32): void {
  const entry = plan.filter + ((<usize>(<i32>(ahead * PHASES + 0.5))) << 5);
  const sharp = f32x4.splat(sharpness);
  const soft: f32 = 1 - sharpness;
  const linear = f32x4.replace_lane(
    f32x4.replace_lane(f32x4.splat(0), 2, soft * (1 - ahead)),
    3,
    soft * ahead,
  );
  firstTaps = f32x4.add(f32x4.mul(sharp, v128.load(entry)), linear);
  lastTaps = f32x4.mul(sharp, v128.load(entry, 16));
}

/** Eight pixels in a row, from a place on, times a sample's weights. */
function readBlock(plan: Plan, sx: f32, sy: f32, weight: usize, out: usize, plane: usize): void {
  const column = <i32>Mathf.floor(sx);
  const row = <i32>Mathf.floor(sy);
  const left = column + BORDER - 2;
  const top = row + BORDER - 2;
  const sharpness = sharpnessAt(plan, left, top);
  setTaps(plan, sx - <f32>column, sharpness);
  const x0 = i32x4.shuffle(firstTaps, firstTaps, 0, 0, 0, 0);
  const x1 = i32x4.shuffle(firstTaps, firstTaps, 1, 1, 1, 1);
  const x2 = i32x4.shuffle(firstTaps, firstTaps, 2, 2, 2, 2);
  const x3 = i32x4.shuffle(firstTaps, firstTaps, 3, 3, 3, 3);
  const x4 = i32x4.shuffle(lastTaps, lastTaps, 0, 0, 0, 0);
  const x5 = i32x4.shuffle(lastTaps, lastTaps, 1, 1, 1, 1);
  setTaps(plan, sy - <f32>row, sharpness);
  const y0 = i32x4.shuffle(firstTaps, firstTaps, 0, 0, 0, 0);
  const y1 = i32x4.shuffle(firstTaps, firstTaps, 1, 1, 1, 1);
  const y2 = i32x4.shuffle(firstTaps, firstTaps, 2, 2, 2, 2);
  const y3 = i32x4.shuffle(firstTaps, firstTaps, 3, 3, 3, 3);
  const y4 = i32x4.shuffle(lastTaps, lastTaps, 0, 0, 0, 0);
  const y5 = i32x4.shuffle(lastTaps, lastTaps, 1, 1, 1, 1);
  const pitch = (<usize>plan.across) << 2;
  const offset = (<usize>(top * plan.across + left)) << 2;
  for (let c: usize = 0; c < 3; c++) {
    // Many wavelengths have no part in a channel.
    if (load<f32>(weight + (c << 2)) === 0) continue;
    const gain = v128.load32_splat(weight + (c << 2));
    // Addresses of the planes lie one after the other in the plan.
    let at = load<usize>(changetype<usize>(plan) + (c << 2), offsetof<Plan>('red')) + offset;
    let a = f32x4.mul(y0, v128.load(at));
    let b = f32x4.mul(y0, v128.load(at, 16));
    let d = f32x4.mul(y0, v128.load(at, 32));
    let e = f32x4.mul(y0, v128.load(at, 48));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y1, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y1, v128.load(at, 16)));
    d = f32x4.add(d, f32x4.mul(y1, v128.load(at, 32)));
    e = f32x4.add(e, f32x4.mul(y1, v128.load(at, 48)));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y2, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y2, v128.load(at, 16)));
    d = f32x4.add(d, f32x4.mul(y2, v128.load(at, 32)));
    e = f32x4.add(e, f32x4.mul(y2, v128.load(at, 48)));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y3, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y3, v128.load(at, 16)));
    d = f32x4.add(d, f32x4.mul(y3, v128.load(at, 32)));
    e = f32x4.add(e, f32x4.mul(y3, v128.load(at, 48)));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y4, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y4, v128.load(at, 16)));
    d = f32x4.add(d, f32x4.mul(y4, v128.load(at, 32)));
    e = f32x4.add(e, f32x4.mul(y4, v128.load(at, 48)));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y5, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y5, v128.load(at, 16)));
    d = f32x4.add(d, f32x4.mul(y5, v128.load(at, 32)));
    e = f32x4.add(e, f32x4.mul(y5, v128.load(at, 48)));
    const ab1 = i32x4.shuffle(a, b, 1, 2, 3, 4);
    const ab2 = i32x4.shuffle(a, b, 2, 3, 4, 5);
    const ab3 = i32x4.shuffle(a, b, 3, 4, 5, 6);
    const bd1 = i32x4.shuffle(b, d, 1, 2, 3, 4);
    const bd2 = i32x4.shuffle(b, d, 2, 3, 4, 5);
    const bd3 = i32x4.shuffle(b, d, 3, 4, 5, 6);
    const de1 = i32x4.shuffle(d, e, 1, 2, 3, 4);
    const near = f32x4.add(
      f32x4.add(
        f32x4.add(f32x4.mul(x0, a), f32x4.mul(x1, ab1)),
        f32x4.add(f32x4.mul(x2, ab2), f32x4.mul(x3, ab3)),
      ),
      f32x4.add(f32x4.mul(x4, b), f32x4.mul(x5, bd1)),
    );
    const far = f32x4.add(
      f32x4.add(
        f32x4.add(f32x4.mul(x0, b), f32x4.mul(x1, bd1)),
        f32x4.add(f32x4.mul(x2, bd2), f32x4.mul(x3, bd3)),
      ),
      f32x4.add(f32x4.mul(x4, d), f32x4.mul(x5, de1)),
    );
    const to = out + c * plane;
    v128.store(to, f32x4.add(v128.load(to), f32x4.mul(gain, near)));
    v128.store(to, f32x4.add(v128.load(to, 16), f32x4.mul(gain, far)), 16);
  }
}

/** One pixel by itself. */
function readPixel(plan: Plan, sx: f32, sy: f32, weight: usize, out: usize, plane: usize): void {
  const column = <i32>Mathf.floor(sx);
  const row = <i32>Mathf.floor(sy);
  const left = column + BORDER - 2;
  const top = row + BORDER - 2;
  const sharpness = sharpnessAt(plan, left, top);
  setTaps(plan, sy - <f32>row, sharpness);
  const y0 = i32x4.shuffle(firstTaps, firstTaps, 0, 0, 0, 0);
  const y1 = i32x4.shuffle(firstTaps, firstTaps, 1, 1, 1, 1);
  const y2 = i32x4.shuffle(firstTaps, firstTaps, 2, 2, 2, 2);
  const y3 = i32x4.shuffle(firstTaps, firstTaps, 3, 3, 3, 3);
  const y4 = i32x4.shuffle(lastTaps, lastTaps, 0, 0, 0, 0);
  const y5 = i32x4.shuffle(lastTaps, lastTaps, 1, 1, 1, 1);
  setTaps(plan, sx - <f32>column, sharpness);
  const x0123 = firstTaps;
  const x45 = lastTaps;
  const pitch = (<usize>plan.across) << 2;
  const offset = (<usize>(top * plan.across + left)) << 2;
  for (let c: usize = 0; c < 3; c++) {
    if (load<f32>(weight + (c << 2)) === 0) continue;
    let at = load<usize>(changetype<usize>(plan) + (c << 2), offsetof<Plan>('red')) + offset;
    let a = f32x4.mul(y0, v128.load(at));
    let b = f32x4.mul(y0, v128.load(at, 16));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y1, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y1, v128.load(at, 16)));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y2, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y2, v128.load(at, 16)));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y3, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y3, v128.load(at, 16)));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y4, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y4, v128.load(at, 16)));
    at += pitch;
    a = f32x4.add(a, f32x4.mul(y5, v128.load(at)));
    b = f32x4.add(b, f32x4.mul(y5, v128.load(at, 16)));
    const sum = f32x4.add(f32x4.mul(x0123, a), f32x4.mul(x45, b));
    const value: f32 =
      f32x4.extract_lane(sum, 0) +
      f32x4.extract_lane(sum, 1) +
      (f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3));
    const to = out + c * plane;
    store<f32>(to, load<f32>(to) + load<f32>(weight + (c << 2)) * value);
  }
}
