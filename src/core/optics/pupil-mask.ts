import { coverPlane } from '../image/cover';
import type { GreyImage } from '../image/grey-image';
import type { Pupil } from '../kernels/diffraction';
import { BAND_REACH, fillBandLimited, fillByArea, type DiscFrame } from './outline-fill';
import { pupilOutline, type PupilShape } from './pupil';
import { normal, seeded } from './seeded';

/** What lies in the pupil besides its blades. Lengths are shares of the pupil's diameter, on the unit disc's scale. */
export interface PupilMarks {
  /** Diameter of a disc in the middle that lets nothing through. */
  obstruction: number;
  dust: {
    /** Share of the pupil that specks cover. */
    amount: number;
    /** Median diameter of a speck. */
    size: number;
    arrangement: Arrangement;
    seed: number;
  };
  scratches: {
    count: number;
    width: number;
    length: number;
    arrangement: Arrangement;
    seed: number;
  };
  fibres: { count: number; length: number; width: number; seed: number };
  /** Fine radial fibres at the rim: how many, and the width of the ring that they stand in. */
  ring: { count: number; width: number };
  /** A grating of so many lines across the pupil, and how much its lines hold back. */
  grating: { lines: number; depth: number };
}

export const ARRANGEMENTS = ['random', 'parallel', 'radial', 'square', 'hexagonal'] as const;
export type Arrangement = (typeof ARRANGEMENTS)[number];

/** A pupil with nothing in it. */
export const NO_MARKS: PupilMarks = {
  obstruction: 0,
  dust: { amount: 0, size: 0.01, arrangement: 'random', seed: 1 },
  scratches: { count: 0, width: 0.001, length: 0.1, arrangement: 'random', seed: 1 },
  fibres: { count: 0, length: 0.1, width: 0.001, seed: 1 },
  ring: { count: 0, width: 0.1 },
  grating: { lines: 0, depth: 0 },
};

/** Whether anything but its blades and what is held back in its middle lies in a pupil. */
export function hasMarks({
  mask,
  dust,
  scratches,
  fibres,
  ring,
  grating,
}: PupilMarks & { mask: string }): boolean {
  return (
    mask !== '' ||
    dust.amount > 0 ||
    scratches.count > 0 ||
    fibres.count > 0 ||
    ring.count > 0 ||
    (grating.lines > 0 && grating.depth > 0)
  );
}

/** Spread of the logarithm of specks' sizes. */
const DUST_SPREAD = 0.6;
/** Enough of the smallest to cover the most that may be asked for. */
const MOST_SPECKS = 100_000;
/** Parallel scratches stray from their direction by about so much, in radians. */
const STRAY = 0.03;
const FIBRE_PIECES = 12;
/** Share of a ring's pitch, at its outer edge, that a fibre covers. */
const RING_DUTY = 0.5;

/**
 * What the pupil lets through, 0 to 1, as `size * size` numbers over the square about the unit disc, y down. Edges are
 * covered by area. An image lets through as much light as it is bright; it covers the square.
 */
export function pupilMask(
  shape: PupilShape,
  marks: PupilMarks,
  size: number,
  image?: GreyImage,
): Float32Array {
  return drawPupil(shape, marks, {
    frame: { size, margin: 0 },
    fill: fillByArea,
    passing: (share) => share,
    image,
  });
}

/**
 * The amplitude that the pupil lets through, to be transformed: `size * size` numbers, the unit disc within a margin. The
 * outline has no frequencies that pixels cannot hold; what an image or a grating holds back partly counts by the square
 * root of the light that passes.
 */
export function pupilAmplitude(shape: PupilShape, marks: PupilMarks, size: number, image?: GreyImage): Pupil {
  const frame = { size, margin: BAND_REACH };
  const mask = drawPupil(shape, marks, { frame, fill: fillBandLimited, passing: Math.sqrt, image });
  return { mask, size, across: size - 2 * BAND_REACH };
}

interface Drawing {
  frame: DiscFrame;
  fill: typeof fillByArea;
  /** What counts for a share of the light that passes. */
  passing: (share: number) => number;
  image: GreyImage | undefined;
}

