import { bilinearSampler } from '../../image/bilinear';
import { OutlineWalk } from '../../optics/outline-walk';
import { pupilOutline, type PupilShape } from '../../optics/pupil';

export interface Barrel {
  pupil: PupilShape;
  /** Diameter of the disc in the pupil's middle that lets nothing through, as a share of the pupil's. */
  obstruction: number;
  /** How far the barrel's circle has moved at the frame's corners, in radii of the pupil. */
  catsEye: number;
}

/** Places along each half diagonal for which the share is computed, and heights in the pupil that it is summed over. */
const [STEPS, ROWS] = [16, 256];

type Span = readonly [from: number, to: number];
const overlap = (a: Span, b: Span): number => Math.max(0, Math.min(a[1], b[1]) - Math.max(a[0], b[0]));

/**
 * The share of the pupil's light that the barrel lets through to a place in the field, from -1 to 1 across half diagonals:
 * the area that its circle, as large as the whole pupil and moved against the place, has in common with the pupil.
 */
export function barrelShare(barrel: Barrel): (u: number, v: number) => number {
  const side = 2 * STEPS + 1;
  const open = areaWithin(barrel, 0, 0);
  const table = Float32Array.from({ length: side * side }, (_, i) => {
    const place = (step: number): number => (barrel.catsEye * (step - STEPS)) / STEPS;
    return areaWithin(barrel, place(i % side), place(Math.floor(i / side))) / open;
  });
  const read = bilinearSampler(table, side, side);
  return (u, v) => read((u + 1) * STEPS, (v + 1) * STEPS);
}

function areaWithin({ pupil, obstruction }: Barrel, bx: number, by: number): number {
  const walk = new OutlineWalk(pupilOutline(pupil));
  const circle = (radius: number, x: number, height: number): Span => {
    const half = Math.sqrt(Math.max(0, radius * radius - height * height));
    return [x - half, x + half];
  };
  let area = 0;
  for (let row = 0; row < ROWS; row++) {
    const y = (2 * (row + 0.5)) / ROWS - 1;
    if (!walk.advanceTo(y)) continue;
    const blades = [walk.left, walk.right] as const;
    const rim = circle(1, -bx, y + by);
    const seen: Span = [Math.max(blades[0], rim[0]), Math.min(blades[1], rim[1])];
    if (seen[1] > seen[0]) area += overlap(blades, rim) - overlap(seen, circle(obstruction, 0, y));
  }
  return area;
}
