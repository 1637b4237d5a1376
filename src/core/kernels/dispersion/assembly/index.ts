/** Colours parted along the lean of normals, on memory that all threads share. */
import { Plan } from './plan';

/** Where memory is free for the caller. */
export function firstFree(): usize {
  return __heap_base;
}

/** Steps of a table over the lean (see index.ts of the room), and leans that bend nothing. */
const STEPS: i32 = 256;
const UPRIGHT: f32 = 1e-4;

/** Rows `from` to `to` of what is added and taken. */
export function disperseRows(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  const width = plan.width;
  const height = plan.height;
  const last = f32x4.replace_lane(f32x4.splat(<f32>(width - 1)), 1, <f32>(height - 1));
  const lastPair = i32x4.replace_lane(i32x4.splat(max(0, width - 2)), 1, max(0, height - 2));
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const nextX: usize = width > 1 ? 16 : 0;
  const nextY: usize = height > 1 ? (<usize>width) << 4 : 0;
  const table = (<usize>(STEPS + 1)) << 2;
  const mostPlace = <f32>STEPS;
  for (let y = from; y < to; y++) {
    for (let x = 0; x < width; x++) {
      const offset = (<usize>(y * width + x)) << 2;
      const own = v128.load(plan.light + (offset << 2));
      const cover = f32x4.extract_lane(own, 3);
      const right = load<f32>(plan.right + offset);
      const down = load<f32>(plan.down + offset);
      const lean: f32 = Mathf.sqrt(right * right + down * down);
      let change = f32x4.splat(0);
      if (cover > 0 && lean >= UPRIGHT) {
        const place = min(mostPlace, lean * plan.stepsPerLean);
        const step = min(STEPS - 1, <i32>place);
        const share: f32 = place - <f32>step;
        // Across and down in the first two lanes.
        const way = f32x4.replace_lane(f32x4.splat(right / lean), 1, down / lean);
        const pixel = f32x4.replace_lane(f32x4.splat(<f32>x), 1, <f32>y);
        let level = plan.levelTable;
        const lastLevel = level + 12 * <usize>(plan.levels - 1);
        while (level < lastLevel && lean >= load<f32>(level)) level += 12;
        const first = <usize>load<i32>(level, 4);
        const count = load<i32>(level, 8);
        let entry = plan.shifts + first * table + ((<usize>step) << 2);
        let weight = plan.weights + (first << 4);
        let sum = f32x4.splat(0);
        for (let k = 0; k < count; k++) {
          const low = load<f32>(entry);
          const shift: f32 = low + share * (load<f32>(entry, 4) - low);
          const aim = f32x4.add(pixel, f32x4.mul(f32x4.splat(shift), way));
          const spot = f32x4.pmin(last, f32x4.pmax(zero, aim));
          // The last column and row are read as the end of the pair before them.
          const whole = i32x4.min_s(i32x4.trunc_sat_f32x4_s(spot), lastPair);
          const fraction = f32x4.sub(spot, f32x4.convert_i32x4_s(whole));
          const left = i32x4.extract_lane(whole, 0);
          const top = i32x4.extract_lane(whole, 1);
          const at = plan.light + ((<usize>(top * width + left)) << 4);
          const fx = i32x4.shuffle(fraction, fraction, 0, 0, 0, 0);
          const fy = i32x4.shuffle(fraction, fraction, 1, 1, 1, 1);
          const a = v128.load(at);
          const b = v128.load(at + nextX);
          const c = v128.load(at + nextY);
          const d = v128.load(at + nextX + nextY);
          const upper = f32x4.add(a, f32x4.mul(fx, f32x4.sub(b, a)));
          const lower = f32x4.add(c, f32x4.mul(fx, f32x4.sub(d, c)));
          const read = f32x4.add(upper, f32x4.mul(fy, f32x4.sub(lower, upper)));
          // Outside the matte nothing is known of what lies there.
          const covered = i32x4.shuffle(read, read, 3, 3, 3, 3);
          const lacking = f32x4.sub(one, f32x4.pmin(one, covered));
          const seen = f32x4.add(read, f32x4.mul(lacking, own));
          sum = f32x4.add(sum, f32x4.mul(v128.load(weight), seen));
          entry += table;
          weight += 16;
        }
        change = f32x4.mul(f32x4.splat(cover), f32x4.sub(sum, own));
      }
      store<f32>(plan.red + offset, f32x4.extract_lane(change, 0));
      store<f32>(plan.green + offset, f32x4.extract_lane(change, 1));
      store<f32>(plan.blue + offset, f32x4.extract_lane(change, 2));
    }
  }
}
