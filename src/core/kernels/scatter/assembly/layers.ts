/** Spreads pieces over their discs, layer by layer from the nearest, and lays the layers over each other. */
import { addDisc, Disc } from './disc';
import { plane, Plan, setPlane, STRIP } from './plan';
import {
  clearMip,
  findBright,
  firstStrip,
  gather,
  lastStrip,
  Mip,
  MIP_BYTES,
  mipBytes,
  openMip,
  spreadCells,
  takeBright,
} from './mips';
import { discOf } from './pieces';

/** Rows and columns of a tile that a layer either touches or not. */
const TILE: i32 = 32;
/** Below this coverage a layer is as good as not there. */
const LEAST: f32 = 1e-5;
/**
 * Discs of neighbouring radii leave gaps of up to a few hundredths where they meet. Behind a surface others are whole, lamps too,
 * so that its coverage is taken for whole from CLOSED on, and goes there from NEARLY on.
 */
const NEARLY: f32 = 0.94;
const CLOSED: f32 = 0.97;
/**
 * The same where the surface is known to be whole: what is in focus has no disc, so that where a slope goes out of focus a
 * quarter and more can be missing.
 */
const WHOLE_NEARLY: f32 = 0.5;
const WHOLE_CLOSED: f32 = 0.65;
let closesGaps: bool = false;

/** Memory of one band at work: differences along x, the composite, its surfaces, and which tiles are touched. */
@unmanaged
class Band {
  plan: Plan;
  from: i32;
  to: i32;
  /** Four floats a pixel, rows of `pitch` pixels with room at both sides. */
  differences: usize;
  pitch: i32;
  composite: usize;
  /** For each surface two floats a pixel: coverage before its present part, and the last layer. */
  surfaces: usize;
  touched: usize;
  wide: usize;
  /** On a coarser grid: the tiles touched by what stands out, which is spread at full size. */
  touchedFine: usize;
  wideFine: usize;
  mip: Mip;
}

/** Room in bytes that {@link scatterBand} needs for a number of rows. */
export function bandBytes(at: usize, rows: i32): i32 {
  const plan = changetype<Plan>(at);
  const tiles = ((plan.width + TILE - 1) / TILE) * ((rows + TILE - 1) / TILE);
  return (
    (plan.width + 2 * plan.margin) * rows * 16 +
    plan.width * rows * (16 + 8 * plan.surfaces) +
    4 * tiles +
    256 +
    mipBytes(plan, rows)
  );
}

/** Computes rows `from` to `to` of the result, with `scratch` for its work, which is zero and is left so. */
export function scatterBand(at: usize, from: i32, to: i32, scratch: usize): void {
  const plan = changetype<Plan>(at);
  const width = plan.width;
  const rows = to - from;
  const band = changetype<Band>(scratch);
  band.plan = plan;
  band.from = from;
  band.to = to;
  band.pitch = width + 2 * plan.margin;
  band.differences = scratch + 128;
  band.composite = band.differences + ((<usize>(band.pitch * rows)) << 4);
  band.surfaces = band.composite + ((<usize>(width * rows)) << 4);
  const pixels = width * rows;
  const states = <usize>(pixels * plan.surfaces);
  band.touched = band.surfaces + (states << 3);
  const tiles = ((width + TILE - 1) / TILE) * ((rows + TILE - 1) / TILE);
  band.wide = band.touched + <usize>tiles;
  band.touchedFine = band.wide + <usize>tiles;
  band.wideFine = band.touchedFine + <usize>tiles;
  band.mip = changetype<Mip>((band.wideFine + <usize>tiles + 15) & ~15);
  const firstSurface = band.surfaces;
  closesGaps = plan.surfaces > 1;
  for (let i = 0; i < <i32>states; i++) setPlane(firstSurface, 2 * i + 1, -1000);
  for (let layer = 0; layer < plan.layers; layer++) {
    band.surfaces = firstSurface;
    for (let surface = plan; changetype<usize>(surface); surface = changetype<Plan>(surface.next)) {
      band.plan = surface;
      layLayer(band, layer);
      band.surfaces += (<usize>pixels) << 3;
    }
  }
  band.plan = plan;
  finish(band);
  // A band of another height lays its memory out differently: what is left behind would be cells to it.
  memory.fill(band.composite, 0, (<usize>pixels) << 4);
  memory.fill(firstSurface, 0, states << 3);
  memory.fill(band.touched, 0, 4 * <usize>tiles);
  memory.fill(changetype<usize>(band.mip), 0, <usize>MIP_BYTES);
}

