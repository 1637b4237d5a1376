/**
 * Large discs on coarser grids: a layer whose discs are wide is gathered into cells of 2, 4 or 8 pixels, spread there,
 * and laid under the composite between cells. Pixels that stand out from their surroundings are spread at full size.
 */
import { addDisc, Disc } from './disc';
import { Plan, STRIP } from './plan';

/** A piece this much brighter than what surrounds it stands out. */
const STANDS_OUT: f32 = 1.5;
/** This share of what is bright is the least that can stand out. */
const BRIGHT: f32 = 0.5;

/** One layer of one band on a coarser grid; places of memory, and the cells in it that are filled. */
@unmanaged
export class Mip {
  level: i32;
  /** Cells across and down the whole picture. */
  width: i32;
  height: i32;
  /** Rows of cells gathered: from `first` on, `count` of them. */
  first: i32;
  count: i32;
  light: usize;
  /** Sum of radii and number of pieces, two floats a cell. */
  radii: usize;
  /** Rows of cells that the band's pixels lie between. */
  top: i32;
  rows: i32;
  differences: usize;
  pitch: i32;
  margin: i32;
  /** Numbers of pieces that stand out. */
  bright: usize;
  brightCount: i32;
}

export const MIP_BYTES: i32 = 64;

/** Rows of cells that a band gathers, at most. */
function gatheredRows(plan: Plan, rows: i32, level: i32): i32 {
  return ((rows + 2 * plan.margin) >> level) + 24;
}

/** Bytes that the coarser grids of a band need. */
export function mipBytes(plan: Plan, rows: i32): i32 {
  if (!plan.coarsest) return MIP_BYTES;
  const width = (plan.width + 1) >> 1;
  const gathered = gatheredRows(plan, rows, 1);
  const pitch = width + 2 * marginAt(plan, 1);
  return (
    MIP_BYTES +
    width * gathered * 24 +
    pitch * ((rows >> 1) + 2) * 16 +
    (rows + 2 * plan.margin + 160) * plan.width * 8
  );
}

export function marginAt(plan: Plan, level: i32): i32 {
  return load<i32>(plan.margins + ((<usize>level) << 2));
}

/** Lays out memory for a level; all of it is zero, and is left so by {@link clearMip}. */
export function openMip(mip: Mip, plan: Plan, level: i32, from: i32, to: i32): void {
  mip.level = level;
  mip.width = (plan.width + (1 << level) - 1) >> level;
  mip.height = (plan.height + (1 << level) - 1) >> level;
  mip.margin = marginAt(plan, level);
  mip.pitch = mip.width + 2 * mip.margin;
  mip.top = (from >> level) - 1;
  mip.rows = ((to - from + (1 << level) - 1) >> level) + 2;
  // Cells whose discs reach the band, and one more round them to compare with.
  mip.first = max(0, mip.top - mip.margin - 1);
  mip.count = min(mip.height, mip.top + mip.rows + mip.margin + 1) - mip.first;
  mip.light = changetype<usize>(mip) + <usize>MIP_BYTES;
  mip.radii = mip.light + ((<usize>(mip.width * mip.count)) << 4);
  mip.differences = mip.radii + ((<usize>(mip.width * mip.count)) << 3);
  mip.bright = mip.differences + ((<usize>(mip.pitch * mip.rows)) << 4);
  mip.brightCount = 0;
}

export function firstStrip(mip: Mip): i32 {
  return (mip.first << mip.level) / STRIP;
}

export function lastStrip(mip: Mip, plan: Plan): i32 {
  return min((plan.height - 1) / STRIP, ((mip.first + mip.count) << mip.level) / STRIP);
}

/** The cell of a place, or -1 outside the rows that are gathered. */
function cellOf(mip: Mip, place: u32): i32 {
  const y = ((<i32>(place >> 16)) >> mip.level) - mip.first;
  if (y < 0) return -1;
  if (y >= mip.count) return -1;
  return y * mip.width + ((<i32>(place & 0xffff)) >> mip.level);
}

/** Adds pieces `from` to `to` of the order to their cells, and lists the bright ones. */
export function gather(mip: Mip, plan: Plan, from: i32, to: i32): void {
  const least = BRIGHT * plan.white;
  for (let k = from; k < to; k++) {
    const piece = <usize>load<i32>(plan.order + ((<usize>k) << 2));
    const cell = cellOf(mip, load<u32>(plan.place + (piece << 2)));
    if (cell < 0) continue;
    const at = mip.light + ((<usize>cell) << 4);
    const light = v128.load(plan.colour + (piece << 4));
    v128.store(at, f32x4.add(v128.load(at), light));
    if (brightest(light) > least) listBright(mip, <i32>piece);
    const radii = mip.radii + ((<usize>cell) << 3);
    store<f32>(radii, load<f32>(radii) + abs(load<f32>(plan.pieceRadius + (piece << 2))));
    store<f32>(radii, load<f32>(radii, 4) + 1, 4);
  }
}

