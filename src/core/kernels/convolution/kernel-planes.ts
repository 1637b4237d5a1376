import type { SharedMemory } from '../runtime/memory';
import { allocateShared, type Shared } from '../runtime/shared';
import type { KernelPlane, KernelRows } from '.';

/** Gives the rows of a kernel that is a sum of planes. */
export function rowsOfPlanes(planes: readonly KernelPlane[], width: number): KernelRows {
  const views = planes.map(({ kind, data, gain }) => ({ kind, gain, values: new Float32Array(data) }));
  return (dy, out) => {
    out.fill(0);
    for (const { kind, gain, values } of views)
      addRow(values, kind, gain, { dy, width, out, ahead: width - 1, behind: width - 1 });
  };
}

/**
 * Rows from `-(height - 1)` to `height - 1`, each from `-(width - 1)` to `width - 1`, as runs: the number of rows; for each the
 * first column that is not 0, the one after the last, and where its values lie; then the values. Most of a thin line is nothing.
 */
export function runsOfRows(
  rowAt: (dy: number, out: Float32Array) => void,
  width: number,
  height: number,
): Shared {
  const count = 2 * height - 1;
  const row = new Float32Array(2 * width - 1);
  const heads = new Int32Array(1 + 3 * count);
  heads[0] = count;
  const runs: Float32Array[] = [];
  let next = heads.length;
  for (let k = 0; k < count; k++) {
    rowAt(k - height + 1, row);
    let [from, end] = [0, row.length];
    while (from < end && row[from] === 0) from++;
    while (end > from && row[end - 1] === 0) end--;
    heads.set([from, end, next], 1 + 3 * k);
    next += end - from;
    runs.push(row.slice(from, end));
  }
  const data = allocateShared(4 * next);
  new Int32Array(data).set(heads);
  const values = new Float32Array(data);
  runs.forEach((run, k) => values.set(run, heads[3 + 3 * k]));
  return data;
}

/** Adds one row of runs. */
function addRun(values: Float32Array, gain: number, { dy, width, out, ahead, behind }: RowPlace): void {
  const heads = new Int32Array(values.buffer);
  const head = 1 + 3 * (dy + (heads[0]! - 1) / 2);
  const [from, end, at] = [heads[head]!, heads[head + 1]!, heads[head + 2]!];
  for (let column = from; column < end; column++) {
    const dx = column - width + 1;
    out[(dx < 0 ? behind : ahead) + dx]! += gain * values[at + column - from]!;
  }
}

interface RowPlace {
  dy: number;
  width: number;
  out: Float32Array;
  /** Where the source's column lies: for what is to its right, and for what is to its left. */
  ahead: number;
  behind: number;
}

function addRow(values: Float32Array, kind: KernelPlane['kind'], gain: number, place: RowPlace): void {
  if (kind === 'runs') return addRun(values, gain, place);
  const { dy, width, out, ahead, behind } = place;
  if (kind === 'quadrant') {
    const at = Math.abs(dy) * width;
    out[ahead]! += gain * values[at]!;
    for (let dx = 1; dx < width; dx++) {
      const value = gain * values[at + dx]!;
      out[ahead + dx]! += value;
      out[behind - dx]! += value;
    }
    return;
  }
  // The upper half is the lower one turned half way round.
  const middle = Math.abs(dy) * (2 * width - 1) + width - 1;
  const turn = dy < 0 ? -1 : 1;
  out[ahead]! += gain * values[middle]!;
  for (let dx = 1; dx < width; dx++) {
    out[ahead + dx]! += gain * values[middle + turn * dx]!;
    out[behind - dx]! += gain * values[middle - turn * dx]!;
  }
}

/** Rows of a kernel that are laid into a padded plane in a kernel's memory, its source at the plane's corner. */
export interface KernelPlacing extends SharedMemory {
  /** Where the plane begins, in bytes; the length of its rows, and how many there are. */
  at: number;
  length: number;
  rows: number;
  width: number;
  height: number;
  planes: readonly KernelPlane[];
  /** Rows of the padded plane. */
  from: number;
  to: number;
}

export function placeKernel({
  memory,
  at,
  length,
  rows,
  width,
  height,
  planes,
  from,
  to,
}: KernelPlacing): void {
  const views = planes.map(({ kind, data, gain }) => ({ kind, gain, values: new Float32Array(data) }));
  for (let row = from; row < to; row++) {
    const out = new Float32Array(memory.buffer, at + 4 * row * length, length);
    out.fill(0);
    const dy = row < height ? row : row - rows;
    if (dy <= -height) continue;
    for (const { kind, gain, values } of views)
      addRow(values, kind, gain, { dy, width, out, ahead: 0, behind: length });
  }
}

declare module '../runtime/parallel' {
  interface JobInputs {
    placeKernel: KernelPlacing;
  }
}
