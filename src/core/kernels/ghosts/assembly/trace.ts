/** Rays through a lens, four at a time. */
import { AffineCrossing, AffineHead, Leg, NODE, Plan, TABLE } from './plan';

const one = f32x4.splat(1);

/** A ray that does not come through says so by this. */
const LOST: f32 = 1e9;

/** What is read from a table at four cosines. */
function lookUp(table: usize, cosines: v128): v128 {
  const place = f32x4.mul(f32x4.min(cosines, one), f32x4.splat(<f32>TABLE));
  const below = i32x4.min_s(i32x4.trunc_sat_f32x4_s(place), i32x4.splat(TABLE - 1));
  const share = f32x4.sub(place, f32x4.convert_i32x4_s(below));
  const at = i32x4.shl(below, 2);
  const a = table + <usize>i32x4.extract_lane(at, 0);
  const b = table + <usize>i32x4.extract_lane(at, 1);
  const c = table + <usize>i32x4.extract_lane(at, 2);
  const d = table + <usize>i32x4.extract_lane(at, 3);
  const low = f32x4(load<f32>(a), load<f32>(b), load<f32>(c), load<f32>(d));
  const high = f32x4(load<f32>(a, 4), load<f32>(b, 4), load<f32>(c, 4), load<f32>(d, 4));
  return f32x4.add(low, f32x4.mul(share, f32x4.sub(high, low)));
}

/** Stores four rays: a quantity a vector becomes a ray a vector. */
function storeFour(a: v128, b: v128, c: v128, d: v128, to: usize, count: i32): void {
  const lowAb = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const highAb = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const lowCd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const highCd = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(lowAb, lowCd, 0, 1, 4, 5));
  if (count > 1) v128.store(to + NODE, v128.shuffle<f32>(lowAb, lowCd, 2, 3, 6, 7));
  if (count > 2) v128.store(to + 2 * NODE, v128.shuffle<f32>(highAb, highCd, 0, 1, 4, 5));
  if (count > 3) v128.store(to + 3 * NODE, v128.shuffle<f32>(highAb, highCd, 2, 3, 6, 7));
}

/** Where four rays crossed the stop so far, in semi-apertures, and how often. */
let crossings: i32 = 0;
let stop0x: v128 = f32x4.splat(0);
let stop0y: v128 = f32x4.splat(0);
let stop1x: v128 = f32x4.splat(0);
let stop1y: v128 = f32x4.splat(0);
let stop2x: v128 = f32x4.splat(0);
let stop2y: v128 = f32x4.splat(0);

function clearCrossings(): void {
  crossings = 0;
  stop0x = stop0y = stop1x = stop1y = stop2x = stop2y = f32x4.splat(0);
}

function addCrossing(u: v128, v: v128): void {
  if (crossings === 0) {
    stop0x = u;
    stop0y = v;
  } else if (crossings === 1) {
    stop1x = u;
    stop1y = v;
  } else {
    stop2x = u;
    stop2y = v;
  }
  crossings++;
}

/** Values of rays that are not lost, and 0. */
function kept(values: v128, lost: v128): v128 {
  return v128.andnot(values, lost);
}

/**
 * Follows four rays through all legs by Snell's law (Spencer & Murty 1962) and stores up to `count` of them. Edges end none:
 * how far out a ray is in the tightest aperture, squared, is stored, and where it crosses the stop.
 */
function traceFour(plan: Plan, legs: usize, startX: v128, startY: v128, to: usize, count: i32): void {
  let x = startX;
  let y = startY;
  let z = f32x4.splat(0);
  let dx = f32x4.splat(plan.directionX);
  let dy = f32x4.splat(plan.directionY);
  let dz = f32x4.splat(plan.directionZ);
  let weight = one;
  let edge = f32x4.splat(0);
  let lost = f32x4.splat(0);
  clearCrossings();
  const none = f32x4.splat(0);
  for (let k = 0; k < plan.legCount; k++) {
    const leg = changetype<Leg>(legs + <usize>k * offsetof<Leg>());
    const curvature = f32x4.splat(leg.curvature);
    const way = f32x4.splat(leg.way);
    z = f32x4.sub(z, f32x4.splat(leg.gap));
    const square = f32x4.add(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)), f32x4.mul(z, z));
    const along = f32x4.add(f32x4.add(f32x4.mul(x, dx), f32x4.mul(y, dy)), f32x4.mul(z, dz));
    const f = f32x4.sub(f32x4.mul(curvature, square), f32x4.add(z, z));
    const g = f32x4.sub(dz, f32x4.mul(curvature, along));
    const inside = f32x4.sub(f32x4.mul(g, g), f32x4.mul(curvature, f));
    lost = v128.or(lost, f32x4.le(inside, none));
    const cosine = f32x4.sqrt(f32x4.max(inside, none));
    const distance = f32x4.div(f, f32x4.add(g, f32x4.mul(way, cosine)));
    x = f32x4.add(x, f32x4.mul(distance, dx));
    y = f32x4.add(y, f32x4.mul(distance, dy));
    z = f32x4.add(z, f32x4.mul(distance, dz));
    const rim = f32x4.splat(leg.rim);
    const u = f32x4.mul(x, rim);
    const v = f32x4.mul(y, rim);
    if (leg.stop > 0) {
      addCrossing(u, v);
    } else {
      edge = f32x4.max(edge, f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v)));
    }
    if (leg.table) weight = f32x4.mul(weight, lookUp(leg.table, cosine));
    const nx = f32x4.neg(f32x4.mul(curvature, x));
    const ny = f32x4.neg(f32x4.mul(curvature, y));
    const nz = f32x4.sub(one, f32x4.mul(curvature, z));
    let turn: v128;
    if (leg.ratio === 0) {
      turn = f32x4.mul(f32x4.mul(f32x4.splat(-2), way), cosine);
    } else {
      const ratio = f32x4.splat(leg.ratio);
      const sine = f32x4.mul(f32x4.mul(ratio, ratio), f32x4.sub(one, f32x4.mul(cosine, cosine)));
      const behind = f32x4.sub(one, sine);
      lost = v128.or(lost, f32x4.le(behind, none));
      const through = f32x4.sqrt(f32x4.max(behind, none));
      turn = f32x4.mul(way, f32x4.sub(through, f32x4.mul(ratio, cosine)));
      dx = f32x4.mul(dx, ratio);
      dy = f32x4.mul(dy, ratio);
      dz = f32x4.mul(dz, ratio);
    }
    dx = f32x4.add(dx, f32x4.mul(turn, nx));
    dy = f32x4.add(dy, f32x4.mul(turn, ny));
    dz = f32x4.add(dz, f32x4.mul(turn, nz));
    if (v128.any_true(v128.not(lost)) === 0) break;
  }
  // The last gap leads to the sensor, and its picture is turned upright.
  const last = changetype<Leg>(legs + <usize>plan.legCount * offsetof<Leg>());
  z = f32x4.sub(z, f32x4.splat(last.gap));
  const distance = f32x4.div(z, dz);
  const placeX = f32x4.sub(f32x4.mul(distance, dx), x);
  const placeY = f32x4.sub(f32x4.mul(distance, dy), y);
  const wild = v128.or(
    f32x4.gt(f32x4.abs(placeX), f32x4.splat(1e6)),
    f32x4.gt(f32x4.abs(placeY), f32x4.splat(1e6)),
  );
  lost = v128.or(lost, v128.or(wild, v128.or(f32x4.ne(placeX, placeX), f32x4.ne(placeY, placeY))));
  edge = v128.bitselect(f32x4.splat(LOST), edge, lost);
  // What a lost ray came to is no number at times, which would spread to its neighbours even with no weight.
  storeFour(kept(placeX, lost), kept(placeY, lost), kept(weight, lost), edge, to, count);
  storeFour(kept(stop0x, lost), kept(stop0y, lost), kept(stop1x, lost), kept(stop1y, lost), to + 16, count);
  storeFour(kept(stop2x, lost), kept(stop2y, lost), none, none, to + 32, count);
}

