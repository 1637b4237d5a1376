/** Grading of scene light pixel by pixel, and sharpening, on memory that all threads share. */
import { COLOUR, GRAIN, HUES, MATRIX, Plan, Step, TONE } from './plan';
import { TABLE_BYTES, toneAt } from './table';

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

/** All steps on rows `from` to `to`. */
export function gradeRows(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  const end = to * plan.width;
  for (let first = from * plan.width; first < end; first += CHUNK) {
    const last = min(end, first + CHUNK);
    for (let k = 0; k < plan.stepCount; k++) {
      const step = changetype<Step>(plan.steps + <usize>k * offsetof<Step>());
      if (step.kind === MATRIX) applyMatrix(plan, step, first, last);
      else if (step.kind === TONE) applyTone(plan, step, first, last);
      else if (step.kind === COLOUR) applyColour(plan, step, first, last);
      else if (step.kind === GRAIN) applyGrain(plan, step, first, last);
    }
  }
}

function shareOf(step: Step, offset: usize): f32 {
  return step.mask ? load<f32>(step.mask + offset) : 1;
}

function applyMatrix(plan: Plan, step: Step, first: i32, last: i32): void {
  const m = step.table;
  for (let i = first; i < last; i++) {
    const offset = (<usize>i) << 2;
    const r = load<f32>(plan.red + offset);
    const g = load<f32>(plan.green + offset);
    const b = load<f32>(plan.blue + offset);
    const share = shareOf(step, offset);
    const x: f32 = load<f32>(m) * r + load<f32>(m, 4) * g + load<f32>(m, 8) * b + load<f32>(m, 12);
    const y: f32 = load<f32>(m, 16) * r + load<f32>(m, 20) * g + load<f32>(m, 24) * b + load<f32>(m, 28);
    const z: f32 = load<f32>(m, 32) * r + load<f32>(m, 36) * g + load<f32>(m, 40) * b + load<f32>(m, 44);
    store<f32>(plan.red + offset, share === 1 ? x : r + share * (x - r));
    store<f32>(plan.green + offset, share === 1 ? y : g + share * (y - g));
    store<f32>(plan.blue + offset, share === 1 ? z : b + share * (z - b));
  }
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

/** Hue by hue: turn, saturation and brightness, and the saturation of all; luminance stays but for the brightness. */
function applyColour(plan: Plan, step: Step, first: i32, last: i32): void {
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
    if (step.table) {
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
      const gain: f32 = 1 + amount * strengthAt(step.table, luminance) * noise;
      store<f32>(plan.red + offset, r * gain);
      store<f32>(plan.green + offset, g * gain);
      store<f32>(plan.blue + offset, b * gain);
    } else {
      const noiseGreen = load<f32>(step.noiseGreen + offset);
      const noiseBlue = load<f32>(step.noiseBlue + offset);
      store<f32>(plan.red + offset, r * (1 + amount * strengthAt(step.table, r) * noise));
      store<f32>(plan.green + offset, g * (1 + amount * strengthAt(step.table, g) * noiseGreen));
      store<f32>(plan.blue + offset, b * (1 + amount * strengthAt(step.table, b) * noiseBlue));
    }
  }
}

/** The strength at a tone; the table holds strength times light, so that its ends go on as it does. */
function strengthAt(table: usize, light: f32): f32 {
  return abs(light) > 1e-7 ? toneAt(table, light) / light : 0;
}

/** Logarithms of the luminance of rows. What is dark counts as no darker than a floor. */
export function levelRows(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  const end = to * plan.width;
  for (let i = from * plan.width; i < end; i++) {
    const offset = (<usize>i) << 2;
    const luminance: f32 =
      RED * load<f32>(plan.red + offset) +
      GREEN * load<f32>(plan.green + offset) +
      BLUE * load<f32>(plan.blue + offset);
    store<f32>(plan.levels + offset, log2Of(max<f32>(0, luminance) + <f32>0.002));
  }
}

/** The logarithm to base 2 by exponent and a polynomial of the mantissa, to within 1e-5. */
function log2Of(value: f32): f32 {
  const bits = reinterpret<u32>(value);
  const exponent = <f32>(<i32>(bits >> 23) - 127);
  const m: f32 = reinterpret<f32>((bits & 0x007fffff) | 0x3f800000);
  // log2(m) = log2 of e times 2 artanh((m - 1) / (m + 1)), with m brought to 0.7 .. 1.4.
  const isHigh = m > <f32>1.4142135;
  const x: f32 = isHigh ? m * <f32>0.5 : m;
  const t: f32 = (x - 1) / (x + 1);
  const t2: f32 = t * t;
  const series: f32 = t * (2 + t2 * (<f32>0.6666667 + t2 * (<f32>0.4 + t2 * <f32>0.2857143)));
  return exponent + (isHigh ? <f32>1 : <f32>0) + series * <f32>1.442695;
}

/** Two to a power between -8 and 8, by the exponent and a polynomial (Taylor, to 1e-6). */
function exp2Of(power: f32): f32 {
  const whole = Mathf.floor(power + <f32>0.5);
  const x: f32 = (power - whole) * <f32>0.6931472;
  const series: f32 =
    1 + x * (1 + x * (<f32>0.5 + x * (<f32>0.16666667 + x * (<f32>0.041666668 + x * <f32>0.008333334))));
  return series * reinterpret<f32>((<i32>whole + 127) << 23);
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
    for (let x = 0; x < width; x++) {
      const offset = (<usize>(y * width + x)) << 2;
      const detail: f32 = load<f32>(plan.levels + offset) - load<f32>(scratch + ((<usize>x) << 2));
      const size = abs(detail);
      if (size <= plan.sharpenThreshold) continue;
      let stops: f32 = plan.sharpenAmount * (size - plan.sharpenThreshold);
      // Bends softly to the limit.
      stops = (stops * plan.sharpenLimit) / (stops + plan.sharpenLimit);
      const share: f32 = plan.sharpenMask ? load<f32>(plan.sharpenMask + offset) : 1;
      const gain = exp2Of(share * (detail < 0 ? -stops : stops));
      store<f32>(plan.red + offset, load<f32>(plan.red + offset) * gain);
      store<f32>(plan.green + offset, load<f32>(plan.green + offset) * gain);
      store<f32>(plan.blue + offset, load<f32>(plan.blue + offset) * gain);
    }
  }
}