/** Does one layer of one surface. */
function layLayer(band: Band, layer: i32): void {
  const grid = <i32>load<u8>(band.plan.grids + <usize>layer);
  if (layer === band.plan.focusLayer) layFocused(band, layer);
  else if (grid === 0) {
    const reach = spreadLayer(band, layer);
    if (reach >= 0) layBlurred(band, layer, reach);
  } else layCoarse(band, layer, grid);
}

function startOf(plan: Plan, strip: i32, layer: i32): i32 {
  // After ordering, `starts` has moved on to the end of each run.
  const slot = (<usize>(strip * plan.layers + layer)) << 2;
  return load<i32>(plan.starts + slot) - load<i32>(plan.counts + slot);
}

function endOf(plan: Plan, strip: i32, layer: i32): i32 {
  return load<i32>(plan.starts + ((<usize>(strip * plan.layers + layer)) << 2));
}

function discAt(plan: Plan, number: i32): Disc {
  return changetype<Disc>(load<usize>(plan.discs + ((<usize>number) << 2)));
}

/** Does a layer on a coarser grid, but for what stands out of it. */
function layCoarse(band: Band, layer: i32, grid: i32): void {
  const plan = band.plan;
  const mip = band.mip;
  openMip(mip, plan, grid, band.from, band.to);
  const first = firstStrip(mip);
  const last = lastStrip(mip, plan);
  for (let strip = first; strip <= last; strip++)
    gather(mip, plan, startOf(plan, strip, layer), endOf(plan, strip, layer));
  findBright(mip, plan);
  takeBright(mip, plan);
  const fine = spreadPieces(band, mip.bright, 0, mip.brightCount, -1, band.touchedFine);
  const across = (plan.width + TILE - 1) / TILE;
  const behind = layer > plan.focusLayer ? 1 : 0;
  const reach = spreadCells(mip, plan, behind, band.touched, across, band.from, band.to, TILE);
  layBetweenCells(band, layer, reach, fine);
  clearMip(mip);
}

/** Adds the discs of a layer that reach into the band; gives the largest reach among them, or -1 without any. */
function spreadLayer(band: Band, layer: i32): i32 {
  const plan = band.plan;
  const margin = plan.margin;
  const first = max(0, (band.from - margin) / STRIP);
  const last = min((plan.height - 1) / STRIP, (band.to - 1 + margin) / STRIP);
  let most = -1;
  for (let strip = first; strip <= last; strip++)
    most = spreadPieces(
      band,
      plan.order,
      startOf(plan, strip, layer),
      endOf(plan, strip, layer),
      most,
      band.touched,
    );
  return most;
}

/** Adds the discs of a list of pieces and marks their tiles; gives the largest reach among them and `most`. */
function spreadPieces(band: Band, list: usize, from: i32, end: i32, most: i32, touched: usize): i32 {
  const plan = band.plan;
  const across = (plan.width + TILE - 1) / TILE;
  const margin = plan.margin;
  let lastNumber = -1;
  let disc = changetype<Disc>(0);
  for (let k = from; k < end; k++) {
    const piece = <usize>load<i32>(list + ((<usize>k) << 2));
    const place = load<u32>(plan.place + (piece << 2));
    const x = <i32>(place & 0xffff);
    const y = <i32>(place >> 16);
    const number = discOf(plan, load<f32>(plan.pieceRadius + (piece << 2)), place);
    if (number !== lastNumber) {
      disc = discAt(plan, number);
      lastNumber = number;
    }
    const reach = disc.reach;
    const top = max(-reach, band.from - y);
    const bottom = min(reach, band.to - 1 - y);
    if (top > bottom) continue;
    most = max(most, reach);
    const row = max(0, min(band.to - 1, y) - band.from);
    store<u8>(touched + <usize>((row / TILE) * across + x / TILE), 1);
    const light = v128.load(plan.colour + (piece << 4));
    const base = band.differences + ((<usize>((y - band.from) * band.pitch + x + margin)) << 4);
    addDisc(disc, top, bottom, light, base);
  }
  return most;
}

