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
  const lastX = <f32>(width - 1);
  const lastY = <f32>(plan.height - 1);
  const pitch = (<usize>width) << 4;
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
        const across: f32 = right / lean;
        const along: f32 = down / lean;
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
          const u = min(lastX, max<f32>(0, <f32>x + shift * across));
          const v = min(lastY, max<f32>(0, <f32>y + shift * along));
          // The last column and row are read as the end of the pair before them.
          const left = max(0, min(width - 2, <i32>u));
          const top = max(0, min(plan.height - 2, <i32>v));
          const nextX: usize = width > 1 ? 16 : 0;
          const nextY: usize = plan.height > 1 ? pitch : 0;
          const at = plan.light + ((<usize>(top * width + left)) << 4);
          const fx = f32x4.splat(u - <f32>left);
          const fy = f32x4.splat(v - <f32>top);
          const a = v128.load(at);
          const b = v128.load(at + nextX);
          const c = v128.load(at + nextY);
          const d = v128.load(at + nextX + nextY);
          const upper = f32x4.add(a, f32x4.mul(fx, f32x4.sub(b, a)));
          const lower = f32x4.add(c, f32x4.mul(fx, f32x4.sub(d, c)));
          const read = f32x4.add(upper, f32x4.mul(fy, f32x4.sub(lower, upper)));
          // Outside the matte nothing is known of what lies there.
          const lacking: f32 = 1 - min<f32>(1, f32x4.extract_lane(read, 3));
          const whole = f32x4.add(read, f32x4.mul(f32x4.splat(lacking), own));
          sum = f32x4.add(sum, f32x4.mul(v128.load(weight), whole));
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