/** The same for rays near the axis, where every place is an affine image of the start. */
function affineFour(plan: Plan, legs: usize, startX: v128, startY: v128, to: usize, count: i32): void {
  const head = changetype<AffineHead>(legs);
  const scale = f32x4.splat(head.scale);
  const placeX = f32x4.add(f32x4.mul(scale, startX), f32x4.splat(head.offsetX));
  const placeY = f32x4.add(f32x4.mul(scale, startY), f32x4.splat(head.offsetY));
  let edge = f32x4.splat(0);
  clearCrossings();
  for (let k = 0; k < plan.legCount; k++) {
    const crossing = changetype<AffineCrossing>(
      legs + offsetof<AffineHead>() + <usize>k * offsetof<AffineCrossing>(),
    );
    const times = f32x4.splat(crossing.scale);
    const u = f32x4.add(f32x4.mul(times, startX), f32x4.splat(crossing.offsetX));
    const v = f32x4.add(f32x4.mul(times, startY), f32x4.splat(crossing.offsetY));
    if (crossing.stop > 0) {
      addCrossing(u, v);
    } else {
      edge = f32x4.max(edge, f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v)));
    }
  }
  const none = f32x4.splat(0);
  storeFour(placeX, placeY, f32x4.splat(head.weight), edge, to, count);
  storeFour(stop0x, stop0y, stop1x, stop1y, to + 16, count);
  storeFour(stop2x, stop2y, none, none, to + 32, count);
}

/** Bytes of a wavelength's legs: those of all its meetings, and of what comes behind or before them. */
export function legBytes(plan: Plan): usize {
  if (plan.affine) return offsetof<AffineHead>() + <usize>plan.legCount * offsetof<AffineCrossing>();
  return <usize>(plan.legCount + 1) * offsetof<Leg>();
}

/** Traces the rays of a square grid over the start rectangle, row by row, for one wavelength. */
export function traceGrid(plan: Plan, wavelength: i32, to: usize): void {
  const nodes = plan.nodes;
  const legs = plan.legs + <usize>wavelength * legBytes(plan);
  const stepX: f32 = (2 * plan.halfX) / <f32>(nodes - 1);
  const stepY: f32 = (2 * plan.halfY) / <f32>(nodes - 1);
  const lanes = f32x4(0, 1, 2, 3);
  for (let row = 0; row < nodes; row++) {
    const y = f32x4.splat(plan.middleY - plan.halfY + <f32>row * stepY);
    for (let column = 0; column < nodes; column += 4) {
      const at = f32x4.add(f32x4.splat(<f32>column), lanes);
      const x = f32x4.add(f32x4.splat(plan.middleX - plan.halfX), f32x4.mul(at, f32x4.splat(stepX)));
      const target = to + <usize>(row * nodes + column) * NODE;
      const count = min(4, nodes - column);
      if (plan.affine) affineFour(plan, legs, x, y, target, count);
      else traceFour(plan, legs, x, y, target, count);
    }
  }
}

/** How many times the legs cross the stop. */
export function stopCrossings(plan: Plan): i32 {
  let count = 0;
  for (let k = 0; k < plan.legCount; k++) {
    const stop = plan.affine
      ? changetype<AffineCrossing>(plan.legs + offsetof<AffineHead>() + <usize>k * offsetof<AffineCrossing>())
          .stop
      : changetype<Leg>(plan.legs + <usize>k * offsetof<Leg>()).stop;
    if (stop > 0) count++;
  }
  return count;
}
