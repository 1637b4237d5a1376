/** Lays an image that is kept by distance and angle on the pixels around its source. */
import { ANGLES, Plan, STEP } from './plan';

/** Pixels to the source within which a pixel's mean is taken of many points, and how many along each side. */
const NEAR: i32 = 6;
const FINE: i32 = 12;
/** Bytes of a cell: four floats, of which three are used. */
const CELL: usize = 16;

/**
 * Blurs rows `from` to `to` along their angles by what a pixel, or a point of those near the source, takes up there: a
 * spike that is thinner than a pixel would else be hit by some and missed by others, and look beaded. `scratch` holds a row.
 */
export function antialiasRows(at: usize, from: i32, to: i32, scratch: usize): void {
  const plan = changetype<Plan>(at);
  const bytes = <usize>ANGLES * CELL;
  for (let row = from; row < to; row++) {
    const distance = Math.exp(<f64>plan.firstLog + <f64>row * <f64>STEP);
    const side = max<f64>(1, <f64>plan.squeeze);
    const pixel: f64 = distance > <f64>NEAR + 0.35 ? side : side / <f64>FINE;
    const width = min<f64>(<f64>ANGLES, (pixel / distance) * (<f64>ANGLES / Math.PI));
    // Two cells are what is read anyway.
    if (width < 1) continue;
    const line = plan.image + <usize>row * bytes;
    for (let pass = 0; pass < 2; pass++) {
      memory.copy(scratch, line, bytes);
      boxBlur(scratch, line, width);
    }
  }
}

function cell(line: usize, angle: i32): usize {
  return line + <usize>(angle & (ANGLES - 1)) * CELL;
}

/** Adds a cell times a weight to sums in double precision: red and green, and blue. */
let redGreen: v128 = f64x2.splat(0);
let blueRest: v128 = f64x2.splat(0);

function addCell(line: usize, angle: i32, weight: f64): void {
  const values = v128.load(cell(line, angle));
  const weights = f64x2.splat(weight);
  redGreen = f64x2.add(redGreen, f64x2.mul(f64x2.promote_low_f32x4(values), weights));
  const high = v128.shuffle<f32>(values, values, 2, 3, 2, 3);
  blueRest = f64x2.add(blueRest, f64x2.mul(f64x2.promote_low_f32x4(high), weights));
}

/** The mean of a circle's cells over so many of them about each, parts of them included. */
function boxBlur(source: usize, target: usize, width: f64): void {
  // A box's ends lie as far within their cells all the way round.
  const low = 0.5 - width / 2;
  const high = 0.5 + width / 2;
  const first = <i32>floor(low);
  const last = <i32>floor(high);
  const left = low - <f64>first;
  const right = high - <f64>last;
  redGreen = f64x2.splat(0);
  blueRest = f64x2.splat(0);
  addCell(source, last, right);
  addCell(source, first, -left);
  for (let k = first; k < last; k++) addCell(source, k, 1);
  const share = f64x2.splat(1 / width);
  const none = f64x2.splat(0);
  for (let i = 0; i < ANGLES; i++) {
    // Rounding may leave a little less than nothing.
    const rg = f32x4.demote_f64x2_zero(f64x2.mul(f64x2.max(redGreen, none), share));
    const b = f32x4.demote_f64x2_zero(f64x2.mul(f64x2.max(blueRest, none), share));
    v128.store(cell(target, i), v128.shuffle<f32>(rg, b, 0, 1, 4, 5));
    addCell(source, i + last, 1 - right);
    addCell(source, i + last + 1, right);
    addCell(source, i + first, left - 1);
    addCell(source, i + first + 1, -left);
  }
}

/** The cells about a row and an angle, weighted by how near they are. */
function read(plan: Plan, row: f32, turned: f32): v128 {
  const last = plan.imageRows - 1;
  const inside = min<f32>(max<f32>(row, 0), <f32>last);
  const upper = <i32>inside;
  const down = inside - <f32>upper;
  const turn = turned < 0 ? turned + <f32>ANGLES : turned >= <f32>ANGLES ? turned - <f32>ANGLES : turned;
  const angle = min<i32>(<i32>turn, ANGLES - 1);
  const round = f32x4.splat(turn - <f32>angle);
  const next = (angle + 1) & (ANGLES - 1);
  const line = plan.image + <usize>(upper * ANGLES) * CELL;
  const lower = upper === last ? line : line + <usize>ANGLES * CELL;
  const own = <usize>angle * CELL;
  const other = <usize>next * CELL;
  const a = v128.load(line + own);
  const c = v128.load(lower + own);
  const above = f32x4.add(a, f32x4.mul(round, f32x4.sub(v128.load(line + other), a)));
  const below = f32x4.add(c, f32x4.mul(round, f32x4.sub(v128.load(lower + other), c)));
  return f32x4.add(above, f32x4.mul(f32x4.splat(down), f32x4.sub(below, above)));
}

