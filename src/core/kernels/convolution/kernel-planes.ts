import type { SharedMemory } from '../runtime/memory';
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

interface RowPlace {
  dy: number;
  width: number;
  out: Float32Array;
  /** Where the source's column lies: for what is to its right, and for what is to its left. */
  ahead: number;
  behind: number;
}

function addRow(
  values: Float32Array,
  kind: KernelPlane['kind'],
  gain: number,
  { dy, width, out, ahead, behind }: RowPlace,
): void {
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
  const columns = 2 * width - 1;
  const isHalf = kind === 'half';
  // The upper half is the lower one turned half way round; a full one begins above.
  const row = isHalf ? Math.abs(dy) : dy + (values.length / columns - 1) / 2;
  const middle = row * columns + width - 1;
  const turn = isHalf && dy < 0 ? -1 : 1;
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
