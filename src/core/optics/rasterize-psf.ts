import { shareFloats, type Shared } from '../kernels/runtime/shared';
import { ANGLES, slopes, STEP, type LogPolarPsf } from './log-polar-psf';

/** Fall-off beyond what is computed: spikes grow thinner in angle as fast as they dim, gaps dim faster. */
const FAR_SLOPE = [-4, -3] as const;
/** Pixels to the source within which a pixel's mean is taken of many points, and how many along each side. */
const NEAR = 6;
const FINE = 12;

/** A point's images, one a channel, as threads share them. */
export interface SharedPsf {
  channels: number;
  /** Of each row and angle the channels' densities, already per square pixel. */
  density: Shared;
  /** Logarithm of the first row's distance, in pixels. */
  first: number;
  rows: number;
}

/** Some rows of the pixels around a source. */
export interface PsfRows {
  point: SharedPsf;
  width: number;
  /** Rows from the source's own downwards. */
  from: number;
  to: number;
  /** For each channel all rows, each from `-(width - 1)` to `width - 1`. */
  out: Shared[];
}

/**
 * Images made ready to be laid on pixels, `unit` of which are a wavelength times f-number; each has an integral of 1. They
 * go on to `reach` pixels, each angle falling off as it did before.
 */
export function preparePsf(images: readonly LogPolarPsf[], unit: number, reach: number): SharedPsf {
  const { rows: known, first } = images[0]!;
  const rows = Math.max(known, Math.ceil((Math.log(reach / unit) - first) / STEP) + 2);
  const channels = images.length;
  const density = new Float32Array(rows * ANGLES * channels);
  images.forEach((image, c) => {
    const falls = farSlopes(image);
    const scale = 1 / (integrateOutside(image, falls, () => 0) * unit * unit);
    for (let i = 0; i < known * ANGLES; i++) density[i * channels + c] = image.density[i]! * scale;
    const factors = falls.map((fall) => Math.exp(fall * STEP));
    for (let i = known * ANGLES; i < rows * ANGLES; i++)
      density[i * channels + c] = density[(i - ANGLES) * channels + c]! * factors[i % ANGLES]!;
  });
  const start = first + Math.log(unit);
  antialiasAngles(density, channels, rows, start);
  return { channels, density: shareFloats(density), rows, first: start };
}

/**
 * Blurs every row along its angles by what a pixel, or a point of those near the source, takes up there: a spike that is
 * thinner than a pixel would else be hit by some and missed by others, and look beaded.
 */
function antialiasAngles(density: Float32Array, channels: number, rows: number, start: number): void {
  const line = new Float64Array(ANGLES);
  const means = new Float64Array(ANGLES);
  for (let row = 0; row < rows; row++) {
    const distance = Math.exp(start + row * STEP);
    const pixel = distance > NEAR + 0.35 ? 1 : 1 / FINE;
    const width = Math.min(ANGLES, (pixel / distance) * (ANGLES / Math.PI));
    // Two cells are what is read anyway.
    if (width < 1) break;
    for (let c = 0; c < channels; c++) {
      const at = row * ANGLES * channels + c;
      for (let i = 0; i < ANGLES; i++) line[i] = density[at + i * channels]!;
      for (let pass = 0; pass < 2; pass++) boxBlur(line, means, width);
      for (let i = 0; i < ANGLES; i++) density[at + i * channels] = line[i]!;
    }
  }
}

/** The mean of a circle's values over so many of them about each, parts of them included; there are {@link ANGLES}. */
function boxBlur(line: Float64Array, means: Float64Array, width: number): void {
  const around = ANGLES - 1;
  // A box's ends lie as far within their cells all the way round.
  const [low, high] = [0.5 - width / 2, 0.5 + width / 2];
  const [first, last] = [Math.floor(low), Math.floor(high)];
  const [left, right] = [low - first, high - last];
  let sum = right * line[last & around]! - left * line[first & around]!;
  for (let k = first; k < last; k++) sum += line[k & around]!;
  for (let i = 0; i < ANGLES; i++) {
    // Rounding may leave a little less than nothing.
    means[i] = Math.max(0, sum) / width;
    sum +=
      (1 - right) * line[(i + last) & around]! +
      right * line[(i + last + 1) & around]! -
      (1 - left) * line[(i + first) & around]! -
      left * line[(i + first + 1) & around]!;
  }
  line.set(means);
}