function drawPupil(
  shape: PupilShape,
  marks: PupilMarks,
  { frame, fill, passing, image }: Drawing,
): Float32Array {
  const { size, margin } = frame;
  const mask = new Float32Array(size * size);
  fill(mask, frame, pupilOutline(shape), { scale: 1, sign: 1 });
  const { obstruction, grating } = marks;
  if (obstruction > 0) {
    const round = pupilOutline({ blades: 0, curvature: 1, rotation: 0 });
    fill(mask, frame, round, { scale: obstruction, sign: -1 });
  }
  const across = size - 2 * margin;
  if (image) {
    const held = coverPlane(image.plane, image.width, image.height, across, across);
    for (let y = 0; y < across; y++)
      for (let x = 0; x < across; x++)
        mask[(y + margin) * size + x + margin]! *= passing(Math.max(0, held[y * across + x]!));
  }
  const sheet = new Sheet(mask, frame);
  addDust(sheet, marks.dust);
  addScratches(sheet, marks.scratches);
  addFibres(sheet, marks.fibres);
  addRing(sheet, marks.ring);
  if (grating.lines > 0 && grating.depth > 0) {
    const lines = Float32Array.from({ length: size }, (_, x) => {
      const wave = Math.cos(2 * Math.PI * grating.lines * ((x + 0.5 - margin) / across));
      return passing(1 - (grating.depth * (1 + wave)) / 2);
    });
    for (let i = 0; i < mask.length; i++) mask[i]! *= lines[i % size]!;
  }
  return mask;
}

/** Draws dark strokes and specks on a mask, in the unit disc's coordinates. */
class Sheet {
  private readonly pixel: number;
  /** Of the square's top left corner, in the unit disc's coordinates. */
  private readonly origin: number;
  private readonly size: number;

  constructor(
    private readonly mask: Float32Array,
    { size, margin }: DiscFrame,
  ) {
    this.size = size;
    this.pixel = 2 / (size - 2 * margin);
    this.origin = -(size / 2) * this.pixel;
  }

  speck(x: number, y: number, radius: number): void {
    this.stroke(x, y, x, y, 2 * radius);
  }

  /** A line with round ends. What is thinner than a pixel covers its share of it. */
  stroke(ax: number, ay: number, bx: number, by: number, width: number): void {
    const { pixel, size, mask, origin } = this;
    const drawn = Math.max(width, pixel);
    const strength = width / drawn;
    const reach = drawn / 2 + pixel;
    const place = (value: number): number => (value - origin) / pixel - 0.5;
    const first = (a: number, b: number): number => Math.max(0, Math.ceil(place(Math.min(a, b) - reach)));
    const last = (a: number, b: number): number =>
      Math.min(size - 1, Math.floor(place(Math.max(a, b) + reach)));
    const [dx, dy] = [bx - ax, by - ay];
    const square = dx * dx + dy * dy;
    for (let v = first(ay, by); v <= last(ay, by); v++)
      for (let u = first(ax, bx); u <= last(ax, bx); u++) {
        const [x, y] = [(u + 0.5) * pixel + origin - ax, (v + 0.5) * pixel + origin - ay];
        const along = square > 0 ? Math.min(1, Math.max(0, (x * dx + y * dy) / square)) : 0;
        const away = Math.hypot(x - along * dx, y - along * dy);
        const covered = Math.min(1, Math.max(0, 0.5 + (drawn / 2 - away) / pixel));
        mask[v * size + u]! *= 1 - strength * covered;
      }
  }
}

/** An even place on the unit disc. */
function onDisc(next: () => number): [x: number, y: number] {
  const [r, angle] = [Math.sqrt(next()), 2 * Math.PI * next()];
  return [r * Math.cos(angle), r * Math.sin(angle)];
}

function addDust(sheet: Sheet, { amount, size, arrangement, seed }: PupilMarks['dust']): void {
  if (amount <= 0) return;
  const next = seeded(seed);
  // Specks fall on each other: of so much area in all, the share that is wanted is covered (a Poisson process). On a lattice they
  // do not.
  const isLattice = arrangement === 'square' || arrangement === 'hexagonal';
  const wanted = isLattice ? amount : -Math.log(1 - amount);
  // The mean square of sizes whose logarithm is normal.
  const spread = isLattice ? EVEN_SPREAD : DUST_SPREAD;
  const square = size ** 2 * Math.exp(2 * spread ** 2);
  const places = speckPlaces(arrangement, wanted / square, next);
  let covered = 0;
  for (let k = 0; k < MOST_SPECKS && (isLattice || covered < wanted); k++) {
    const radius = Math.min(0.25, size * Math.exp(spread * normal(next)));
    const place = places.next();
    if (place.done) break;
    const [x, y] = place.value;
    covered += radius * radius;
    sheet.speck(x, y, radius);
  }
}

/** Lines or spokes that specks lie on, and how far they stray from them or from the points of a lattice. */
const [SPECK_LINES, SPECK_STRAY, LATTICE_STRAY] = [24, 0.006, 0.04];
/** Spread of the logarithm of sizes on a lattice, whose holes are made alike. */
const EVEN_SPREAD = 0.1;

