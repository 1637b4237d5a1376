/** Grading of scene light pixel by pixel, and sharpening, on memory that all threads share. */
import { COLOUR, GRAIN, HUES, MATRIX, Plan, Step, TONE } from './plan';
import { levelAt, TABLE_BYTES, toneAt } from './table';
import { exp2Of, exp2Of4, log2Of4 } from './logarithms';

export { noiseRows, filterRows } from './noise';

/** Where memory is free for the caller. */
export function firstFree(): usize {
  return __heap_base;
}

/** Shares of linear Rec.709 in luminance (ITU-R BT.709-6). */
const RED: f32 = 0.2126;
const GREEN: f32 = 0.7152;
const BLUE: f32 = 0.0722;
/** Pixels that go through all steps before the next ones do, so that they stay in the nearest cache. */
const CHUNK: i32 = 1024;

/**
 * All steps on rows `from` to `to`. Pixels are taken by fours: what lies before the first row is a multiple of them, and planes
 * have room for a vector more.
 */
export function gradeRows(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  const end = to * plan.width;
  for (let first = from * plan.width; first < end; first += CHUNK) {
    const last = min(end, first + CHUNK);
    for (let k = 0; k < plan.stepCount; k++) {
      const step = changetype<Step>(plan.steps + <usize>k * offsetof<Step>());
      if (step.kind === MATRIX) applyMatrix(plan, step, first, last);
      else if (step.kind === TONE) applyTone(plan, step, first, last);
      else if (step.kind === COLOUR) {
        if (step.table) applyHues(plan, step, first, last);
        else applySaturation(plan, step, first, last);
      } else if (step.kind === GRAIN) applyGrain(plan, step, first, last);
    }
  }
}

/** What a step makes of four values, by its mask. */
function held(step: Step, offset: usize, before: v128, after: v128): v128 {
  if (!step.mask) return after;
  const share = v128.load(step.mask + offset);
  const mixed = f32x4.add(before, f32x4.mul(share, f32x4.sub(after, before)));
  return v128.bitselect(after, mixed, f32x4.eq(share, f32x4.splat(1)));
}

function shareOf(step: Step, offset: usize): f32 {
  return step.mask ? load<f32>(step.mask + offset) : 1;
}

function applyMatrix(plan: Plan, step: Step, first: i32, last: i32): void {
  for (let i = first; i < last; i += 4) {
    const offset = (<usize>i) << 2;
    const r = v128.load(plan.red + offset);
    const g = v128.load(plan.green + offset);
    const b = v128.load(plan.blue + offset);
    v128.store(plan.red + offset, held(step, offset, r, rowOf(step.table, r, g, b)));
    v128.store(plan.green + offset, held(step, offset, g, rowOf(step.table + 16, r, g, b)));
    v128.store(plan.blue + offset, held(step, offset, b, rowOf(step.table + 32, r, g, b)));
  }
}

function rowOf(row: usize, r: v128, g: v128, b: v128): v128 {
  const colour = f32x4.add(f32x4.mul(v128.load32_splat(row), r), f32x4.mul(v128.load32_splat(row, 4), g));
  return f32x4.add(f32x4.add(colour, f32x4.mul(v128.load32_splat(row, 8), b)), v128.load32_splat(row, 12));
}

function applyTone(plan: Plan, step: Step, first: i32, last: i32): void {
  tonePlane(plan.red, step, step.table, first, last);
  tonePlane(plan.green, step, step.table + TABLE_BYTES, first, last);
  tonePlane(plan.blue, step, step.table + 2 * TABLE_BYTES, first, last);
}

function tonePlane(plane: usize, step: Step, table: usize, first: i32, last: i32): void {
  for (let i = first; i < last; i++) {
    const offset = (<usize>i) << 2;
    const light = load<f32>(plane + offset);
    const mapped = toneAt(table, light);
    const share = shareOf(step, offset);
    store<f32>(plane + offset, share === 1 ? mapped : light + share * (mapped - light));
  }
}

