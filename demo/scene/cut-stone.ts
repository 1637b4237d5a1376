import type { Shape, Vec3 } from '../tracer/scene';

/** Lengths in metres. */
const FACETS = 8;
const [RADIUS, TABLE_RADIUS, CROWN, PAVILION] = [0.03, 0.017, 0.0105, 0.0255];

/** Points of a ring about the y axis. */
function ring(radius: number, y: number, turn = 0): Vec3[] {
  return Array.from({ length: FACETS }, (_, k): Vec3 => {
    const angle = ((k + turn) / FACETS) * 2 * Math.PI;
    return [radius * Math.cos(angle), y, radius * Math.sin(angle)];
  });
}

/** Sizes a point, tips it about the x axis and puts it down at a place. */
function placed([x, y, z]: Vec3, size: number, tilt: number, at: Vec3): Vec3 {
  const [c, s] = [size * Math.cos(tilt), size * Math.sin(tilt)];
  return [size * x + at[0], c * y - s * z + at[1], s * y + c * z + at[2]];
}

/**
 * A cut stone of 6 cm times a size: a table, a crown of kites, and a pavilion that ends in a point; normals point outwards.
 * It is tipped by an angle in radians about the x axis.
 */
export function cutStone(size: number, tilt: number, at: Vec3): Shape {
  const points: Vec3[] = [
    [0, CROWN, 0],
    ...ring(TABLE_RADIUS, CROWN),
    ...ring(RADIUS, 0, 0.5),
    [0, -PAVILION, 0],
  ];
  const [table, girdle, point] = [1, 1 + FACETS, 1 + 2 * FACETS];
  const triangles: [number, number, number][] = [];
  for (let k = 0; k < FACETS; k++) {
    const next = (k + 1) % FACETS;
    triangles.push(
      [0, table + next, table + k],
      [table + k, table + next, girdle + k],
      [table + next, girdle + next, girdle + k],
      [girdle + k, girdle + next, point],
    );
  }
  const vertices = points.map((corner) => placed(corner, size, tilt, at));
  return { kind: 'mesh', vertices, triangles, closed: true };
}
