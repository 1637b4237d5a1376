/**
 * Takes a picture apart into pieces of surface: most pixels are one; those in which two surfaces meet become two; and
 * behind what is nearer than its surroundings a piece of what probably lies there is added.
 */
import { apart, NONE, PARTIAL, plane, Plan, setPlane, STRIP } from './plan';
import { levelAt } from './surfaces';

/** Within this share of the extremes a neighbour counts to the near or the far surface. */
const EXTREME: f32 = 0.15;
/** Layers on either side of the focus whose discs reach no farther than the window that is looked at. */
const NEAR_FOCUS: i32 = 2;

// The strip at work.
let plan!: Plan;
let nextPiece: i32 = 0;

/** Makes the pieces of one strip and counts them by layer; marks what discs they need. */
export function cutStrip(at: usize, strip: i32): void {
  plan = changetype<Plan>(at);
  const width = plan.width;
  const from = strip * STRIP;
  const to = min(plan.height, from + STRIP);
  const first = plan.width * plan.height + from * width;
  nextPiece = first;
  for (let y = from; y < to; y += 16) {
    for (let x = 0; x < width; x += 16) {
      const x1 = min(width, x + 16);
      const y1 = min(to, y + 16);
      cutTile(x, y, x1, y1);
      if (plan.closedAt) markClosed(x, y, x1, y1);
    }
  }
  store<i32>(plan.added + ((<usize>strip) << 2), nextPiece - first);
  const counts = plan.counts + ((<usize>(strip * plan.layers)) << 2);
  memory.fill(counts, 0, (<usize>plan.layers) << 2);
  count(counts, from * width, to * width);
  count(counts, first, nextPiece);
}

export function layerOf(plan: Plan, radius: f32): i32 {
  const sixteenths = <usize>(abs(radius) * 16);
  return <i32>load<u8>((radius < 0 ? plan.layerBefore : plan.layerBehind) + sixteenths);
}

export function discOf(plan: Plan, radius: f32, place: u32): i32 {
  const step = <i32>load<u16>(plan.stepOf + ((<usize>(abs(radius) * 16)) << 1));
  const x = place & 0xffff;
  const cell = <i32>load<u8>(plan.cellY + (place >> 16)) * plan.cellsAcross + <i32>load<u8>(plan.cellX + x);
  return (cell * 2 + (radius < 0 ? 0 : 1)) * plan.steps + step;
}

/** Marks the pixels of a tile at which the surface covers all that lies behind it, near the focus. */
function markClosed(x0: i32, y0: i32, x1: i32, y1: i32): void {
  const across = (plan.width + 15) >> 4;
  const down = (plan.height + 15) >> 4;
  let least: f32 = 1e30;
  let most: f32 = -1e30;
  for (let v = max(0, (y0 >> 4) - 1); v <= min(down - 1, (y0 >> 4) + 1); v++) {
    for (let u = max(0, (x0 >> 4) - 1); u <= min(across - 1, (x0 >> 4) + 1); u++) {
      least = min(least, plane(plan.tileLeast, v * across + u));
      most = max(most, plane(plan.tileMost, v * across + u));
    }
  }
  const nearest = layerOf(plan, least);
  const farthest = layerOf(plan, most);
  const focus = plan.focusLayer;
  const isPlain =
    (nearest === focus && farthest === focus) ||
    nearest > focus + NEAR_FOCUS ||
    farthest < focus - NEAR_FOCUS;
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++)
      store<u8>(plan.closedAt + <usize>(y * plan.width + x), isPlain ? 0 : closedAt(x, y));
}