/** Widens what is touched by the discs' reach, sums the differences there and lays the layer under the composite. */
function layBlurred(band: Band, layer: i32, reach: i32): void {
  const plan = band.plan;
  const width = plan.width;
  const rows = band.to - band.from;
  const across = (width + TILE - 1) / TILE;
  const down = (rows + TILE - 1) / TILE;
  widen(band.touched, band.wide, across, down, reach);
  for (let ty = 0; ty < down; ty++) {
    const line = band.wide + <usize>(ty * across);
    for (let tx = 0, end = 0; tx < across; tx = end) {
      end = endOfRun(line, tx, across);
      if (!load<u8>(line + <usize>tx)) continue;
      const x0 = tx * TILE;
      const x1 = min(width, end * TILE);
      for (let y = ty * TILE; y < min(rows, (ty + 1) * TILE); y++) {
        const sum = takeMargins(band, y, x0, x1, reach);
        const from = band.differences + ((<usize>(y * band.pitch + plan.margin + x0)) << 4);
        layRow(band, y * width + x0, x1 - x0, from, sum, <f32>layer);
      }
    }
  }
}

/** The same for a layer on a coarser grid, whose `reach` is that of its cells; what stood out of it reaches `fine` far. */
function layBetweenCells(band: Band, layer: i32, reach: i32, fine: i32): void {
  const width = band.plan.width;
  const rows = band.to - band.from;
  const across = (width + TILE - 1) / TILE;
  const down = (rows + TILE - 1) / TILE;
  widen(band.touched, band.wide, across, down, reach);
  widen(band.touchedFine, band.wideFine, across, down, fine);
  for (let ty = 0; ty < down; ty++) {
    const line = band.wide + <usize>(ty * across);
    const lineFine = band.wideFine + <usize>(ty * across);
    for (let tx = 0, end = 0; tx < across; tx = end) {
      end = endOfRun(lineFine, tx, across);
      const stoodOut = load<u8>(lineFine + <usize>tx) !== 0;
      if (!stoodOut) end = min(end, endOfRun(line, tx, across));
      if (!stoodOut && !load<u8>(line + <usize>tx)) continue;
      const x0 = tx * TILE;
      const x1 = min(width, end * TILE);
      for (let y = ty * TILE; y < min(rows, (ty + 1) * TILE); y++) {
        const sum = stoodOut ? takeMargins(band, y, x0, x1, fine) : f32x4.splat(0);
        layCoarseRow(band, y, x0, x1, sum, stoodOut, <f32>layer);
      }
    }
  }
}

/** Where the run of equal flags ends that begins at a place. */
function endOfRun(flags: usize, from: i32, count: i32): i32 {
  const flag = load<u8>(flags + <usize>from);
  let end = from + 1;
  while (end < count && load<u8>(flags + <usize>end) === flag) end++;
  return end;
}

/**
 * Clears a row's differences beside the picture, if the run from `x0` to `x1` begins or ends there. What falls left of
 * the picture comes in at its edge; what falls right of it is dropped.
 */
function takeMargins(band: Band, y: i32, x0: i32, x1: i32, reach: i32): v128 {
  const width = band.plan.width;
  const start = band.differences + ((<usize>(y * band.pitch + band.plan.margin)) << 4);
  const beyond = reach + 1;
  let sum = f32x4.splat(0);
  if (x0 === 0) sum = takeMargin(start - ((<usize>beyond) << 4), beyond);
  if (x1 === width) takeMargin(start + ((<usize>width) << 4), beyond);
  return sum;
}

