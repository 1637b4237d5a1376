import { IN_FOCUS_RADIUS, type Disc, type Discs } from '../../kernels/scatter';
import { OutlineWalk } from '../../optics/outline-walk';
import { pupilOutline, type PupilShape } from '../../optics/pupil';
import { differences, rasterizeTexture, Texture } from './textured-disc';

/** Everything but the radius that shapes a disc. */
export interface DiscShape {
  pupil: PupilShape;
  /** Diameter of the disc in the pupil's middle that lets nothing through, as a share of the pupil's. */
  obstruction: number;
  /** Width over height. */
  squeeze: number;
  /** -1 soft to 1 bright, behind the focus; before it the other way. */
  rim: number;
  /** How far the barrel cuts the pupil at the frame's corners. */
  catsEye: number;
  /** What the pupil lets through besides: `size * size` values over the square about the unit disc. */
  marks?: { plane: Float32Array; size: number } | undefined;
}

/** Radii up to this are told apart in eighths of a pixel, larger ones in steps of a 128th of themselves. */
const FINE = 16;
const STEPS_PER_PIXEL = 8;
const COARSE = FINE * STEPS_PER_PIXEL;
const SUB_ROWS = 16;
/** Radii up to this are matched by trial. */
const TRIED = 4;
/** Share of the brightest pixel by which two neighbours in a marked disc may differ unseen, and in a smooth one. */
const UNSEEN = 0.02;
const SMOOTH_STEP = 0.002;
/** Positions along each half diagonal for which the barrel's cut is computed. */
const CAT_STEPS = 6;

type Outline = readonly [number, number][];
const ROUND: Outline = pupilOutline({ blades: 0, curvature: 1, rotation: 0 });

/** Radius in pixels of a step. */
export function radiusOfStep(step: number): number {
  return step < COARSE ? step / STEPS_PER_PIXEL : FINE * Math.exp((step - COARSE) / 128);
}

/** The cell of the field at a place, from -1 to 1 across half diagonals. */
export function cellOf(place: number): number {
  return Math.min(2 * CAT_STEPS, Math.max(0, Math.round(place * CAT_STEPS) + CAT_STEPS));
}

/** Discs at all radii and places, made when they are first needed. */
export class DiscSet implements Discs {
  readonly cellsAcross: number;
  readonly cellsDown: number;
  private readonly outline: Outline;
  private readonly spread: number;
  private readonly made = new Map<string, Disc>();
  private madeBytes = 0;

  constructor(private readonly shape: DiscShape) {
    this.cellsAcross = this.cellsDown = shape.catsEye > 0 ? 2 * CAT_STEPS + 1 : 1;
    this.outline = pupilOutline(shape.pupil);
    this.spread = momentOf(this.outline);
  }

  stepOf(radius: number): number {
    return radius < FINE
      ? Math.round(radius * STEPS_PER_PIXEL)
      : COARSE + Math.round(Math.log(radius / FINE) * 128);
  }

  disc(step: number, side: 'before' | 'behind', cellX: number, cellY: number): Disc {
    const key = `${step} ${side} ${cellX} ${cellY}`;
    let disc = this.made.get(key);
    if (!disc) {
      const place = (cell: number): number => (this.shape.catsEye > 0 ? cell / CAT_STEPS - 1 : 0);
      disc = this.make(radiusOfStep(step), side === 'before' ? -1 : 1, place(cellX), place(cellY));
      this.made.set(key, disc);
      this.madeBytes += disc.rows.byteLength + disc.dx.byteLength + disc.weight.byteLength;
    }
    return disc;
  }

  /** Bytes of the discs made so far. */
  get bytes(): number {
    return this.madeBytes;
  }

  private make(radius: number, side: 1 | -1, u: number, v: number): Disc {
    const own = this.drawnRadius(radius);
    const reach = Math.ceil(own * Math.max(1, this.shape.squeeze) + 0.5);
    const { marks } = this.shape;
    // Of what lies in the pupil a small disc shows nothing.
    const grid =
      marks && radius > TRIED
        ? this.drawMarks(marks, own, reach, side, u, v)
        : this.drawShape(own, reach, side, u, v);
    return discOf(grid, reach);
  }