function brightest(light: v128): f32 {
  return max(f32x4.extract_lane(light, 0), max(f32x4.extract_lane(light, 1), f32x4.extract_lane(light, 2)));
}

function listBright(mip: Mip, piece: i32): void {
  store<i32>(mip.bright + ((<usize>mip.brightCount) << 2), piece);
  mip.brightCount += 1;
}

/** The cells about a cell and itself: the sum of what is brightest in each, and how many they are. */
let surroundingLight: f32 = 0;
let surroundingCells: f32 = 0;

function surround(mip: Mip, cell: i32): void {
  const x = cell % mip.width;
  const y = cell / mip.width;
  surroundingLight = 0;
  surroundingCells = 0;
  for (let v = max(0, y - 1); v <= min(mip.count - 1, y + 1); v++) {
    for (let u = max(0, x - 1); u <= min(mip.width - 1, x + 1); u++) {
      surroundingLight += brightest(v128.load(mip.light + ((<usize>(v * mip.width + u)) << 4)));
      surroundingCells += 1;
    }
  }
}

/** Keeps those of the listed pieces that stand out from the cells about them. */
export function findBright(mip: Mip, plan: Plan): void {
  const far: f32 = 50 * (BRIGHT * plan.white);
  const area = <f32>(1 << (2 * mip.level));
  let last = -1;
  const count = mip.brightCount;
  mip.brightCount = 0;
  for (let k = 0; k < count; k++) {
    const piece = load<i32>(mip.bright + ((<usize>k) << 2));
    const own = brightest(v128.load(plan.colour + ((<usize>piece) << 4)));
    const cell = cellOf(mip, load<u32>(plan.place + ((<usize>piece) << 2)));
    if (cell !== last) {
      last = cell;
      surround(mip, cell);
    }
    const pixels = surroundingCells * area;
    const sum = surroundingLight;
    if (own * pixels <= STANDS_OUT * sum && own <= far) continue;
    listBright(mip, piece);
  }
  memory.fill(mip.bright + ((<usize>mip.brightCount) << 2), 0, (<usize>(count - mip.brightCount)) << 2);
}

/** Takes what stands out from the cells again. */
export function takeBright(mip: Mip, plan: Plan): void {
  for (let k = 0; k < mip.brightCount; k++) {
    const piece = <usize>load<i32>(mip.bright + ((<usize>k) << 2));
    const cell = cellOf(mip, load<u32>(plan.place + (piece << 2)));
    const at = mip.light + ((<usize>cell) << 4);
    v128.store(at, f32x4.sub(v128.load(at), v128.load(plan.colour + (piece << 4))));
  }
}

/** Spreads the cells over their discs and sums the differences; gives the largest reach in pixels, or -1. */
export function spreadCells(
  mip: Mip,
  plan: Plan,
  behind: i32,
  touched: usize,
  across: i32,
  from: i32,
  to: i32,
  tile: i32,
): i32 {
  const level = mip.level;
  const share = f32x4.splat(1 / <f32>(1 << (2 * level)));
  const shrink: f32 = 16 / <f32>(1 << level);
  const table = plan.discs + ((<usize>((level * 2 + behind) * plan.steps)) << 2);
  let most = -1;
  for (let y = 0; y < mip.count; y++) {
    for (let x = 0; x < mip.width; x++) {
      const cell = y * mip.width + x;
      const pieces = load<f32>(mip.radii + ((<usize>cell) << 3), 4);
      if (pieces === 0) continue;
      const radius = load<f32>(mip.radii + ((<usize>cell) << 3)) / pieces;
      const step = <usize>load<u16>(plan.stepOf + ((<usize>(radius * shrink)) << 1));
      const disc = changetype<Disc>(load<usize>(table + (step << 2)));
      const reach = disc.reach;
      const row = mip.first + y - mip.top;
      const top = max(-reach, -row);
      const bottom = min(reach, mip.rows - 1 - row);
      if (top > bottom) continue;
      most = max(most, reach);
      const py = max(0, min(to - 1, (mip.first + y) << level) - from);
      store<u8>(touched + <usize>((py / tile) * across + (x << level) / tile), 1);
      const light = f32x4.mul(v128.load(mip.light + ((<usize>cell) << 4)), share);
      const base = mip.differences + ((<usize>(row * mip.pitch + x + mip.margin)) << 4);
      addDisc(disc, top, bottom, light, base);
    }
  }
  for (let row = 0; row < mip.rows; row++) {
    let sum = f32x4.splat(0);
    let at = mip.differences + ((<usize>(row * mip.pitch)) << 4);
    for (let x = 0; x < mip.pitch; x++, at += 16) {
      sum = f32x4.add(sum, v128.load(at));
      v128.store(at, sum);
    }
  }
  return most < 0 ? -1 : (most + 2) << level;
}

/** Clears what was written, the list of pieces that stand out included: the next level's cells may lie there. */
export function clearMip(mip: Mip): void {
  memory.fill(mip.light, 0, mip.bright - mip.light + ((<usize>mip.brightCount) << 2));
}