/** Natural logarithm of four positive numbers (Abramowitz & Stegun 1964, 4.1.44: within 3e-8 of ln(1 + x)). */
function logarithm(x: v128): v128 {
  const exponent = f32x4.convert_i32x4_s(i32x4.sub(i32x4.shr_u(x, 23), i32x4.splat(127)));
  const mantissa = v128.or(v128.and(x, i32x4.splat(0x7fffff)), i32x4.splat(0x3f800000));
  const t = f32x4.sub(mantissa, f32x4.splat(1));
  let sum = f32x4.splat(-0.0064535442);
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(0.0360884937));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(-0.0953293897));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(0.1676540711));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(-0.2407338084));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(0.3317990258));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(-0.4998741238));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(0.9999964239));
  return f32x4.add(f32x4.mul(sum, t), f32x4.mul(exponent, f32x4.splat(0.6931471806)));
}

/** Angle of four places in the first quadrant (Abramowitz & Stegun 1964, 4.4.49: within 2e-8 up to 45 degrees). */
function angleOf(y: v128, x: v128): v128 {
  const t = f32x4.div(f32x4.min(x, y), f32x4.max(x, y));
  const t2 = f32x4.mul(t, t);
  let sum = f32x4.splat(0.0028662257);
  sum = f32x4.add(f32x4.mul(sum, t2), f32x4.splat(-0.0161657367));
  sum = f32x4.add(f32x4.mul(sum, t2), f32x4.splat(0.0429096138));
  sum = f32x4.add(f32x4.mul(sum, t2), f32x4.splat(-0.07528964));
  sum = f32x4.add(f32x4.mul(sum, t2), f32x4.splat(0.1065626393));
  sum = f32x4.add(f32x4.mul(sum, t2), f32x4.splat(-0.1420889944));
  sum = f32x4.add(f32x4.mul(sum, t2), f32x4.splat(0.1999355085));
  sum = f32x4.add(f32x4.mul(sum, t2), f32x4.splat(-0.3333314528));
  const angle = f32x4.add(t, f32x4.mul(t, f32x4.mul(sum, t2)));
  const steep = f32x4.sub(f32x4.splat(1.5707963268), angle);
  return v128.bitselect(steep, angle, f32x4.gt(y, x));
}

/**
 * Lays rows `from` to `to`, of those from the source's own downwards, into `out`: a plane a channel, each row from
 * `-(width - 1)` to `width - 1`. The source's own pixel stays empty. `task` says where the sums of what is laid go; the
 * rows above the source, which are the same turned half way round, are counted in them.
 */
export function rasterRows(at: usize, from: i32, to: i32, out: usize, task: i32): void {
  const plan = changetype<Plan>(at);
  const width = plan.width;
  const columns = 2 * width - 1;
  const plane = (<usize>(columns * (to - from))) << 2;
  memory.fill(out, 0, 3 * plane);
  redGreen = f64x2.splat(0);
  blueRest = f64x2.splat(0);
  for (let dy = from; dy < to; dy++) {
    const line = out + ((<usize>((dy - from) * columns)) << 2);
    const middle = line + ((<usize>(width - 1)) << 2);
    if (dy <= NEAR) nearPixels(plan, middle, plane, dy);
    const start = farStart(dy, plan.squeeze);
    for (let dx = start; dx < width; dx += 4) farPixels(plan, middle, plane, dx, dy, width);
    if (dy === 0) mirrorRow(middle, plane, width);
    sumRow(line, plane, columns, dy === 0 ? 0.5 : 1);
  }
  const sums = plan.sums + ((<usize>task) << 5);
  v128.store(sums, f64x2.add(redGreen, redGreen));
  v128.store(sums, f64x2.add(blueRest, blueRest), 16);
}

/** The first column to the right of the source that is not near it. */
function farStart(dy: i32, squeeze: f32): i32 {
  let dx = 0;
  while (isNear(dx, dy, squeeze)) dx++;
  return dx;
}

function isNear(dx: i32, dy: i32, squeeze: f32): bool {
  const x = <f32>dx * squeeze;
  return x * x + <f32>(dy * dy) <= <f32>(NEAR * NEAR);
}