/** The saturation of all hues alike; luminance stays. */
function applySaturation(plan: Plan, step: Step, first: i32, last: i32): void {
  const zero = f32x4.splat(0);
  const wanted = f32x4.splat(step.amount);
  for (let i = first; i < last; i += 4) {
    const offset = (<usize>i) << 2;
    const r = v128.load(plan.red + offset);
    const g = v128.load(plan.green + offset);
    const b = v128.load(plan.blue + offset);
    const luminance = luminanceOf(r, g, b);
    // No channel is driven below zero, or below where it was: the colour stops at the most saturated one.
    const least = f32x4.pmin(r, f32x4.pmin(g, b));
    const floor = f32x4.pmin(zero, least);
    const most = f32x4.div(f32x4.sub(luminance, floor), f32x4.sub(luminance, least));
    const isBound = v128.and(f32x4.lt(least, luminance), f32x4.gt(luminance, floor));
    const saturation = v128.bitselect(f32x4.pmin(wanted, most), wanted, isBound);
    v128.store(plan.red + offset, held(step, offset, r, saturated(r, luminance, saturation, floor)));
    v128.store(plan.green + offset, held(step, offset, g, saturated(g, luminance, saturation, floor)));
    v128.store(plan.blue + offset, held(step, offset, b, saturated(b, luminance, saturation, floor)));
  }
}

/** Rounding beside a far brighter channel does not go below the floor. */
function saturated(channel: v128, luminance: v128, saturation: v128, floor: v128): v128 {
  const moved = f32x4.add(luminance, f32x4.mul(saturation, f32x4.sub(channel, luminance)));
  return f32x4.pmax(floor, moved);
}

function luminanceOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(f32x4.splat(RED), r), f32x4.mul(f32x4.splat(GREEN), g)),
    f32x4.mul(f32x4.splat(BLUE), b),
  );
}

/** Hue by hue: turn, saturation and brightness, and the saturation of all; luminance stays but for the brightness. */
function applyHues(plan: Plan, step: Step, first: i32, last: i32): void {
  const rootThree: f32 = 1.7320508;
  for (let i = first; i < last; i++) {
    const offset = (<usize>i) << 2;
    const r = load<f32>(plan.red + offset);
    const g = load<f32>(plan.green + offset);
    const b = load<f32>(plan.blue + offset);
    const luminance: f32 = RED * r + GREEN * g + BLUE * b;
    let x = r;
    let y = g;
    let z = b;
    let saturation = step.amount;
    let gain: f32 = 1;
    const across: f32 = r - 0.5 * (g + b);
    const along: f32 = 0.5 * rootThree * (g - b);
    const most = max(abs(r), max(abs(g), abs(b)));
    // As a share of the brightest channel, which may be anything.
    const purity: f32 =
      most > 0 ? Mathf.sqrt((across / most) * (across / most) + (along / most) * (along / most)) : 0;
    if (purity > <f32>1e-6) {
      let turn: f32 = Mathf.atan2(along, across) * <f32>(HUES / 6.283185307179586);
      if (turn < 0) turn += <f32>HUES;
      const below = min(HUES - 1, <i32>turn);
      const share: f32 = turn - <f32>below;
      const entry = step.table + ((<usize>below) << 4);
      const cosine: f32 = load<f32>(entry) + share * (load<f32>(entry, 16) - load<f32>(entry));
      const sine: f32 = load<f32>(entry, 4) + share * (load<f32>(entry, 20) - load<f32>(entry, 4));
      saturation *= load<f32>(entry, 8) + share * (load<f32>(entry, 24) - load<f32>(entry, 8));
      const stops: f32 = load<f32>(entry, 12) + share * (load<f32>(entry, 28) - load<f32>(entry, 12));
      const turnedAcross: f32 = across * cosine - along * sine;
      const turnedAlong: f32 = across * sine + along * cosine;
      const mean: f32 = (r + g + b) * <f32>(1.0 / 3.0);
      x = mean + turnedAcross * <f32>(2.0 / 3.0);
      y = mean - turnedAcross * <f32>(1.0 / 3.0) + turnedAlong / rootThree;
      z = mean - turnedAcross * <f32>(1.0 / 3.0) - turnedAlong / rootThree;
      const miss: f32 = luminance - (RED * x + GREEN * y + BLUE * z);
      x += miss;
      y += miss;
      z += miss;
      // Greys are nobody's hue.
      if (stops !== 0) gain = exp2Of(stops * min<f32>(1, purity));
    }
    // No channel is driven below zero, or below where it was: the colour stops at the most saturated one of its hue.
    const least = min(x, min(y, z));
    const floor = min<f32>(0, min(r, min(g, b)));
    if (least < luminance && luminance > floor)
      saturation = min(saturation, (luminance - floor) / (luminance - least));
    // Rounding beside a far brighter channel must not undo that.
    x = gain * max(floor, luminance + saturation * (x - luminance));
    y = gain * max(floor, luminance + saturation * (y - luminance));
    z = gain * max(floor, luminance + saturation * (z - luminance));
    const share = shareOf(step, offset);
    store<f32>(plan.red + offset, r + share * (x - r));
    store<f32>(plan.green + offset, g + share * (y - g));
    store<f32>(plan.blue + offset, b + share * (z - b));
  }
}