/** The farthest layer about a pixel, plus one, if it and the pixel's are near the focus and all there is whole; 0 if not. */
function closedAt(x: i32, y: i32): u8 {
  const width = plan.width;
  const focus = plan.focusLayer;
  const own = layerOf(plan, plane(plan.radius, y * width + x));
  if (abs(own - focus) > NEAR_FOCUS) return 0;
  let farthest = own;
  for (let v = max(0, y - 2); v <= min(plan.height - 1, y + 2); v++) {
    for (let u = max(0, x - 2); u <= min(width - 1, x + 2); u++) {
      const i = v * width + u;
      if (load<u8>(plan.edges + <usize>i) === PARTIAL) return 0;
      farthest = max(farthest, layerOf(plan, plane(plan.radius, i)));
    }
  }
  // In focus a pixel brings nothing to others: before it a surface is closed by its last layer that has discs.
  if (farthest === focus) return own === focus - 1 ? <u8>(own + 1) : 0;
  return abs(farthest - focus) <= NEAR_FOCUS ? <u8>(farthest + 1) : 0;
}

/** Whether nothing of the surface is in a piece. */
function isEmpty(i: i32): bool {
  return load<f32>(plan.colour + ((<usize>i) << 4), 12) <= 0;
}

function count(counts: usize, from: i32, to: i32): void {
  for (let i = from; i < to; i++) {
    if (isEmpty(i)) continue;
    const radius = plane(plan.pieceRadius, i);
    const layer = layerOf(plan, radius);
    const slot = counts + ((<usize>layer) << 2);
    store<i32>(slot, load<i32>(slot) + 1);
    if (layer === plan.focusLayer) continue;
    store<u8>(plan.needed + <usize>discOf(plan, radius, load<u32>(plan.place + ((<usize>i) << 2))), 1);
  }
}

/** Writes the numbers of a strip's pieces in the order of layers; each layer's place in `order` is in `starts`. */
export function orderStrip(at: usize, strip: i32): void {
  plan = changetype<Plan>(at);
  const from = strip * STRIP * plan.width;
  const to = min(plan.height, (strip + 1) * STRIP) * plan.width;
  const first = plan.width * plan.height + from;
  const starts = plan.starts + ((<usize>(strip * plan.layers)) << 2);
  put(starts, from, to);
  put(starts, first, first + load<i32>(plan.added + ((<usize>strip) << 2)));
}

function put(starts: usize, from: i32, to: i32): void {
  for (let i = from; i < to; i++) {
    if (isEmpty(i)) continue;
    const slot = starts + ((<usize>layerOf(plan, plane(plan.pieceRadius, i))) << 2);
    const next = load<i32>(slot);
    store<i32>(plan.order + ((<usize>next) << 2), i);
    store<i32>(slot, next + 1);
  }
}

function setPiece(i: i32, place: u32, radius: f32, light: v128): void {
  store<u32>(plan.place + ((<usize>i) << 2), place);
  setPlane(plan.pieceRadius, i, radius);
  v128.store(plan.colour + ((<usize>i) << 4), light);
}

function lightAt(i: i32): v128 {
  return f32x4(plane(plan.red, i), plane(plan.green, i), plane(plan.blue, i), 1);
}

/** Makes a piece of every pixel of a row from `x0` to `x1`, as if none of them had an edge. */
function setWholePieces(x0: i32, y: i32, x1: i32): void {
  const one = f32x4.splat(1);
  const row = (<u32>y) << 16;
  let x = x0;
  for (; x + 4 <= x1; x += 4) {
    const offset = (<usize>(y * plan.width + x)) << 2;
    v128.store(plan.place + offset, i32x4.add(i32x4.splat(row | (<u32>x)), i32x4(0, 1, 2, 3)));
    v128.store(plan.pieceRadius + offset, v128.load(plan.radius + offset));
    const red = v128.load(plan.red + offset);
    const green = v128.load(plan.green + offset);
    const blue = v128.load(plan.blue + offset);
    const redGreen = i32x4.shuffle(red, green, 0, 4, 1, 5);
    const whole = plan.coverage ? v128.load(plan.coverage + offset) : one;
    const blueOne = i32x4.shuffle(blue, whole, 0, 4, 1, 5);
    const redGreenUpper = i32x4.shuffle(red, green, 2, 6, 3, 7);
    const blueOneUpper = i32x4.shuffle(blue, whole, 2, 6, 3, 7);
    const at = plan.colour + (offset << 2);
    v128.store(at, i64x2.shuffle(redGreen, blueOne, 0, 2));
    v128.store(at, i64x2.shuffle(redGreen, blueOne, 1, 3), 16);
    v128.store(at, i64x2.shuffle(redGreenUpper, blueOneUpper, 0, 2), 32);
    v128.store(at, i64x2.shuffle(redGreenUpper, blueOneUpper, 1, 3), 48);
  }
  for (; x < x1; x++) {
    const i = y * plan.width + x;
    const whole: f32 = plan.coverage ? plane(plan.coverage, i) : 1;
    setPiece(i, row | (<u32>x), plane(plan.radius, i), f32x4.replace_lane(lightAt(i), 3, whole));
  }
}