  /** The derivative of the coverage by the blades, with what is held back in the middle. */
  private drawShape(own: number, reach: number, side: 1 | -1, u: number, v: number): Float64Array {
    const width = 2 * reach + 2;
    const grid = new Float64Array(width * (2 * reach + 1));
    // A disc in the middle can hold back no more than what the outline lets through.
    const held = Math.min(this.shape.obstruction, ...this.outline.map(([x, y]) => Math.hypot(x, y)));
    const { catsEye, squeeze, rim } = this.shape;
    const placement = { reach, own, squeeze, side, barrel: [u * catsEye, v * catsEye] } as const;
    draw(this.outline, grid, { ...placement, scale: 1, weight: 1 });
    if (held > 0) draw(ROUND, grid, { ...placement, scale: held, weight: -1 });
    if (rim !== 0) {
      weighRim(grid, rim * side, placement);
      differences(grid, width, SMOOTH_STEP * Math.max(...grid));
    }
    return grid;
  }

  /** The same of a pupil with marks in it, cut by the barrel and weighted towards its rim. */
  private drawMarks(
    { plane, size }: { plane: Float32Array; size: number },
    own: number,
    reach: number,
    side: 1 | -1,
    u: number,
    v: number,
  ): Float64Array {
    const { catsEye, squeeze } = this.shape;
    const rim = this.shape.rim * side;
    const seen = plane.map((value, i) => {
      const [x, y] = [(2 * ((i % size) + 0.5)) / size - 1, (2 * (Math.floor(i / size) + 0.5)) / size - 1];
      if (catsEye > 0 && Math.hypot(x + u * catsEye, y + v * catsEye) > 1) return 0;
      return value * rimWeight(rim, x * x + y * y);
    });
    const grid = rasterizeTexture(new Texture(seen, size), { radius: own, squeeze, side, reach });
    differences(grid, 2 * reach + 2, UNSEEN * Math.max(...grid));
    return grid;
  }

  /**
   * The radius to draw an outline at, so that its coverage of pixels has the spread of a disc of `radius`. Pixels are
   * squares, which blur by a twelfth each way themselves: that much is taken off. Small discs, of which few pixels know,
   * are matched by trial; towards {@link IN_FOCUS_RADIUS} they go over into the pixel itself.
   */
  private drawnRadius(radius: number): number {
    const plain = Math.sqrt(Math.max(0, radius * radius - 1 / (12 * this.spread)));
    if (radius > TRIED) return plain;
    let [low, high] = [0.5, radius + 0.5];
    for (let k = 0; k < 20; k++) {
      const middle = (low + high) / 2;
      if (this.sampledSpread(middle) < this.spread * radius * radius) low = middle;
      else high = middle;
    }
    return radius + (low - radius) * Math.min(1, Math.max(0, (radius - IN_FOCUS_RADIUS) / 0.25));
  }

  /** Mean square distance along one axis of the pixels that an outline covers. */
  private sampledSpread(radius: number): number {
    const reach = Math.ceil(radius + 0.5);
    const width = 2 * reach + 2;
    const grid = new Float64Array(width * (2 * reach + 1));
    const placement = { reach, own: radius, squeeze: 1, side: 1, barrel: [0, 0] } as const;
    draw(this.outline, grid, { ...placement, scale: 1, weight: 1 });
    let [sum, across, down, first, second] = [0, 0, 0, 0, 0];
    grid.forEach((_, i) => {
      if (i % width === 0) across = 0;
      across += grid[i]!;
      const [x, y] = [(i % width) - reach, Math.floor(i / width) - reach];
      sum += across;
      first += across * x;
      down += across * y;
      second += across * (x * x + y * y);
    });
    return (second / sum - (first / sum) ** 2 - (down / sum) ** 2) / 2;
  }
}

/** How an outline lies on a disc's grid. */
interface Placement {
  /** Pixels from the middle to the grid's edge. */
  reach: number;
  /** Radius of the whole disc in pixels, and of this outline as a share of it. */
  own: number;
  scale: number;
  /** Width over height. */
  squeeze: number;
  /** Before the focus (-1) the disc stands on its head. */
  side: 1 | -1;
  /** Middle of the barrel's circle, which is as large as the whole pupil; at 0 it cuts nothing. */
  barrel: readonly [x: number, y: number];
  weight: number;
}