/** Noise as a share of the light, stronger or weaker by its tone. */
function applyGrain(plan: Plan, step: Step, first: i32, last: i32): void {
  for (let i = first; i < last; i++) {
    const offset = (<usize>i) << 2;
    const r = load<f32>(plan.red + offset);
    const g = load<f32>(plan.green + offset);
    const b = load<f32>(plan.blue + offset);
    const amount: f32 = step.amount * shareOf(step, offset);
    const noise = load<f32>(step.noiseRed + offset);
    if (step.mono) {
      const luminance: f32 = RED * r + GREEN * g + BLUE * b;
      const gain: f32 = 1 + amount * levelAt(step.table, luminance) * noise;
      store<f32>(plan.red + offset, r * gain);
      store<f32>(plan.green + offset, g * gain);
      store<f32>(plan.blue + offset, b * gain);
    } else {
      const noiseGreen = load<f32>(step.noiseGreen + offset);
      const noiseBlue = load<f32>(step.noiseBlue + offset);
      store<f32>(plan.red + offset, r * (1 + amount * levelAt(step.table, r) * noise));
      store<f32>(plan.green + offset, g * (1 + amount * levelAt(step.table, g) * noiseGreen));
      store<f32>(plan.blue + offset, b * (1 + amount * levelAt(step.table, b) * noiseBlue));
    }
  }
}

/** Logarithms of the luminance of rows. What is dark counts as no darker than a floor. */
export function levelRows(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  const end = to * plan.width;
  const zero = f32x4.splat(0);
  const dark = f32x4.splat(0.002);
  for (let i = from * plan.width; i < end; i += 4) {
    const offset = (<usize>i) << 2;
    const luminance = luminanceOf(
      v128.load(plan.red + offset),
      v128.load(plan.green + offset),
      v128.load(plan.blue + offset),
    );
    v128.store(plan.levels + offset, log2Of4(f32x4.add(f32x4.pmax(zero, luminance), dark)));
  }
}