function cutTile(x0: i32, y0: i32, x1: i32, y1: i32): void {
  const width = plan.width;
  const across = (width + 15) >> 4;
  const down = (plan.height + 15) >> 4;
  const tx = x0 >> 4;
  const ty = y0 >> 4;
  const tile = ty * across + tx;
  // How far round the tile a disc could reach into it, and the farthest surface there.
  const need = max(plane(plan.tileSize, tile), plan.farthest) + 1;
  const steps = <i32>Mathf.ceil((2 * need) / 16);
  let farthest: f32 = NONE;
  let edge: u8 = 0;
  for (let v = max(0, ty - steps); v <= min(down - 1, ty + steps); v++) {
    for (let u = max(0, tx - steps); u <= min(across - 1, tx + steps); u++) {
      const other = v * across + u;
      farthest = max(farthest, plane(plan.tileMost, other));
      edge |= load<u8>(plan.tileEdges + <usize>other);
    }
  }
  const covers = edge !== 0 && farthest - plane(plan.tileLeast, tile) > 1;
  const plain = load<u8>(plan.tileEdges + <usize>tile) === 0;
  for (let y = y0; y < y1; y++) {
    setWholePieces(x0, y, x1);
    if (plain && !covers) continue;
    for (let x = x0; x < x1; x++) {
      const i = y * width + x;
      const place = ((<u32>y) << 16) | (<u32>x);
      if (load<u8>(plan.edges + <usize>i) === PARTIAL) continue;
      if (load<u8>(plan.edges + <usize>i) && split(i, x, y, place)) continue;
      const own = plane(plan.pieceRadius, i);
      if (covers && farthest - own > apart(own, farthest)) addHidden(x, y, place, own, need);
    }
  }
}

function total(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2);
}

/** Light and radius (in the fourth lane) of the two surfaces about a pixel, times the weights of what they come from. */
let near: v128 = f32x4.splat(0);
let far: v128 = f32x4.splat(0);
let nearWeight: f32 = 0;
let farWeight: f32 = 0;

/** One over the square of a distance in the window, which is 1, 2, 4, 5 or 8. */
function nearness(dx: i32, dy: i32): f32 {
  const away = dx * dx + dy * dy;
  return away < 4 ? (away < 2 ? 1 : 0.5) : away === 4 ? 0.25 : away === 5 ? 0.2 : 0.125;
}

/** The same for the first four columns of a row of the window, and for the fifth alone. */
function nearnessOfRow(dy: i32): v128 {
  if (dy === 0) return f32x4(0.25, 1, 1, 1);
  return dy * dy === 1 ? f32x4(0.2, 0.5, 1, 0.5) : f32x4(0.125, 0.2, 0.25, 0.2);
}

function nearnessOfLast(dy: i32): v128 {
  return f32x4(dy === 0 ? 0.25 : dy * dy === 1 ? 0.2 : 0.125, 0, 0, 0);
}

/** Which of the first four columns of a window, and whether its fifth, lie in the picture. */
let firstColumns: v128 = i32x4.splat(-1);
let lastColumn: v128 = i32x4.splat(-1);

function columnsOf(x: i32): void {
  const columns = i32x4.add(i32x4.splat(x), i32x4(-2, -1, 0, 1));
  firstColumns = v128.and(i32x4.ge_s(columns, i32x4.splat(0)), i32x4.lt_s(columns, i32x4.splat(plan.width)));
  lastColumn = i32x4(x + 2 < plan.width ? -1 : 0, 0, 0, 0);
}

