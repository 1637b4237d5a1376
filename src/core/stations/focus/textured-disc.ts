/** What a pupil lets through, laid out so that the mean over any box of it is soon known. */
export class Texture {
  /** Sums over all that lies above and to the left of each corner. */
  private readonly sums: Float64Array;

  /** `plane`: `size * size` values over the square about the unit disc, y down. */
  constructor(
    plane: Float32Array,
    readonly size: number,
  ) {
    const across = size + 1;
    this.sums = new Float64Array(across * across);
    for (let y = 0; y < size; y++)
      for (let x = 0, run = 0; x < size; x++) {
        run += plane[y * size + x]!;
        this.sums[(y + 1) * across + x + 1] = this.sums[y * across + x + 1]! + run;
      }
  }

  /** What lies in a box, in pixels of the plane. */
  box(left: number, top: number, right: number, bottom: number): number {
    return this.upTo(right, bottom) - this.upTo(left, bottom) - this.upTo(right, top) + this.upTo(left, top);
  }

  private upTo(x: number, y: number): number {
    const { sums, size } = this;
    const [u, v] = [Math.min(size, Math.max(0, x)), Math.min(size, Math.max(0, y))];
    const [column, row] = [Math.min(size - 1, Math.floor(u)), Math.min(size - 1, Math.floor(v))];
    const at = row * (size + 1) + column;
    const below = at + size + 1;
    const upper = sums[at]! + (u - column) * (sums[at + 1]! - sums[at]!);
    const lower = sums[below]! + (u - column) * (sums[below + 1]! - sums[below]!);
    return upper + (v - row) * (lower - upper);
  }
}

/** How a pupil's image lies on pixels. */
export interface TexturePlacement {
  /** Radius down, in pixels, and times it across. */
  radius: number;
  squeeze: number;
  /** Before the focus (-1) it stands on its head. */
  side: 1 | -1;
  /** Pixels from the middle to the edge of the grid. */
  reach: number;
}

/** The light that each pixel gets of a pupil's image: `(2 reach + 2) * (2 reach + 1)` values, of which the last column is empty. */
export function rasterizeTexture(
  texture: Texture,
  { radius, squeeze, side, reach }: TexturePlacement,
): Float64Array {
  const width = 2 * reach + 2;
  const grid = new Float64Array(width * (2 * reach + 1));
  const [down, across] = [texture.size / 2 / radius, texture.size / 2 / (radius * squeeze)];
  const middle = texture.size / 2;
  for (let y = -reach; y <= reach; y++)
    for (let x = -reach; x <= reach; x++) {
      const [u, v] = [middle + side * x * across, middle + side * y * down];
      grid[(y + reach) * width + x + reach] = texture.box(
        u - across / 2,
        v - down / 2,
        u + across / 2,
        v + down / 2,
      );
    }
  return grid;
}

/**
 * Turns what pixels get into what each gets more than the one to its left, in place. Differences too small to be seen are
 * put off until they have added up, so that fine grain costs little; every row ends with nothing left over.
 */
export function differences(grid: Float64Array, width: number, tolerance: number): void {
  for (let row = 0; row < grid.length; row += width) {
    let [given, wanted] = [0, 0];
    for (let x = 0; x < width; x++) {
      wanted = grid[row + x]!;
      const due = wanted - given;
      const isWorth = Math.abs(due) > tolerance || (wanted === 0 && due !== 0);
      grid[row + x] = isWorth ? due : 0;
      if (isWorth) given = wanted;
    }
  }
}