/** Logarithms of rows blurred along them; beyond the edge its last value goes on. */
export function blurRows(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  const width = plan.width;
  const reach = plan.reach;
  for (let y = from; y < to; y++) {
    const row = plan.levels + ((<usize>(y * width)) << 2);
    const out = plan.blurred + ((<usize>(y * width)) << 2);
    let x = 0;
    for (; x < width; x++) {
      if (x >= reach && x + 4 + reach <= width) {
        let sum4 = f32x4.splat(0);
        for (let k = -reach; k <= reach; k++)
          sum4 = f32x4.add(
            sum4,
            f32x4.mul(
              v128.load32_splat(plan.weights + ((<usize>(k + reach)) << 2)),
              v128.load(row + ((<usize>(x + k)) << 2)),
            ),
          );
        v128.store(out + ((<usize>x) << 2), sum4);
        x += 3;
        continue;
      }
      let sum: f32 = 0;
      for (let k = -reach; k <= reach; k++)
        sum +=
          load<f32>(plan.weights + ((<usize>(k + reach)) << 2)) *
          load<f32>(row + ((<usize>min(width - 1, max(0, x + k))) << 2));
      store<f32>(out + ((<usize>x) << 2), sum);
    }
  }
}

/** Sharpens rows: what stands out from the blurred logarithm stands out more, within the limit. `scratch` holds a row. */
export function sharpenRows(address: usize, from: i32, to: i32, scratch: usize): void {
  const plan = changetype<Plan>(address);
  const width = plan.width;
  const reach = plan.reach;
  for (let y = from; y < to; y++) {
    memory.fill(scratch, 0, (<usize>width) << 2);
    for (let k = -reach; k <= reach; k++) {
      const weight = load<f32>(plan.weights + ((<usize>(k + reach)) << 2));
      const row = plan.blurred + ((<usize>(min(plan.height - 1, max(0, y + k)) * width)) << 2);
      const weight4 = f32x4.splat(weight);
      let x = 0;
      for (; x + 4 <= width; x += 4) {
        const at = (<usize>x) << 2;
        v128.store(scratch + at, f32x4.add(v128.load(scratch + at), f32x4.mul(weight4, v128.load(row + at))));
      }
      for (; x < width; x++) {
        const at = (<usize>x) << 2;
        store<f32>(scratch + at, load<f32>(scratch + at) + weight * load<f32>(row + at));
      }
    }
    gainsOf(plan, (<usize>(y * width)) << 2, scratch);
    multiplyRow(plan.red + ((<usize>(y * width)) << 2), scratch, width);
    multiplyRow(plan.green + ((<usize>(y * width)) << 2), scratch, width);
    multiplyRow(plan.blue + ((<usize>(y * width)) << 2), scratch, width);
  }
}

/** Puts the gains of a row, whose planes begin `row` bytes on, in place of its blurred logarithms. */
function gainsOf(plan: Plan, row: usize, blurred: usize): void {
  const zero = f32x4.splat(0);
  const limit = f32x4.splat(plan.sharpenLimit);
  for (let x = 0; x < plan.width; x += 4) {
    const at = (<usize>x) << 2;
    const detail = f32x4.sub(v128.load(plan.levels + row + at), v128.load(blurred + at));
    const beyond = f32x4.pmax(zero, f32x4.sub(f32x4.abs(detail), f32x4.splat(plan.sharpenThreshold)));
    const wanted = f32x4.mul(f32x4.splat(plan.sharpenAmount), beyond);
    // Bends softly to the limit.
    let stops = f32x4.div(f32x4.mul(wanted, limit), f32x4.add(wanted, limit));
    if (plan.sharpenMask) stops = f32x4.mul(stops, v128.load(plan.sharpenMask + row + at));
    v128.store(blurred + at, exp2Of4(v128.bitselect(f32x4.neg(stops), stops, f32x4.lt(detail, zero))));
  }
}

function multiplyRow(row: usize, gains: usize, width: i32): void {
  let x = 0;
  for (; x + 4 <= width; x += 4) {
    const at = (<usize>x) << 2;
    v128.store(row + at, f32x4.mul(v128.load(row + at), v128.load(gains + at)));
  }
  // What lies behind a row is the next one's, which another thread may be writing.
  for (; x < width; x++) {
    const at = (<usize>x) << 2;
    store<f32>(row + at, load<f32>(row + at) * load<f32>(gains + at));
  }
}