/** Places on the unit disc for about so many specks. */
function* speckPlaces(
  arrangement: Arrangement,
  count: number,
  next: () => number,
): Generator<[x: number, y: number], void> {
  if (arrangement === 'square' || arrangement === 'hexagonal') {
    yield* latticePlaces(arrangement, count, next);
    return;
  }
  const turn = arrangement === 'parallel' ? Math.PI * next() : 0;
  for (;;) {
    const [x, y] = onDisc(next);
    if (arrangement === 'random') yield [x, y];
    else if (arrangement === 'radial') {
      const spoke = (2 * Math.PI) / SPECK_LINES;
      const angle = Math.round(Math.atan2(y, x) / spoke) * spoke;
      const [r, aside] = [Math.hypot(x, y), SPECK_STRAY * normal(next)];
      yield [r * Math.cos(angle) - aside * Math.sin(angle), r * Math.sin(angle) + aside * Math.cos(angle)];
    } else {
      const pitch = 2 / SPECK_LINES;
      const across = (Math.floor(y / pitch) + 0.5) * pitch + SPECK_STRAY * normal(next);
      yield [x * Math.cos(turn) - across * Math.sin(turn), x * Math.sin(turn) + across * Math.cos(turn)];
    }
  }
}

/** The points of a lattice of so many on the unit disc, turned by chance. */
function* latticePlaces(
  arrangement: 'square' | 'hexagonal',
  count: number,
  next: () => number,
): Generator<[x: number, y: number], void> {
  const isSquare = arrangement === 'square';
  // Each point has the same area of the disc.
  const pitch = Math.sqrt((isSquare ? Math.PI : (2 * Math.PI) / Math.sqrt(3)) / Math.max(1, count));
  const step = isSquare ? pitch : (pitch * Math.sqrt(3)) / 2;
  const turn = Math.PI * next();
  const rows = Math.ceil(1 / step) + 1;
  const columns = Math.ceil(1 / pitch) + 1;
  for (let row = -rows; row <= rows; row++)
    for (let column = -columns; column <= columns; column++) {
      const shift = isSquare ? 0 : (Math.abs(row) % 2) / 2;
      const x = (column + shift) * pitch + LATTICE_STRAY * pitch * normal(next);
      const y = row * step + LATTICE_STRAY * pitch * normal(next);
      if (Math.hypot(x, y) > 1) continue;
      yield [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)];
    }
}

function addScratches(
  sheet: Sheet,
  { count, width, length, arrangement, seed }: PupilMarks['scratches'],
): void {
  const next = seeded(seed);
  const line = (x: number, y: number, angle: number, half: number): void => {
    const [dx, dy] = [half * Math.cos(angle), half * Math.sin(angle)];
    sheet.stroke(x - dx, y - dy, x + dx, y + dy, 2 * width);
  };
  const turn = Math.PI * next();
  const families = { square: 2, hexagonal: 3 } as const;
  for (let k = 0; k < count; k++) {
    switch (arrangement) {
      case 'random':
        line(...onDisc(next), Math.PI * next(), length);
        break;
      case 'parallel':
        line(...onDisc(next), turn + STRAY * normal(next), length);
        break;
      case 'radial': {
        const [x, y] = onDisc(next);
        line(x, y, Math.atan2(y, x), length);
        break;
      }
      case 'square':
      case 'hexagonal': {
        // Lines at even distances, in two or three directions by turns.
        const of = families[arrangement];
        const angle = turn + ((k % of) * Math.PI) / of;
        const lines = Math.ceil(count / of);
        const offset = (2 * (Math.floor(k / of) + 0.5)) / lines - 1;
        line(-offset * Math.sin(angle), offset * Math.cos(angle), angle, length);
      }
    }
  }
}

/** Fibres reach in from the rim and bend on their way, like lashes. */
function addFibres(sheet: Sheet, { count, length, width, seed }: PupilMarks['fibres']): void {
  const next = seeded(seed);
  for (let k = 0; k < count; k++) {
    const start = 2 * Math.PI * next();
    let [x, y] = [Math.cos(start), Math.sin(start)];
    let heading = start + Math.PI + 0.5 * normal(next);
    const bend = (1.2 * normal(next)) / FIBRE_PIECES;
    const step = (2 * length * (0.6 + 0.8 * next())) / FIBRE_PIECES;
    for (let piece = 0; piece < FIBRE_PIECES; piece++) {
      const [u, v] = [x + step * Math.cos(heading), y + step * Math.sin(heading)];
      sheet.stroke(x, y, u, v, 2 * width);
      [x, y] = [u, v];
      heading += bend;
    }
  }
}

function addRing(sheet: Sheet, { count, width }: PupilMarks['ring']): void {
  if (count <= 0 || width <= 0) return;
  const pitch = (2 * Math.PI) / count;
  for (let k = 0; k < count; k++) {
    const [c, s] = [Math.cos(k * pitch), Math.sin(k * pitch)];
    const inner = Math.max(0, 1 - 2 * width);
    sheet.stroke(inner * c, inner * s, c, s, RING_DUTY * pitch);
  }
}
