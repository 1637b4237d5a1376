/** Scene light to bytes of the screen. */
import { toneAt } from '../../grade/assembly/table';
import { Plan } from './plan';

/** Where memory is free for the caller. */
export function firstFree(): usize {
  return __heap_base;
}

/** Steps of the tables over the display's 0 to 1. */
const STEPS: f32 = 16383;
/** Light is taken as no brighter, so that sums and powers stay finite. */
const MOST: f32 = 1e20;
const OPAQUE: u32 = 0xff000000;

/** `count` pixels through cross-talk, curve, inverse cross-talk, so that only compressed highlights lose saturation. */
export function showCurve(address: usize, count: i32): void {
  const plan = changetype<Plan>(address);
  const spread: f32 = <f32>1.5 * plan.crosstalk;
  const lent = f32x4.splat((spread * plan.gain) / 3);
  const own = f32x4.splat(plan.gain * (1 - spread));
  const inverse = f32x4.splat(1 / (1 - spread));
  const back = f32x4.splat((1 - 1 / (1 - spread)) / 3);
  const half = f32x4.splat(plan.halfPower);
  // Planes and pixels have room for four more.
  for (let i = 0; i < count; i += 4) {
    const offset = (<usize>i) << 2;
    const r = finite(v128.load(plan.red + offset));
    const g = finite(v128.load(plan.green + offset));
    const b = finite(v128.load(plan.blue + offset));
    const all = f32x4.mul(lent, f32x4.add(f32x4.add(r, g), b));
    let x = positive(f32x4.add(f32x4.mul(own, r), all));
    let y = positive(f32x4.add(f32x4.mul(own, g), all));
    let z = positive(f32x4.add(f32x4.mul(own, b), all));
    if (plan.isFilmic) {
      x = respond(x, half);
      y = respond(y, half);
      z = respond(z, half);
    } else {
      x = f32x4.pmin(x, f32x4.splat(1));
      y = f32x4.pmin(y, f32x4.splat(1));
      z = f32x4.pmin(z, f32x4.splat(1));
    }
    const mean = f32x4.mul(back, f32x4.add(f32x4.add(x, y), z));
    const red = stepOf(f32x4.add(f32x4.mul(inverse, x), mean));
    const green = stepOf(f32x4.add(f32x4.mul(inverse, y), mean));
    const blue = stepOf(f32x4.add(f32x4.mul(inverse, z), mean));
    store<u32>(
      plan.pixels + offset,
      packed(plan, i32x4.extract_lane(red, 0), i32x4.extract_lane(green, 0), i32x4.extract_lane(blue, 0)),
    );
    store<u32>(
      plan.pixels + offset,
      packed(plan, i32x4.extract_lane(red, 1), i32x4.extract_lane(green, 1), i32x4.extract_lane(blue, 1)),
      4,
    );
    store<u32>(
      plan.pixels + offset,
      packed(plan, i32x4.extract_lane(red, 2), i32x4.extract_lane(green, 2), i32x4.extract_lane(blue, 2)),
      8,
    );
    store<u32>(
      plan.pixels + offset,
      packed(plan, i32x4.extract_lane(red, 3), i32x4.extract_lane(green, 3), i32x4.extract_lane(blue, 3)),
      12,
    );
  }
}

/** What is no number stays none, and is black in the end. */
function finite(light: v128): v128 {
  return f32x4.pmax(f32x4.pmin(light, f32x4.splat(MOST)), f32x4.splat(-MOST));
}

function positive(light: v128): v128 {
  return f32x4.pmin(f32x4.pmax(f32x4.splat(0), light), f32x4.splat(MOST));
}

/** The filmic curve (see color/view.ts), whose power is 1.25: light times its fourth root. */
function respond(light: v128, half: v128): v128 {
  const power = f32x4.mul(light, f32x4.sqrt(f32x4.sqrt(light)));
  return f32x4.div(power, f32x4.add(power, half));
}

/** Display values as steps of the tables. */
function stepOf(display: v128): v128 {
  const within = f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), display));
  return wholeOf(f32x4.mul(within, f32x4.splat(STEPS)));
}