/** Least and greatest radius in the window about a pixel. */
let least: f32 = 0;
let most: f32 = 0;

function findRange(x: i32, y: i32, own: f32): void {
  const middle = f32x4.splat(own);
  let low = middle;
  let high = middle;
  const y1 = min(plan.height - 1, y + 2);
  for (let v = max(0, y - 2); v <= y1; v++) {
    const at = plan.radius + ((<usize>(v * plan.width + x - 2)) << 2);
    const first = v128.bitselect(v128.load(at), middle, firstColumns);
    const last = v128.bitselect(v128.load32_splat(at, 16), middle, lastColumn);
    low = f32x4.pmin(low, f32x4.pmin(first, last));
    high = f32x4.pmax(high, f32x4.pmax(first, last));
  }
  least = min(
    min(f32x4.extract_lane(low, 0), f32x4.extract_lane(low, 1)),
    min(f32x4.extract_lane(low, 2), f32x4.extract_lane(low, 3)),
  );
  most = max(
    max(f32x4.extract_lane(high, 0), f32x4.extract_lane(high, 1)),
    max(f32x4.extract_lane(high, 2), f32x4.extract_lane(high, 3)),
  );
}

function totalOf(v: v128): f32 {
  return (
    f32x4.extract_lane(v, 0) +
    f32x4.extract_lane(v, 1) +
    (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3))
  );
}

/**
 * Adds the neighbours that lie on no edge: those under one radius to the near surface, those over the other to the far
 * one. Four columns at a time and without branches, which at edges no processor could foresee.
 */
function addClean(x: i32, y: i32, under: f32, over: f32): void {
  const width = plan.width;
  const y1 = min(plan.height - 1, y + 2);
  const under4 = f32x4.splat(under);
  const over4 = f32x4.splat(over);
  const zero = f32x4.splat(0);
  let nearRed = zero;
  let nearGreen = zero;
  let nearBlue = zero;
  let nearRadius = zero;
  let nearSum = zero;
  let farRed = zero;
  let farGreen = zero;
  let farBlue = zero;
  let farRadius = zero;
  let farSum = zero;
  for (let v = max(0, y - 2); v <= y1; v++) {
    // Four columns, then the fifth in one lane.
    for (let part = 0; part < 2; part++) {
      const at = <usize>(v * width + x - 2 + 4 * part);
      const offset = at << 2;
      const bytes = v128.load32_zero(plan.edges + at);
      const edges = i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(bytes));
      const clean = v128.and(i32x4.eq(edges, i32x4.splat(0)), part === 0 ? firstColumns : lastColumn);
      const weight = part === 0 ? nearnessOfRow(v - y) : nearnessOfLast(v - y);
      const r = v128.load(plan.radius + offset);
      const isNear = v128.and(f32x4.lt(r, under4), clean);
      const isFar = v128.and(f32x4.gt(r, over4), clean);
      const red = f32x4.mul(v128.load(plan.red + offset), weight);
      const green = f32x4.mul(v128.load(plan.green + offset), weight);
      const blue = f32x4.mul(v128.load(plan.blue + offset), weight);
      const radius = f32x4.mul(r, weight);
      nearRed = f32x4.add(nearRed, v128.and(red, isNear));
      nearGreen = f32x4.add(nearGreen, v128.and(green, isNear));
      nearBlue = f32x4.add(nearBlue, v128.and(blue, isNear));
      nearRadius = f32x4.add(nearRadius, v128.and(radius, isNear));
      nearSum = f32x4.add(nearSum, v128.and(weight, isNear));
      farRed = f32x4.add(farRed, v128.and(red, isFar));
      farGreen = f32x4.add(farGreen, v128.and(green, isFar));
      farBlue = f32x4.add(farBlue, v128.and(blue, isFar));
      farRadius = f32x4.add(farRadius, v128.and(radius, isFar));
      farSum = f32x4.add(farSum, v128.and(weight, isFar));
    }
  }
  near = f32x4(totalOf(nearRed), totalOf(nearGreen), totalOf(nearBlue), totalOf(nearRadius));
  far = f32x4(totalOf(farRed), totalOf(farGreen), totalOf(farBlue), totalOf(farRadius));
  nearWeight = totalOf(nearSum);
  farWeight = totalOf(farSum);
}

