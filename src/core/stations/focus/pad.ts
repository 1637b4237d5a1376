import type { ScatterInput, Surface } from '../../kernels/scatter';

/** Most that is added at each side, as a share of the picture's height. */
const MOST = 0.12;

/**
 * A picture of several surfaces with more of the same about it, as far as blur reaches: what is out of focus at the frame's edge covers
 * there as it does elsewhere. Lamps go on as what is bright beside them.
 */
export function padPicture(input: ScatterInput): { padded: ScatterInput; margin: number } {
  const { width, height, surfaces } = input;
  const largest = surfaces.reduce(
    (most, { radius }) => radius.reduce((least, value) => Math.max(least, Math.abs(value)), most),
    0,
  );
  const margin = Math.min(Math.ceil(largest), Math.ceil(MOST * height));
  const columns = places(width, margin);
  const rows = places(height, margin);
  const pad = (plane: Float32Array, limit = Infinity): Float32Array => {
    const out = new Float32Array(columns.length * rows.length);
    rows.forEach((row, y) =>
      columns.forEach((column, x) => {
        const value = plane[row * width + column]!;
        const isAdded = y < margin || y >= margin + height || x < margin || x >= margin + width;
        out[y * columns.length + x] = isAdded ? Math.min(value, limit) : value;
      }),
    );
    return out;
  };
  const padded = surfaces.map(({ light, coverage, radius }): Surface => ({
    light: light.map((plane) => pad(plane, brightAtEdge(plane, width))),
    coverage: coverage && pad(coverage),
    radius: pad(radius),
  }));
  return {
    margin,
    padded: {
      ...input,
      key: `${input.key} padded ${margin}`,
      width: columns.length,
      height: rows.length,
      surfaces: padded,
      cellX: Uint8Array.from(columns, (column) => input.cellX[column]!),
      cellY: Uint8Array.from(rows, (row) => input.cellY[row]!),
    },
  };
}

const places = (size: number, margin: number): number[] =>
  Array.from({ length: size + 2 * margin }, (_, k) => Math.min(size - 1, Math.max(0, k - margin)));

/** What nineteen of twenty pixels along the picture's edge do not exceed. */
function brightAtEdge(plane: Float32Array, width: number): number {
  const height = plane.length / width;
  const edge: number[] = [];
  for (let x = 0; x < width; x++) edge.push(plane[x]!, plane[(height - 1) * width + x]!);
  for (let y = 0; y < height; y++) edge.push(plane[y * width]!, plane[(y + 1) * width - 1]!);
  const sorted = Float32Array.from(edge).sort();
  return sorted[Math.floor(sorted.length * 0.95)]!;
}

/** Takes the picture out of one that was padded. */
export function cropPlane(
  plane: Float32Array,
  { width, height }: { width: number; height: number },
  margin: number,
): Float32Array {
  const across = width + 2 * margin;
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const from = (y + margin) * across + margin;
    out.set(plane.subarray(from, from + width), y * width);
  }
  return out;
}
