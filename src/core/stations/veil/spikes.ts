import { LUMINANCE } from '../../color/primaries';
import type { Look } from '../../look/look';
import {
  ANGLES,
  diffraction,
  REFERENCE,
  slopes,
  softened,
  STEP,
  whiteImage,
  type PointImage,
} from '../../optics/diffraction';
import { shapeAt } from '../../optics/pupil';
import { pupilMask } from '../../optics/pupil-mask';

/** Pixels across the pupil that diffraction is computed from. */
const PUPIL_SIZE = 512;
/** The widest softening, in radians. */
const SOFTEST = 0.5;
/** Fall-off beyond what is computed: spikes grow thinner in angle as fast as they dim, gaps dim faster. */
const FAR_SLOPE = [-4, -3] as const;
/** Pixels to the source within which a pixel's mean is taken of many points, and how many along each side. */
const NEAR = 6;
const FINE = 12;

/** The white image of a point through a look's pupil, softened and with its colours as strong as asked for. */
export function spikeImages(look: Look): PointImage[] {
  const { softness, saturation } = look.veil.spikes;
  const mask = pupilMask(shapeAt(look.pupil, look.camera.fStop), look.pupil, PUPIL_SIZE);
  const soft = softened(diffraction(mask, PUPIL_SIZE), softness ** 2 * SOFTEST);
  const images = whiteImage(soft);
  if (saturation === 1) return images;
  const grey = images[0]!.density.map((_, i) =>
    LUMINANCE.reduce((sum, share, c) => sum + share * images[c]!.density[i]!, 0),
  );
  return images.map((image) => ({
    ...image,
    density: image.density.map((value, i) => Math.max(0, grey[i]! + saturation * (value - grey[i]!))),
  }));
}

/** Everything of a look that the image depends on. */
export const spikeKey = (look: Look): string =>
  JSON.stringify([
    ...[look.pupil, shapeAt(look.pupil, look.camera.fStop)],
    ...[look.veil.spikes.softness, look.veil.spikes.saturation],
  ]);

/** Pixels that a wavelength times the f-number is long on the picture. */
export function spikeUnit({ camera, veil }: Look, frameWidth: number): number {
  const millimetres = REFERENCE * 1e-6 * camera.fStop * veil.spikes.size;
  return (millimetres * frameWidth) / camera.sensorWidth;
}

/** A kernel that is the same turned half way round. */
export interface HalfKernel {
  /** Rows from the source's own downwards, each for `dx` from `-(width - 1)` to `width - 1`. */
  rows: Float32Array;
  width: number;
  /** Share of its light that falls outside. */
  outside: number;
}

/**
 * Lays a point's images, one a channel, on pixels, `unit` of which are a wavelength times f-number; all the light of each
 * together is 1.
 */
export function onPixels(
  images: readonly PointImage[],
  width: number,
  height: number,
  unit: number,
): HalfKernel[] {
  const columns = 2 * width - 1;
  const samplers = images.map((image) => new Sampler(image, unit));
  const all = images.map(() => new Float32Array(columns * height));
  const places = new Places(images[0]!, unit);
  for (let dy = 0; dy < height; dy++)
    for (let dx = 1 - width; dx < width; dx++) {
      if (dy === 0 && dx <= 0) continue;
      const at = dy * columns + width - 1 + dx;
      if (dx * dx + dy * dy > NEAR * NEAR) {
        places.find(dx, dy);
        for (let c = 0; c < all.length; c++) all[c]![at] = samplers[c]!.read(places);
        continue;
      }
      for (let k = 0; k < FINE * FINE; k++) {
        places.find(dx + ((k % FINE) + 0.5) / FINE - 0.5, dy + (Math.floor(k / FINE) + 0.5) / FINE - 0.5);
        for (let c = 0; c < all.length; c++) all[c]![at]! += samplers[c]!.read(places) / (FINE * FINE);
      }
    }
  return all.map((rows, c) => {
    // The source's own row is the same to both sides.
    for (let dx = 1; dx < width; dx++) rows[width - 1 - dx] = rows[width - 1 + dx]!;
    let sum = 0;
    for (let i = 0; i < rows.length; i++) sum += i < columns ? rows[i]! : 2 * rows[i]!;
    const outside = samplers[c]!.outside(width - 0.5, height - 0.5);
    // The source's own pixel holds what is nowhere else.
    const scale = Math.min(1, (1 - outside) / sum);
    if (scale < 1) for (let i = 0; i < rows.length; i++) rows[i]! *= scale;
    rows[width - 1] = Math.max(0, 1 - outside - sum);
    return { rows, width, outside };
  });
}