/** Sums and clears a number of differences. */
function takeMargin(from: usize, count: i32): v128 {
  const zero = f32x4.splat(0);
  let sum = zero;
  const end = from + ((<usize>count) << 4);
  while (from < end) {
    sum = f32x4.add(sum, v128.load(from));
    v128.store(from, zero);
    from += 16;
  }
  return sum;
}

/** Spreads flags over the tiles that discs of some reach get to, and clears them. Without any, `reach` is below 0. */
function widen(touched: usize, wide: usize, across: i32, down: i32, reach: i32): void {
  memory.fill(wide, 0, <usize>(across * down));
  if (reach < 0) return;
  const steps = (reach + TILE) / TILE;
  for (let y = 0; y < down; y++) {
    for (let x = 0; x < across; x++) {
      if (!load<u8>(touched + <usize>(y * across + x))) continue;
      const left = max(0, x - steps);
      const right = min(across - 1, x + steps);
      for (let v = max(0, y - steps); v <= min(down - 1, y + steps); v++)
        memory.fill(wide + <usize>(v * across + left), 1, <usize>(right - left + 1));
    }
  }
  memory.fill(touched, 0, <usize>(across * down));
}

function layRow(band: Band, first: i32, count: i32, from: usize, sum: v128, layer: f32): void {
  const zero = f32x4.splat(0);
  const plan = band.plan;
  const closedAt = plan.closedAt ? plan.closedAt + <usize>(band.from * plan.width + first) : 0;
  let composite = band.composite + ((<usize>first) << 4);
  let surface = band.surfaces + ((<usize>first) << 3);
  for (let i = 0; i < count; i++, from += 16, composite += 16, surface += 8) {
    sum = f32x4.add(sum, v128.load(from));
    v128.store(from, zero);
    const alpha = f32x4.extract_lane(sum, 3);
    if (alpha <= LEAST) continue;
    const isWhole = closedAt && <i32>load<u8>(closedAt + <usize>i) === <i32>layer + 1;
    lay(
      composite,
      surface,
      sum,
      alpha,
      layer,
      isWhole ? WHOLE_NEARLY : NEARLY,
      isWhole ? WHOLE_CLOSED : CLOSED,
    );
  }
}

/** The same for a layer on a coarser grid: between its cells, and the differences of what stood out, if any did. */
function layCoarseRow(band: Band, y: i32, x0: i32, x1: i32, sum: v128, stoodOut: bool, layer: f32): void {
  const zero = f32x4.splat(0);
  const mip = band.mip;
  const cell: f32 = 1 / <f32>(1 << mip.level);
  const gy = (<f32>(band.from + y) + 0.5) * cell - 0.5;
  const row = Mathf.floor(gy);
  const down = f32x4.splat(gy - row);
  const upper = mip.differences + ((<usize>((<i32>row - mip.top) * mip.pitch + mip.margin)) << 4);
  const lower = upper + ((<usize>mip.pitch) << 4);
  let from = band.differences + ((<usize>(y * band.pitch + band.plan.margin + x0)) << 4);
  let composite = band.composite + ((<usize>(y * band.plan.width + x0)) << 4);
  let surface = band.surfaces + ((<usize>(y * band.plan.width + x0)) << 3);
  let last = -1000000;
  let left = zero;
  let right = zero;
  for (let x = x0; x < x1; x++, from += 16, composite += 16, surface += 8) {
    if (stoodOut) {
      sum = f32x4.add(sum, v128.load(from));
      v128.store(from, zero);
    }
    if (f32x4.extract_lane(v128.load(composite), 3) >= 1) continue;
    const gx = (<f32>x + 0.5) * cell - 0.5;
    const column = Mathf.floor(gx);
    if (<i32>column !== last) {
      last = <i32>column;
      const at = <usize>(last << 4);
      left = mixed(v128.load(upper + at), v128.load(lower + at), down);
      right = mixed(v128.load(upper + at, 16), v128.load(lower + at, 16), down);
    }
    const light = f32x4.add(sum, mixed(left, right, f32x4.splat(gx - column)));
    const alpha = f32x4.extract_lane(light, 3);
    if (alpha > LEAST) lay(composite, surface, light, alpha, layer);
  }
}