/** Adds neighbours that lie on an edge themselves, bright ones for less: they would count for more than they are worth. */
function addMixed(i: i32, x: i32, y: i32, under: f32, over: f32): void {
  const width = plan.width;
  const x0 = max(0, x - 2);
  const x1 = min(width - 1, x + 2);
  const y1 = min(plan.height - 1, y + 2);
  const soft: f32 = 0.5 / plan.white;
  for (let v = max(0, y - 2); v <= y1; v++) {
    for (let u = x0; u <= x1; u++) {
      const j = v * width + u;
      if (load<u8>(plan.edges + <usize>j) !== 1 || j === i) continue;
      const r = plane(plan.radius, j);
      const isNear = r < under;
      if (!isNear && r <= over) continue;
      const seen = f32x4.replace_lane(lightAt(j), 3, r);
      const dim: f32 = 1 / (1 + soft * total(seen));
      const weight: f32 = nearness(u - x, v - y) * dim * dim;
      const part = f32x4.mul(seen, f32x4.splat(weight));
      if (isNear) {
        near = f32x4.add(near, part);
        nearWeight += weight;
      } else {
        far = f32x4.add(far, part);
        farWeight += weight;
      }
    }
  }
}

/**
 * Splits a pixel that mixes two surfaces by its colour: the near one with the share it covers, and the far one whole,
 * what is hidden of it made up. False if it is one piece after all, which is then set.
 */
function split(i: i32, x: i32, y: i32, place: u32): bool {
  const own = plane(plan.radius, i);
  const light = lightAt(i);
  columnsOf(x);
  findRange(x, y, own);
  const margin = EXTREME * (most - least);
  // Pixels off any edge tell what both surfaces look like; only where there are none, those on one do.
  addClean(x, y, least + margin, most - margin);
  if (nearWeight === 0 || farWeight === 0)
    addMixed(i, x, y, nearWeight === 0 ? least + margin : NONE, farWeight === 0 ? most - margin : -NONE);
  if (nearWeight === 0 || farWeight === 0) {
    setPiece(i, place, own, light);
    return false;
  }
  const front = f32x4.div(near, f32x4.splat(nearWeight));
  const back = f32x4.div(far, f32x4.splat(farWeight));
  const nearRadius = f32x4.extract_lane(front, 3);
  const farRadius = f32x4.extract_lane(back, 3);
  const isNear = own - nearRadius < farRadius - own;
  const sumOwn = total(light);
  const sumNear = total(front);
  const sumFar = total(back);
  const across = f32x4.replace_lane(f32x4.sub(front, back), 3, 0);
  const square = total(f32x4.mul(across, across));
  const both = sumNear + sumFar;
  let alpha: f32 = isNear ? 1 : 0;
  if (square >= 0.0025 * both * both && square > 0) {
    alpha = total(f32x4.mul(f32x4.sub(light, back), across)) / square;
    alpha = isNear ? max<f32>(0.4, min<f32>(1, alpha)) : max<f32>(0, min<f32>(0.6, alpha));
  }
  const dark = 0.1 * plan.white;
  if (alpha > 0.97 && sumOwn < 1.5 * sumNear + dark) {
    setPiece(i, place, min(own, nearRadius + margin), light);
    return false;
  }
  if (alpha < 0.03 && sumOwn < 1.5 * sumFar + dark) {
    setPiece(i, place, max(own, farRadius - margin), light);
    return false;
  }
  // What the mixture does not explain goes to the brighter side; a lamp always to the far one, or it would paint a
  // ghost of the near surface.
  const toNear: f32 =
    sumOwn > 2 * both + 2 * dark ? 0 : sumNear > 2 * sumFar ? 1 : sumFar > 2 * sumNear ? 0 : alpha;
  const covered = f32x4.mul(front, f32x4.splat(alpha));
  const rest = f32x4.sub(f32x4.sub(light, covered), f32x4.mul(back, f32x4.splat(1 - alpha)));
  let part = f32x4.add(covered, f32x4.mul(rest, f32x4.splat(toNear)));
  part = f32x4.min(light, f32x4.max(f32x4.splat(0), part));
  const made = min<f32>(1, (2 * plan.white) / (sumFar + 1e-6 * plan.white)) * alpha;
  const behind = f32x4.add(f32x4.sub(light, part), f32x4.mul(back, f32x4.splat(made)));
  setPiece(i, place, nearRadius, f32x4.replace_lane(part, 3, alpha));
  setPiece(nextPiece++, place, farRadius, f32x4.replace_lane(behind, 3, 1));
  return true;
}