function put(place: usize, plane: usize, light: v128): void {
  store<f32>(place, f32x4.extract_lane(light, 0));
  store<f32>(place + plane, f32x4.extract_lane(light, 1));
  store<f32>(place + 2 * plane, f32x4.extract_lane(light, 2));
}

/** Four pixels to the right of the source's column and the four that mirror them. */
function farPixels(plan: Plan, middle: usize, plane: usize, dx: i32, dy: i32, width: i32): void {
  const places = f32x4.add(f32x4.splat(<f32>dx), f32x4(0, 1, 2, 3));
  const x = f32x4.mul(places, f32x4.splat(plan.squeeze));
  const y = f32x4.splat(<f32>dy);
  const square = f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y));
  const perRow: f32 = 1 / STEP;
  const row = f32x4.mul(
    f32x4.sub(f32x4.mul(f32x4.splat(0.5), logarithm(square)), f32x4.splat(plan.firstLog)),
    f32x4.splat(perRow),
  );
  const perTurn: f32 = <f32>ANGLES / <f32>Math.PI;
  const turn = f32x4.add(f32x4.mul(angleOf(y, x), f32x4.splat(perTurn)), f32x4.splat(<f32>ANGLES / 2 - 0.5));
  pixelPair(plan, middle, plane, dx, f32x4.extract_lane(row, 0), f32x4.extract_lane(turn, 0));
  if (dx + 1 < width)
    pixelPair(plan, middle, plane, dx + 1, f32x4.extract_lane(row, 1), f32x4.extract_lane(turn, 1));
  if (dx + 2 < width)
    pixelPair(plan, middle, plane, dx + 2, f32x4.extract_lane(row, 2), f32x4.extract_lane(turn, 2));
  if (dx + 3 < width)
    pixelPair(plan, middle, plane, dx + 3, f32x4.extract_lane(row, 3), f32x4.extract_lane(turn, 3));
}

/** The place on the other side of the upright through the source lies as far the other way round. */
function pixelPair(plan: Plan, middle: usize, plane: usize, dx: i32, row: f32, turn: f32): void {
  const offset = (<usize>dx) << 2;
  put(middle + offset, plane, read(plan, row, turn));
  if (dx > 0) put(middle - offset, plane, read(plan, row, <f32>(ANGLES - 1) - turn));
}

/** Pixels near the source, each the mean of many points. */
function nearPixels(plan: Plan, middle: usize, plane: usize, dy: i32): void {
  const share = f32x4.splat(1 / <f32>(FINE * FINE));
  const most = min<i32>(<i32>(<f32>NEAR / plan.squeeze), plan.width - 1);
  for (let dx = -most; dx <= most; dx++) {
    if (!isNear(dx, dy, plan.squeeze) || (dy === 0 && dx <= 0)) continue;
    let light = f32x4.splat(0);
    for (let k = 0; k < FINE * FINE; k++) {
      const x = <f64>plan.squeeze * (<f64>dx + (<f64>(k % FINE) + 0.5) / <f64>FINE - 0.5);
      const y = <f64>dy + (<f64>(k / FINE) + 0.5) / <f64>FINE - 0.5;
      const row = (0.5 * Math.log(x * x + y * y) - <f64>plan.firstLog) / <f64>STEP;
      const turn = (Math.atan2(y, x) / Math.PI + 0.5) * <f64>ANGLES - 0.5;
      light = f32x4.add(light, read(plan, <f32>row, <f32>turn));
    }
    const place = dx < 0 ? middle - ((<usize>-dx) << 2) : middle + ((<usize>dx) << 2);
    put(place, plane, f32x4.mul(light, share));
  }
}

/** The source's own row is the same to both sides. */
function mirrorRow(middle: usize, plane: usize, width: i32): void {
  for (let c: usize = 0; c < 3; c++)
    for (let dx = 1; dx < width; dx++) {
      const own = middle + c * plane;
      store<f32>(own - ((<usize>dx) << 2), load<f32>(own + ((<usize>dx) << 2)));
    }
}

/** Adds a share of a row to the sums. */
function sumRow(line: usize, plane: usize, columns: i32, share: f64): void {
  let r: f64 = 0;
  let g: f64 = 0;
  let b: f64 = 0;
  for (let i = 0; i < columns; i++) {
    const place = line + ((<usize>i) << 2);
    r += <f64>load<f32>(place);
    g += <f64>load<f32>(place + plane);
    b += <f64>load<f32>(place + 2 * plane);
  }
  redGreen = f64x2.add(redGreen, f64x2(r * share, g * share));
  blueRest = f64x2.add(blueRest, f64x2(b * share, 0));
}
