import { ANGLES, slopes, STEP, type PointImage } from './point-image';

/** Fall-off beyond what is computed: spikes grow thinner in angle as fast as they dim, gaps dim faster. */
const FAR_SLOPE = [-4, -3] as const;
/** Pixels to the source within which a pixel's mean is taken of many points, and how many along each side. */
const NEAR = 6;
const FINE = 12;

/** A point's images, one a channel, as threads share them. */
export interface SharedPoint {
  channels: number;
  /** Of each row and angle the channels' densities, already per square pixel. */
  density: SharedArrayBuffer;
  /** For each angle the exponents of the fall-off beyond the last row, by channels. */
  slope: SharedArrayBuffer;
  /** Logarithm of the first row's distance, in pixels. */
  first: number;
  rows: number;
}

/** Some rows of the pixels around a source. */
export interface PointRows {
  point: SharedPoint;
  width: number;
  /** Rows from the source's own downwards. */
  from: number;
  to: number;
  /** For each channel all rows, each from `-(width - 1)` to `width - 1`. */
  out: SharedArrayBuffer[];
}

const shared = (values: Float32Array): SharedArrayBuffer => {
  const buffer = new SharedArrayBuffer(values.byteLength);
  new Float32Array(buffer).set(values);
  return buffer;
};

/** Images made ready to be laid on pixels, `unit` of which are a wavelength times f-number; each has an integral of 1. */
export function sharePoint(images: readonly PointImage[], unit: number): SharedPoint {
  const { rows, first } = images[0]!;
  const channels = images.length;
  const density = new Float32Array(rows * ANGLES * channels);
  const slope = new Float32Array(ANGLES * channels);
  images.forEach((image, c) => {
    const falls = farSlopes(image);
    const scale = 1 / (beyond(image, falls, () => 0) * unit * unit);
    for (let i = 0; i < rows * ANGLES; i++) density[i * channels + c] = image.density[i]! * scale;
    for (let i = 0; i < ANGLES; i++) slope[i * channels + c] = falls[i]!;
  });
  return {
    channels,
    density: shared(density),
    slope: shared(slope),
    rows,
    first: first + Math.log(unit),
  };
}

/** Share of an image's light outside a rectangle about the source, half its sides away in pixels. */
export function shareOutside(image: PointImage, unit: number, halfWidth: number, halfHeight: number): number {
  const falls = farSlopes(image);
  const outside = beyond(
    image,
    falls,
    (c, s) => Math.min(halfWidth / Math.abs(c), halfHeight / Math.abs(s)) / unit,
  );
  return outside / beyond(image, falls, () => 0);
}

/** Lays the images on some rows of pixels. The source's own pixel and what is to its left in its row stay empty. */
export function spreadPoint({ point, width, from, to, out }: PointRows): void {
  const columns = 2 * width - 1;
  const planes = out.map((buffer) => new Float32Array(buffer));
  const reader = new Reader(point);
  const { value } = reader;
  const channels = planes.length;
  for (let dy = from; dy < to; dy++) {
    const middle = dy * columns + width - 1;
    for (let dx = dy === 0 ? 1 : 0; dx < width; dx++) {
      if (dx * dx + dy * dy <= NEAR * NEAR) {
        for (const side of dx === 0 || dy === 0 ? [1] : [1, -1])
          for (let k = 0; k < FINE * FINE; k++) {
            reader.read(
              side * dx + ((k % FINE) + 0.5) / FINE - 0.5,
              dy + (Math.floor(k / FINE) + 0.5) / FINE - 0.5,
            );
            for (let c = 0; c < channels; c++) planes[c]![middle + side * dx]! += value[c]! / (FINE * FINE);
          }
        continue;
      }
      reader.read(dx, dy);
      for (let c = 0; c < channels; c++) planes[c]![middle + dx] = value[c]!;
      if (dx === 0 || dy === 0) continue;
      reader.mirror();
      for (let c = 0; c < channels; c++) planes[c]![middle - dx] = value[c]!;
    }
  }
}

/** Reads all channels of a point's images at a place in pixels. */
class Reader {
  readonly value: Float64Array;
  private readonly density: Float32Array;
  private readonly slope: Float32Array;
  private row = 0;
  private turn = 0;

  constructor(private readonly point: SharedPoint) {
    this.value = new Float64Array(point.channels);
    this.density = new Float32Array(point.density);
    this.slope = new Float32Array(point.slope);
  }

  read(x: number, y: number): void {
    this.row = (0.5 * Math.log(x * x + y * y) - this.point.first) / STEP;
    // Half a turn from the upward direction; the other half is the same.
    this.turn = (Math.atan2(y, x) / Math.PI + 0.5) * ANGLES - 0.5;
    this.look();
  }

  /** The place on the other side of the upright through the source. */
  mirror(): void {
    this.turn = ANGLES - 1 - this.turn;
    this.look();
  }

  private look(): void {
    const { density, slope, value, row } = this;
    const { channels, rows } = this.point;
    const last = rows - 1;
    const inside = row < 0 ? 0 : row > last ? last : row;
    const upper = Math.floor(inside);
    const between = inside - upper;
    const turn = this.turn < 0 ? this.turn + ANGLES : this.turn >= ANGLES ? this.turn - ANGLES : this.turn;
    const angle = Math.floor(turn);
    const part = turn - angle;
    const next = angle + 1 === ANGLES ? 0 : angle + 1;
    const up = upper * ANGLES;
    const low = upper === last ? up : up + ANGLES;
    const a = (up + angle) * channels;
    const b = (up + next) * channels;
    const c = (low + angle) * channels;
    const d = (low + next) * channels;
    for (let k = 0; k < channels; k++) {
      const near = density[a + k]! + part * (density[b + k]! - density[a + k]!);
      const far = density[c + k]! + part * (density[d + k]! - density[c + k]!);
      value[k] = near + between * (far - near);
      if (row > last) value[k]! *= Math.exp(slope[angle * channels + k]! * (row - last) * STEP);
    }
  }
}

/** The integral over all that lies farther out than a distance, for each direction, in wavelengths times f-number. */
function beyond(
  { density, rows, first }: PointImage,
  falls: Float32Array,
  distance: (cosine: number, sine: number) => number,
): number {
  const turn = Math.PI / ANGLES;
  const area = Float64Array.from(
    { length: rows },
    (_, row) => Math.exp(2 * (first + row * STEP)) * STEP * turn,
  );
  let sum = 0;
  for (let angle = 0; angle < ANGLES; angle++) {
    const direction = (angle + 0.5) * turn - Math.PI / 2;
    const from = distance(Math.cos(direction), Math.sin(direction));
    const start = from > 0 ? (Math.log(from) - first) / STEP : -Infinity;
    // Nearer than the first row it is even.
    if (start < -0.5) sum += density[angle]! * (Math.exp(2 * (first - STEP / 2)) - from * from) * (turn / 2);
    for (let row = Math.max(0, Math.round(start)); row < rows; row++) {
      const covered = Math.min(1, row + 0.5 - start);
      sum += density[row * ANGLES + angle]! * area[row]! * covered;
    }
    const edge = Math.max(start, rows - 0.5);
    const fall = falls[angle]!;
    const value = density[(rows - 1) * ANGLES + angle]! * Math.exp(fall * (edge - rows + 1) * STEP);
    sum += (value * Math.exp(2 * (first + edge * STEP)) * turn) / (-fall - 2);
  }
  return 2 * sum;
}

function farSlopes(image: PointImage): Float32Array {
  const [steepest, flattest] = FAR_SLOPE;
  return slopes(image).map((slope) => Math.min(flattest, Math.max(steepest, slope)));
}