function weighed(colour: usize, i: i32, weight: f32): v128 {
  return f32x4.mul(v128.load(colour + ((<usize>i) << 4)), f32x4.splat(weight));
}

/** Adds what probably lies behind a pixel: the farther surfaces about it, the finest cells first until they suffice. */
function addHidden(x: i32, y: i32, place: u32, own: f32, need: f32): void {
  const size = abs(own);
  const gap = max<f32>(1, 0.15 * size);
  let sum = f32x4.splat(0);
  let radius: f32 = 0;
  let cover: f32 = 0;
  for (let k = 1; k <= plan.levelCount; k++) {
    const cell: f32 = <f32>(1 << k);
    if (cover === 0 && cell * 0.5 > need) return;
    const level = levelAt(plan, k);
    // The four cells about the pixel's middle, in whole numbers of half a pixel.
    const gx = 2 * x + 1 - (1 << k);
    const gy = 2 * y + 1 - (1 << k);
    const left = gx >> (k + 1);
    const top = gy >> (k + 1);
    const u0 = max(0, left);
    const u1 = min(level.width - 1, left + 1);
    const row0 = max(0, top) * level.width;
    const row1 = min(level.height - 1, top + 1) * level.width;
    const r00 = plane(level.radius, row0 + u0);
    const r01 = plane(level.radius, row0 + u1);
    const r10 = plane(level.radius, row1 + u0);
    const r11 = plane(level.radius, row1 + u1);
    const least = own + gap;
    if (max(max(r00, r01), max(r10, r11)) <= least) continue;
    const mask = (2 << k) - 1;
    const fx = <f32>(gx & mask) / (2 * cell);
    const fy = <f32>(gy & mask) / (2 * cell);
    const w00: f32 = r00 > least ? (1 - fx) * (1 - fy) + 1e-4 : 0;
    const w01: f32 = r01 > least ? fx * (1 - fy) + 1e-4 : 0;
    const w10: f32 = r10 > least ? (1 - fx) * fy + 1e-4 : 0;
    const w11: f32 = r11 > least ? fx * fy + 1e-4 : 0;
    const weight = w00 + w01 + w10 + w11;
    let mean: f32 = 0;
    let light = f32x4.splat(0);
    if (w00 > 0) {
      mean += w00 * r00;
      light = f32x4.add(light, weighed(level.colour, row0 + u0, w00));
    }
    if (w01 > 0) {
      mean += w01 * r01;
      light = f32x4.add(light, weighed(level.colour, row0 + u1, w01));
    }
    if (w10 > 0) {
      mean += w10 * r10;
      light = f32x4.add(light, weighed(level.colour, row1 + u0, w10));
    }
    if (w11 > 0) {
      mean += w11 * r11;
      light = f32x4.add(light, weighed(level.colour, row1 + u1, w11));
    }
    // What is found too far away says nothing about what the disc uncovers.
    if (cover === 0 && cell * 0.5 > max(size, abs(mean / weight)) + 1) return;
    const open: f32 = 1 - cover;
    sum = f32x4.add(sum, f32x4.mul(light, f32x4.splat(open)));
    radius += open * mean;
    cover += open * weight;
    if (cover > 0.9) break;
  }
  if (cover === 0) return;
  const behind = f32x4.div(sum, f32x4.splat(cover));
  setPiece(nextPiece++, place, radius / cover, f32x4.replace_lane(behind, 3, 1));
}
