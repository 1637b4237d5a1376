/** Adds ghosts up, from levels of large pixels to those of the picture. */
import { Plan } from './plan';

/** Pixels that a level has beyond each of its edges. */
const MARGIN: i32 = 2;

/** One row of a level: its ghosts and what the level above brings, each pixel the mean of four, nearer ones counting more. */
function sumRow(plan: Plan, y: i32, out: usize): void {
  const width = plan.levelWidth;
  memory.fill(out, 0, <usize>width * 16);
  if (plan.above) {
    // Rows and columns count from the margin's edge.
    const inner = y - MARGIN;
    const upper = (inner >> 1) + MARGIN - (inner & 1 ? 0 : 1);
    const first = plan.above + <usize>(upper * plan.aboveWidth) * 16;
    const second = first + <usize>plan.aboveWidth * 16;
    const near: f32 = inner & 1 ? 0.75 : 0.25;
    for (let x = 0; x < width; x++) {
      const column = x - MARGIN;
      const left = (column >> 1) + MARGIN - (column & 1 ? 0 : 1);
      const at = <usize>left * 16;
      const share: f32 = column & 1 ? 0.75 : 0.25;
      const a = mix(v128.load(first + at), v128.load(second + at), near);
      const b = mix(v128.load(first + at + 16), v128.load(second + at + 16), near);
      v128.store(out + <usize>x * 16, mix(a, b, share));
    }
  }
  for (let k = 0; k < plan.ghostCount; k++) {
    const ghost = changetype<Plan>(load<usize>(plan.ghosts + 4 * <usize>k));
    const row = y - MARGIN - ghost.top;
    if (row < 0 || row >= ghost.height) continue;
    const first = max(0, ghost.left + MARGIN);
    const last = min(width, ghost.left + MARGIN + ghost.width);
    let from = ghost.pixels + <usize>(row * ghost.width + first - MARGIN - ghost.left) * 16;
    for (let x = first; x < last; x++) {
      const at = out + <usize>x * 16;
      v128.store(at, f32x4.add(v128.load(at), v128.load(from)));
      from += 16;
    }
  }
}

function mix(a: v128, b: v128, share: f32): v128 {
  return f32x4.add(f32x4.mul(a, f32x4.splat(share)), f32x4.mul(b, f32x4.splat(1 - share)));
}

/** Rows `from` to `to` of a level, its margin included. */
export function sumRows(address: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(address);
  for (let y = from; y < to; y++) sumRow(plan, y, plan.level + <usize>(y * plan.levelWidth) * 16);
}

/** Rows of the finest level as planes of `columns` pixels, one after the other in `out`; `scratch` holds a row. */
export function finishRows(address: usize, from: i32, to: i32, out: usize, scratch: usize): void {
  const plan = changetype<Plan>(address);
  const plane = <usize>(plan.columns * (to - from)) * 4;
  for (let y = from; y < to; y++) {
    sumRow(plan, y + MARGIN, scratch);
    let at = out + <usize>((y - from) * plan.columns) * 4;
    for (let x = 0; x < plan.columns; x++) {
      const pixel = scratch + <usize>(x + MARGIN) * 16;
      store<f32>(at, load<f32>(pixel));
      store<f32>(at + plane, load<f32>(pixel, 4));
      store<f32>(at + 2 * plane, load<f32>(pixel, 8));
      at += 4;
    }
  }
}