/** Gives the rows that a convolution asks for. */
export function halfKernelRows({ rows, width }: HalfKernel): (dy: number, out: Float32Array) => void {
  const columns = 2 * width - 1;
  return (dy, out) => {
    const row = rows.subarray(Math.abs(dy) * columns, (Math.abs(dy) + 1) * columns);
    out.set(row);
    if (dy < 0) out.reverse();
  };
}

/** Where a place in pixels lies among the rows and angles of an image. */
class Places {
  upper = 0;
  lower = 0;
  /** From the upper row to the lower, and how many rows it lies beyond the last. */
  between = 0;
  beyond = 0;
  angle = 0;
  nextAngle = 0;
  turn = 0;
  private readonly last: number;
  private readonly offset: number;

  constructor({ first, rows }: PointImage, unit: number) {
    this.last = rows - 1;
    this.offset = Math.log(unit) + first;
  }

  find(x: number, y: number): void {
    const row = (0.5 * Math.log(x * x + y * y) - this.offset) / STEP;
    const inside = Math.min(this.last, Math.max(0, row));
    const upper = Math.floor(inside);
    this.upper = upper * ANGLES;
    this.lower = Math.min(this.last, upper + 1) * ANGLES;
    this.between = inside - upper;
    this.beyond = Math.max(0, row - this.last);
    // Half a turn from the upward direction; the other half is the same.
    let turn = (Math.atan2(y, x) / Math.PI + 0.5) * ANGLES - 0.5;
    if (turn < 0) turn += ANGLES;
    if (turn >= ANGLES) turn -= ANGLES;
    this.angle = Math.floor(turn);
    this.nextAngle = this.angle + 1 === ANGLES ? 0 : this.angle + 1;
    this.turn = turn - this.angle;
  }
}

/** Reads an image that is laid on pixels. */
class Sampler {
  private readonly slope: Float32Array;
  /** Brings the image's integral to 1, per pixel. */
  private readonly scale: number;
  private readonly whole: number;

  constructor(
    private readonly image: PointImage,
    private readonly unit: number,
  ) {
    this.slope = farSlopes(image);
    this.whole = this.beyond(() => 0);
    this.scale = 1 / (this.whole * unit * unit);
  }

  read({ upper, lower, between, beyond, angle, nextAngle, turn }: Places): number {
    const { density } = this.image;
    const near = density[upper + angle]! + turn * (density[upper + nextAngle]! - density[upper + angle]!);
    const far = density[lower + angle]! + turn * (density[lower + nextAngle]! - density[lower + angle]!);
    const value = this.scale * (near + between * (far - near));
    return beyond > 0 ? value * Math.exp(this.slope[angle]! * beyond * STEP) : value;
  }

  /** Share of the light outside a rectangle about the source, half its sides away in pixels. */
  outside(halfWidth: number, halfHeight: number): number {
    const share = this.beyond(
      (c, s) => Math.min(halfWidth / Math.abs(c), halfHeight / Math.abs(s)) / this.unit,
    );
    return share / this.whole;
  }

  /** The integral over all that lies farther out than a distance, for each direction, in wavelengths times f-number. */
  private beyond(distance: (cosine: number, sine: number) => number): number {
    const { image, slope } = this;
    const { density, rows, first } = image;
    const turn = Math.PI / ANGLES;
    let sum = 0;
    for (let angle = 0; angle < ANGLES; angle++) {
      const direction = (angle + 0.5) * turn - Math.PI / 2;
      const from = distance(Math.cos(direction), Math.sin(direction));
      const start = from > 0 ? (Math.log(from) - first) / STEP : -Infinity;
      // Nearer than the first row it is even.
      if (start < -0.5)
        sum += density[angle]! * (Math.exp(2 * (first - STEP / 2)) - from * from) * (turn / 2);
      for (let row = Math.max(0, Math.round(start)); row < rows; row++) {
        const covered = Math.min(1, row + 0.5 - start);
        sum += density[row * ANGLES + angle]! * Math.exp(2 * (first + row * STEP)) * STEP * turn * covered;
      }
      const edge = Math.max(start, rows - 0.5);
      const fall = slope[angle]!;
      const value = density[(rows - 1) * ANGLES + angle]! * Math.exp(fall * (edge - rows + 1) * STEP);
      sum += (value * Math.exp(2 * (first + edge * STEP)) * turn) / (-fall - 2);
    }
    return 2 * sum;
  }
}

function farSlopes(image: PointImage): Float32Array {
  const [steepest, flattest] = FAR_SLOPE;
  return slopes(image).map((slope) => Math.min(flattest, Math.max(steepest, slope)));
}
