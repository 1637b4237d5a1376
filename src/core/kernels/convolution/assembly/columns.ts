/** The grid's columns, a block at a time. */
import { BLOCK_ROW, NUMBER, Plan, ROWS, Stage } from './plan';
import { convolve, forward, multiply } from './transform';

/** Clears the rows of a block that the plane has no light in; gives the size of its numbers. */
function openBlock(plan: Plan, block: i32): usize {
  const bytes = block < plan.blocks ? BLOCK_ROW : NUMBER;
  const filled = (plan.height + ROWS - 1) & ~(ROWS - 1);
  const base = plan.grid + <usize>block * <usize>plan.blockBytes;
  if (filled < plan.rows) memory.fill(base + <usize>filled * bytes, 0, <usize>(plan.rows - filled) * bytes);
  return bytes;
}

/** Transforms the columns of blocks `from` to `to`, the last of which may be that of the highest frequency. */
export function columnsForward(at: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(at);
  for (let block = from; block < to; block++) {
    const bytes = openBlock(plan, block);
    const base = plan.grid + <usize>block * <usize>plan.blockBytes;
    forward(changetype<Stage>(plan.columnStages), base, bytes);
  }
}

/** Transforms them, multiplies them by a spectrum, which lies as the grid does, and transforms them back. */
export function columnsConvolve(at: usize, from: i32, to: i32, spectrum: usize): void {
  const plan = changetype<Plan>(at);
  for (let block = from; block < to; block++) {
    const bytes = openBlock(plan, block);
    const base = plan.grid + <usize>block * <usize>plan.blockBytes;
    convolve(changetype<Stage>(plan.columnStages), base, bytes, spectrum - plan.grid);
  }
}

/** The same of columns that were transformed before: they lie at `source`, as the grid does, and stay as they are. */
export function columnsMultiply(at: usize, from: i32, to: i32, spectrum: usize, source: usize): void {
  const plan = changetype<Plan>(at);
  for (let block = from; block < to; block++) {
    const bytes = block < plan.blocks ? BLOCK_ROW : NUMBER;
    const base = plan.grid + <usize>block * <usize>plan.blockBytes;
    multiply(changetype<Stage>(plan.columnStages), base, bytes, spectrum - plan.grid, source - plan.grid);
  }
}