/** Share of an image's light outside a rectangle about the source, half its sides away in pixels. */
export function shareOutside(
  image: LogPolarPsf,
  unit: number,
  halfWidth: number,
  halfHeight: number,
): number {
  const falls = farSlopes(image);
  const outside = integrateOutside(
    image,
    falls,
    (c, s) => Math.min(halfWidth / Math.abs(c), halfHeight / Math.abs(s)) / unit,
  );
  return outside / integrateOutside(image, falls, () => 0);
}

/** Lays the images on some rows of pixels. The source's own pixel and what is to its left in its row stay empty. */
export function rasterizePsfRows({ point, width, from, to, out }: PsfRows): void {
  const columns = 2 * width - 1;
  const planes = out.map((buffer) => new Float32Array(buffer));
  const read = bilinearPsfReader(point);
  for (let dy = from; dy < to; dy++) {
    const middle = dy * columns + width - 1;
    for (let dx = dy === 0 ? 1 : 0; dx < width; dx++) {
      const sides = dx === 0 || dy === 0 ? 1 : 2;
      const isFar = dx * dx + dy * dy > NEAR * NEAR;
      const points = isFar ? 1 : FINE * FINE;
      for (let side = 0; side < sides; side++) {
        const at = side === 0 ? middle + dx : middle - dx;
        if (isFar) {
          const row = rowOf(point, dx, dy);
          const turn = turnOf(dx, dy);
          // The place on the other side of the upright through the source lies as far the other way round.
          read(row, side === 0 ? turn : ANGLES - 1 - turn, planes, at, 1);
          continue;
        }
        const x = side === 0 ? dx : -dx;
        for (let k = 0; k < points; k++) {
          const u = x + ((k % FINE) + 0.5) / FINE - 0.5;
          const v = dy + (Math.floor(k / FINE) + 0.5) / FINE - 0.5;
          read(rowOf(point, u, v), turnOf(u, v), planes, at, 1 / points);
        }
      }
    }
  }
}

/** Among the rows of the image. */
const rowOf = ({ first }: SharedPsf, x: number, y: number): number =>
  (0.5 * Math.log(x * x + y * y) - first) / STEP;

/** Among the angles: half a turn from the upward direction; the other half is the same. */
const turnOf = (x: number, y: number): number => (Math.atan2(y, x) / Math.PI + 0.5) * ANGLES - 0.5;

/** Adds the images' values between rows and angles, times a share, to planes. A loop that runs for every pixel. */
function bilinearPsfReader(
  point: SharedPsf,
): (row: number, turn: number, planes: readonly Float32Array[], at: number, share: number) => void {
  const { channels, rows } = point;
  const density = new Float32Array(point.density);
  const last = rows - 1;
  return (row, turned, planes, at, share) => {
    const inside = row < 0 ? 0 : row > last ? last : row;
    const upper = Math.floor(inside);
    const down = inside - upper;
    const turn = turned < 0 ? turned + ANGLES : turned >= ANGLES ? turned - ANGLES : turned;
    const angle = Math.floor(turn);
    const round = turn - angle;
    const next = angle + 1 === ANGLES ? 0 : angle + 1;
    const up = upper * ANGLES;
    const low = upper === last ? up : up + ANGLES;
    const [a, b, c, d] = [
      (up + angle) * channels,
      (up + next) * channels,
      (low + angle) * channels,
      (low + next) * channels,
    ];
    const [wb, wc] = [share * (1 - down) * round, share * down * (1 - round)];
    const wd = share * down * round;
    const wa = share - wb - wc - wd;
    for (let k = 0; k < channels; k++) {
      planes[k]![at]! +=
        wa * density[a + k]! + wb * density[b + k]! + wc * density[c + k]! + wd * density[d + k]!;
    }
  };
}

/** The integral over all that lies farther out than a distance, for each direction, in wavelengths times f-number. */
function integrateOutside(
  { density, rows, first }: LogPolarPsf,
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

function farSlopes(image: LogPolarPsf): Float32Array {
  const [steepest, flattest] = FAR_SLOPE;
  return slopes(image).map((slope) => Math.min(flattest, Math.max(steepest, slope)));
}

declare module '../kernels/runtime/parallel' {
  interface JobInputs {
    rasterizePsfRows: PsfRows;
  }
}