/** Adds the derivative along x of one outline's coverage. */
function draw(
  outline: Outline,
  grid: Float64Array,
  { reach, own, scale, squeeze, side, barrel: [bx, by], weight }: Placement,
): void {
  const width = 2 * reach + 2;
  const walk = new OutlineWalk(outline);
  const radius = own * scale;
  const isCut = bx !== 0 || by !== 0;
  const rows = Math.min(reach, Math.ceil(radius + 0.5));
  for (let row = -rows; row <= rows; row++) {
    // From the outline's top down, whichever way round the disc stands.
    const at = ((side > 0 ? row : -row) + reach) * width + reach;
    for (let k = 0; k < SUB_ROWS; k++) {
      const y = (row - 0.5 + (k + 0.5) / SUB_ROWS) / radius;
      if (!walk.advanceTo(y)) continue;
      let [left, right] = [walk.left * scale, walk.right * scale];
      if (isCut) {
        const half = Math.sqrt(Math.max(0, 1 - (y * scale + by) ** 2));
        left = Math.max(left, -bx - half);
        right = Math.min(right, -bx + half);
      }
      if (!(right > left)) continue;
      const stretch = own * squeeze;
      const [from, to] = side > 0 ? [left * stretch, right * stretch] : [-right * stretch, -left * stretch];
      edge(grid, at, from + 0.5, weight / SUB_ROWS);
      edge(grid, at, to + 0.5, -weight / SUB_ROWS);
    }
  }
}

/** Light of a disc by the square of the distance from its middle, as a share of its radius: `1 + rim (2 rho^2 - 1)`. */
function rimWeight(rim: number, square: number): number {
  return 1 + rim * (2 * Math.min(1, square) - 1);
}

/** Turns the derivative of a coverage into the coverage, weighted towards the rim. */
function weighRim(
  grid: Float64Array,
  rim: number,
  { reach, own, squeeze }: Omit<Placement, 'scale' | 'weight'>,
): void {
  const width = 2 * reach + 2;
  for (let y = -reach; y <= reach; y++)
    for (let x = -reach, at = (y + reach) * width, run = 0; x <= reach + 1; x++, at++) {
      run += grid[at]!;
      const covered = Math.abs(run) < 1e-9 ? 0 : run;
      grid[at] = covered * rimWeight(rim, (x / (own * squeeze)) ** 2 + (y / own) ** 2);
    }
}

/** A disc from the derivative of its coverage. */
function discOf(grid: Float64Array, reach: number): Disc {
  const width = 2 * reach + 2;
  const rows = 2 * reach + 1;
  let sum = 0;
  for (let row = 0; row < rows; row++)
    for (let x = 0, run = 0; x < width; x++) {
      run += grid[row * width + x]!;
      sum += run;
    }
  const begin = new Int32Array(rows + 1);
  const dx: number[] = [];
  const weight: number[] = [];
  for (let row = 0; row < rows; row++) {
    for (let x = 0; x < width; x++) {
      const value = grid[row * width + x]!;
      if (Math.abs(value) <= 1e-9) continue;
      dx.push(x - reach);
      weight.push(value / sum);
    }
    begin[row + 1] = dx.length;
  }
  return { reach, rows: begin, dx: Int16Array.from(dx), weight: Float32Array.from(weight) };
}

/** A step of coverage at x, in pixels whose left edge is a whole number, as differences of what pixels are covered. */
function edge(grid: Float64Array, at: number, x: number, weight: number): void {
  const whole = Math.floor(x);
  const part = x - whole;
  grid[at + whole]! += weight * (1 - part);
  grid[at + whole + 1]! += weight * part;
}

/** Mean square distance along one axis from the middle of an outline's area; a quarter for the unit disc. */
function momentOf(outline: readonly [number, number][]): number {
  let [area, second] = [0, 0];
  outline.forEach(([ax, ay], k) => {
    const [bx, by] = outline[(k + 1) % outline.length]!;
    const cross = ax * by - bx * ay;
    area += cross / 2;
    second += (cross * (ax * ax + ax * bx + bx * bx + ay * ay + ay * by + by * by)) / 12;
  });
  return second / area / 2;
}
