import { pupilOutline, type PupilShape } from '../../optics/pupil';

/**
 * A blur disc as the derivative along x of its coverage: add each entry to the row at its place, and a running sum along
 * the row gives the disc. The coverage of all pixels together is 1.
 */
export interface BlurKernel {
  dx: Int16Array;
  dy: Int16Array;
  weight: Float32Array;
}

/** Everything but the radius that shapes a disc. */
export interface DiscShape {
  pupil: PupilShape;
  /** Width over height. */
  squeeze: number;
  /** -1 soft to 1 bright, behind the focus; before it the other way. */
  rim: number;
}

/** Radii up to this are told apart in eighths of a pixel, larger ones in steps of a 128th of themselves. */
const FINE = 16;
const STEPS_PER_PIXEL = 8;
const SUB_ROWS = 16;
const RINGS = 6;
/** Positions along each half axis for which the barrel's cut is computed. */
const CAT_STEPS = 6;

/** Discs at all radii and places, made when they are first needed. */
export class KernelSet {
  private readonly outline: [number, number][];
  private readonly kernels = new Map<number, BlurKernel>();

  constructor(
    private readonly shape: DiscShape,
    private readonly catsEye: number,
  ) {
    this.outline = pupilOutline(shape.pupil).map(([x, y]): [number, number] => [x * shape.squeeze, y]);
  }

  /**
   * The disc of a signed radius (negative before the focus) at a place in the frame, -1 to 1 across each half diagonal.
   */
  at(radius: number, u: number, v: number): BlurKernel {
    const size = Math.abs(radius);
    const step =
      size < FINE ? Math.round(size * STEPS_PER_PIXEL) : 128 + Math.round(Math.log(size / FINE) * 128);
    const [cu, cv] = this.catsEye > 0 ? [Math.round(u * CAT_STEPS), Math.round(v * CAT_STEPS)] : [0, 0];
    const key = ((step * 2 + (radius < 0 ? 1 : 0)) * 32 + cu + 16) * 32 + cv + 16;
    let kernel = this.kernels.get(key);
    if (!kernel) {
      const quantised = step < 128 ? step / STEPS_PER_PIXEL : FINE * Math.exp((step - 128) / 128);
      kernel = this.make(quantised, radius < 0 ? -1 : 1, cu / CAT_STEPS, cv / CAT_STEPS);
      this.kernels.set(key, kernel);
    }
    return kernel;
  }

  private make(radius: number, side: 1 | -1, u: number, v: number): BlurKernel {
    // Pixels are squares, which blur by a twelfth each way themselves; that much is taken off.
    const own = Math.sqrt(Math.max(0.01, radius * radius - 1 / 3));
    const reach = Math.ceil(own * Math.max(1, this.shape.squeeze)) + 2;
    const width = 2 * reach + 1;
    const grid = new Float64Array(width * width);
    for (const { scale, weight } of rings(this.shape.rim * side))
      this.draw(grid, reach, own * scale, weight, side, u, v);
    let sum = 0;
    for (let y = 0; y < width; y++) {
      let run = 0;
      for (let x = 0; x < width; x++) {
        run += grid[y * width + x]!;
        sum += run;
      }
    }
    const entries: [number, number, number][] = [];
    for (let i = 0; i < grid.length; i++)
      if (Math.abs(grid[i]!) > 1e-12)
        entries.push([(i % width) - reach, Math.floor(i / width) - reach, grid[i]! / sum]);
    return {
      dx: Int16Array.from(entries, ([x]) => x),
      dy: Int16Array.from(entries, ([, y]) => y),
      weight: Float32Array.from(entries, ([, , w]) => w),
    };
  }

  /** Adds the derivative of one outline's coverage; before the focus the disc stands on its head. */
  private draw(
    grid: Float64Array,
    reach: number,
    radius: number,
    weight: number,
    side: 1 | -1,
    u: number,
    v: number,
  ): void {
    const width = 2 * reach + 1;
    const points = this.outline;
    // The barrel: a second circle of the pupil's size, shifted with the place in the frame.
    const [bx, by] = [-u * this.catsEye, -v * this.catsEye];
    const rows = Math.ceil(radius) + 1;
    for (let row = -rows; row <= rows; row++) {
      for (let k = 0; k < SUB_ROWS; k++) {
        const y = row - 0.5 + (k + 0.5) / SUB_ROWS;
        const own = (y / radius) * side;
        let [left, right] = [Infinity, -Infinity];
        for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
          const [ax, ay] = points[j]!;
          const [cx, cy] = points[i]!;
          if (ay > own === cy > own) continue;
          const x = ax + ((own - ay) * (cx - ax)) / (cy - ay);
          if (x < left) left = x;
          if (x > right) right = x;
        }
        if (this.catsEye > 0) {
          const half = Math.sqrt(Math.max(0, 1 - (own - by) ** 2)) * this.shape.squeeze;
          left = Math.max(left, bx * this.shape.squeeze - half);
          right = Math.min(right, bx * this.shape.squeeze + half);
        }
        if (!(right > left)) continue;
        const [from, to] = side > 0 ? [left * radius, right * radius] : [-right * radius, -left * radius];
        const at = (row + reach) * width + reach;
        edge(grid, at, from + 0.5, weight / SUB_ROWS);
        edge(grid, at, to + 0.5, -weight / SUB_ROWS);
      }
    }
  }
}

/** A step of coverage at x, in pixels whose left edge is a whole number, as differences of what pixels are covered. */
function edge(grid: Float64Array, at: number, x: number, weight: number): void {
  const whole = Math.floor(x);
  const part = x - whole;
  grid[at + whole]! += weight * (1 - part);
  grid[at + whole + 1]! += weight * part;
}

/**
 * A radial weight `1 + rim (2 rho^2 - 1)` as discs laid over each other: the whole disc at the rim's weight, and for each
 * ring inside it what the weight changes by.
 */
function rings(rim: number): { scale: number; weight: number }[] {
  if (rim === 0) return [{ scale: 1, weight: 1 }];
  const at = (rho: number): number => 1 + rim * (2 * rho * rho - 1);
  return Array.from({ length: RINGS }, (_, k) => {
    const scale = (RINGS - k) / RINGS;
    const here = at(scale - 0.5 / RINGS);
    return { scale, weight: k === 0 ? here : here - at(scale + 0.5 / RINGS) };
  });
}