/** Values from 0 to STEPS, rounded: beside 2^23 a float has no room for fractions, and its lower bits are the whole number. */
function wholeOf(values: v128): v128 {
  return v128.and(f32x4.add(values, f32x4.splat(8388608)), i32x4.splat(16383));
}

function packed(plan: Plan, red: i32, green: i32, blue: i32): u32 {
  const bytes = plan.encoded;
  return (
    OPAQUE |
    ((<u32>load<u8>(bytes + <usize>blue)) << 16) |
    ((<u32>load<u8>(bytes + <usize>green)) << 8) |
    (<u32>load<u8>(bytes + <usize>red))
  );
}

/** `count` pixels through a look-up table. `scratch` has room for a vector. */
export function showTable(address: usize, count: i32, scratch: usize): void {
  const plan = changetype<Plan>(address);
  const strength = f32x4.splat(plan.strength);
  for (let i = 0; i < count; i++) {
    const offset = (<usize>i) << 2;
    const light = finite(
      f32x4.mul(
        f32x4.splat(plan.gain),
        lanesOf(load<f32>(plan.red + offset), load<f32>(plan.green + offset), load<f32>(plan.blue + offset)),
      ),
    );
    let value = plan.matrix ? throughMatrix(plan.matrix, light) : light;
    value = encodedForTable(plan, value, scratch);
    // As a share of the domain.
    value = f32x4.mul(f32x4.sub(value, v128.load(plan.domain)), v128.load(plan.domain, 16));
    if (plan.shaper) value = throughShaper(plan, value, scratch);
    if (plan.cube) value = throughCube(plan, value);
    value = f32x4.mul(strength, value);
    if (plan.strength < 1) value = f32x4.add(value, plainShare(plan, light));
    const within = f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), value));
    const bytes = wholeOf(f32x4.mul(within, f32x4.splat(255)));
    store<u32>(
      plan.pixels + offset,
      OPAQUE |
        (i32x4.extract_lane(bytes, 2) << 16) |
        (i32x4.extract_lane(bytes, 1) << 8) |
        i32x4.extract_lane(bytes, 0),
    );
  }
}

function lanesOf(x: f32, y: f32, z: f32): v128 {
  return f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(x), 1, y), 2, z);
}

/** Three columns of four floats. */
function throughMatrix(columns: usize, light: v128): v128 {
  const red = f32x4.mul(f32x4.splat(f32x4.extract_lane(light, 0)), v128.load(columns));
  const green = f32x4.mul(f32x4.splat(f32x4.extract_lane(light, 1)), v128.load(columns, 16));
  const blue = f32x4.mul(f32x4.splat(f32x4.extract_lane(light, 2)), v128.load(columns, 32));
  return f32x4.add(f32x4.add(red, green), blue);
}

/** Light as the table has it: a straight line, and a curve behind its end. */
function encodedForTable(plan: Plan, light: v128, scratch: usize): v128 {
  const value = f32x4.pmax(f32x4.splat(plan.floor), light);
  const line = f32x4.add(f32x4.mul(f32x4.splat(plan.lineSlope), value), f32x4.splat(plan.lineStart));
  v128.store(scratch, value);
  const x = load<f32>(scratch);
  const y = load<f32>(scratch, 4);
  const z = load<f32>(scratch, 8);
  const end = plan.lineEnd;
  if (x <= end && y <= end && z <= end) return line;
  return lanesOf(
    x <= end ? f32x4.extract_lane(line, 0) : toneAt(plan.curve, x),
    y <= end ? f32x4.extract_lane(line, 1) : toneAt(plan.curve, y),
    z <= end ? f32x4.extract_lane(line, 2) : toneAt(plan.curve, z),
  );
}