function mixed(a: v128, b: v128, share: v128): v128 {
  return f32x4.add(a, f32x4.mul(f32x4.sub(b, a), share));
}

/** Lays one layer's light at a pixel under what is there. Adjacent layers are one surface and add up. */
function lay(
  composite: usize,
  surface: usize,
  light: v128,
  alpha: f32,
  layer: f32,
  nearly: f32 = NEARLY,
  closed: f32 = CLOSED,
): void {
  const before = v128.load(composite);
  const total = f32x4.extract_lane(before, 3);
  if (total >= 1) return;
  let covered = load<f32>(surface);
  const isNew = layer - load<f32>(surface, 4) > 1.5;
  if (isNew) {
    covered = total;
    store<f32>(surface, total);
  }
  store<f32>(surface, layer, 4);
  let added = min<f32>(alpha * (1 - covered), 1 - total);
  if (added <= 0) return;
  let lift: f32 = 1;
  if (closesGaps) {
    const share = (total - covered + added) / (1 - covered);
    if (share > nearly) {
      const whole = min<f32>(1, nearly + ((share - nearly) * (1 - nearly)) / (closed - nearly));
      // All of the surface is lifted if nothing lies before it, else what is laid now.
      if (covered <= 0) lift = max<f32>(1, whole / share);
      else added = min<f32>(added + (whole - share) * (1 - covered), 1 - total);
    }
  }
  const sum = f32x4.add(before, f32x4.mul(light, f32x4.splat(added / alpha)));
  v128.store(composite, f32x4.mul(sum, f32x4.splat(lift)));
}

/** What is in focus has no disc; a whole pixel that nothing covers keeps its bits. */
function layFocused(band: Band, layer: i32): void {
  const plan = band.plan;
  const first = band.from * plan.width;
  const lastStrip = (band.to - 1) / STRIP;
  for (let strip = band.from / STRIP; strip <= lastStrip; strip++) {
    const end = endOf(plan, strip, layer);
    for (let k = startOf(plan, strip, layer); k < end; k++) {
      const piece = <usize>load<i32>(plan.order + ((<usize>k) << 2));
      const place = load<u32>(plan.place + (piece << 2));
      const y = <i32>(place >> 16);
      if (band.from > y || y >= band.to) continue;
      const i = y * plan.width + <i32>(place & 0xffff) - first;
      const light = v128.load(plan.colour + (piece << 4));
      const alpha = f32x4.extract_lane(light, 3);
      const composite = band.composite + ((<usize>i) << 4);
      if (alpha === 1 && f32x4.extract_lane(v128.load(composite), 3) === 0) {
        v128.store(composite, light);
        setPlane(band.surfaces, 2 * i + 1, <f32>layer);
      } else if (alpha > LEAST) lay(composite, band.surfaces + ((<usize>i) << 3), light, alpha, <f32>layer);
    }
  }
}

function finish(band: Band): void {
  const plan = band.plan;
  const first = band.from * plan.width;
  const count = (band.to - band.from) * plan.width;
  for (let i = 0; i < count; i++) {
    let light = v128.load(band.composite + ((<usize>i) << 4));
    const total = f32x4.extract_lane(light, 3);
    if (plan.fill && total < 1 && total > LEAST) light = f32x4.div(light, f32x4.splat(total));
    setPlane(plan.red, first + i, f32x4.extract_lane(light, 0));
    setPlane(plan.green, first + i, f32x4.extract_lane(light, 1));
    setPlane(plan.blue, first + i, f32x4.extract_lane(light, 2));
  }
}