/** Channels through their curves of `shaperSize` points. */
function throughShaper(plan: Plan, share: v128, scratch: usize): v128 {
  const place = placesIn(plan.shaperSize, share);
  const below = i32x4.min_s(i32x4.trunc_sat_f32x4_s(place), i32x4.splat(plan.shaperSize - 2));
  v128.store(scratch, f32x4.sub(place, f32x4.convert_i32x4_s(below)));
  return lanesOf(
    between(plan.shaper + <usize>(12 * i32x4.extract_lane(below, 0)), load<f32>(scratch)),
    between(plan.shaper + <usize>(12 * i32x4.extract_lane(below, 1)) + 4, load<f32>(scratch, 4)),
    between(plan.shaper + <usize>(12 * i32x4.extract_lane(below, 2)) + 8, load<f32>(scratch, 8)),
  );
}

function between(at: usize, share: f32): f32 {
  const low = load<f32>(at);
  return low + share * (load<f32>(at, 12) - low);
}

/** Places among so many points that stand for 0 to 1. */
function placesIn(size: i32, share: v128): v128 {
  const last = f32x4.splat(<f32>(size - 1));
  return f32x4.pmin(last, f32x4.pmax(f32x4.splat(0), f32x4.mul(share, last)));
}

/**
 * A grid's colour at three values: in the one of the six tetrahedra that a cell falls into by the order of the three
 * fractions (Kasson, Plouffe & Nin 1993).
 */
function throughCube(plan: Plan, value: v128): v128 {
  const size = plan.cubeSize;
  const share = f32x4.mul(f32x4.sub(value, f32x4.splat(plan.cubeStart)), f32x4.splat(plan.cubeScale));
  const place = placesIn(size, share);
  const cell = i32x4.min_s(i32x4.trunc_sat_f32x4_s(place), i32x4.splat(size - 2));
  const fraction = f32x4.sub(place, f32x4.convert_i32x4_s(cell));
  const stepX: usize = 12;
  const stepY = <usize>(12 * size);
  const stepZ = <usize>(12 * size * size);
  const first =
    plan.cube +
    <usize>i32x4.extract_lane(cell, 0) * stepX +
    <usize>i32x4.extract_lane(cell, 1) * stepY +
    <usize>i32x4.extract_lane(cell, 2) * stepZ;
  const x = f32x4.extract_lane(fraction, 0);
  const y = f32x4.extract_lane(fraction, 1);
  const z = f32x4.extract_lane(fraction, 2);
  // Through the cell along its sides, from the largest fraction to the smallest.
  const isXOverY = x >= y;
  const isYOverZ = y >= z;
  const isXOverZ = x >= z;
  const isXFirst = isXOverY && isXOverZ;
  const isYFirst = !isXOverY && isYOverZ;
  const isXLast = !isXOverY && !isXOverZ;
  const isYLast = isXOverY && !isYOverZ;
  const high = isXFirst ? x : isYFirst ? y : z;
  const low = isXLast ? x : isYLast ? y : z;
  const middle: f32 = x + y + z - high - low;
  const second = first + (isXFirst ? stepX : isYFirst ? stepY : stepZ);
  const fourth = first + stepX + stepY + stepZ;
  const third = fourth - (isXLast ? stepX : isYLast ? stepY : stepZ);
  const upper = f32x4.add(
    f32x4.mul(f32x4.splat(1 - high), v128.load(first)),
    f32x4.mul(f32x4.splat(high - middle), v128.load(second)),
  );
  const lower = f32x4.add(
    f32x4.mul(f32x4.splat(middle - low), v128.load(third)),
    f32x4.mul(f32x4.splat(low), v128.load(fourth)),
  );
  return f32x4.add(upper, lower);
}

/** The share of plain sRGB beside the table. */
function plainShare(plan: Plan, light: v128): v128 {
  const step = stepOf(light);
  const plain = lanesOf(
    load<f32>(plan.plain + ((<usize>i32x4.extract_lane(step, 0)) << 2)),
    load<f32>(plan.plain + ((<usize>i32x4.extract_lane(step, 1)) << 2)),
    load<f32>(plan.plain + ((<usize>i32x4.extract_lane(step, 2)) << 2)),
  );
  return f32x4.mul(f32x4.splat(1 - plan.strength), plain);
}
