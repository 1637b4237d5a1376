import type { Scene, Shape, Vec3 } from './scene';

/**
 * The scene's shapes as flat arrays with a bounding-volume hierarchy over them.
 * Every primitive has 16 numbers in `data`; what they mean depends on its `kind`.
 */
const SPHERE = 0;
const CYLINDER = 1;
const BOX = 2;
const TRIANGLE = 3;
const STRIDE = 16;
const LEAF_SIZE = 3;
const EPSILON = 1e-4;

export interface Geometry {
  kind: Uint8Array;
  data: Float64Array;
  item: Uint16Array;
  nodes: Float64Array;
  nodeInfo: Int32Array;
  order: Uint32Array;
}

/** The nearest hit of a ray; the caller keeps one and hands it in again. */
export interface Hit {
  distance: number;
  item: number;
  nx: number;
  ny: number;
  nz: number;
}

export function newHit(): Hit {
  return { distance: Infinity, item: -1, nx: 0, ny: 0, nz: 0 };
}

interface Primitive {
  kind: number;
  item: number;
  data: number[];
  min: number[];
  max: number[];
}

const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const axes = [0, 1, 2] as const;

function primitivesOf(shape: Shape, item: number): Primitive[] {
  switch (shape.kind) {
    case 'sphere': {
      const { centre, radius } = shape;
      return [
        {
          kind: SPHERE,
          item,
          data: [...centre, radius],
          min: centre.map((c) => c - radius),
          max: centre.map((c) => c + radius),
        },
      ];
    }
    case 'cylinder': {
      const { from, to, radius } = shape;
      const along = subtract(to, from);
      const length = Math.hypot(...along);
      const axis = along.map((c) => c / length);
      const reach = axis.map((c) => radius * Math.sqrt(Math.max(0, 1 - c * c)));
      return [
        {
          kind: CYLINDER,
          item,
          data: [...from, ...axis, length, radius],
          min: axes.map((a) => Math.min(from[a], to[a]) - reach[a]!),
          max: axes.map((a) => Math.max(from[a], to[a]) + reach[a]!),
        },
      ];
    }
    case 'box': {
      const { centre, half } = shape;
      const yaw = ((shape.yaw ?? 0) * Math.PI) / 180;
      const [c, s] = [Math.cos(yaw), Math.sin(yaw)];
      const reach = [
        Math.abs(c) * half[0] + Math.abs(s) * half[2],
        half[1],
        Math.abs(s) * half[0] + Math.abs(c) * half[2],
      ];
      return [
        {
          kind: BOX,
          item,
          data: [...centre, ...half, c, s],
          min: axes.map((a) => centre[a] - reach[a]!),
          max: axes.map((a) => centre[a] + reach[a]!),
        },
      ];
    }
    case 'mesh':
      return shape.triangles.map((corners) => {
        const [p, q, r] = corners.map((corner) => shape.vertices[corner]!) as [Vec3, Vec3, Vec3];
        const normal = cross(subtract(q, p), subtract(r, p));
        const area = Math.hypot(...normal) || 1;
        return {
          kind: TRIANGLE,
          item,
          data: [
            ...p,
            ...subtract(q, p),
            ...subtract(r, p),
            ...normal.map((c) => c / area),
            shape.closed ? 1 : 0,
          ],
          min: axes.map((a) => Math.min(p[a], q[a], r[a])),
          max: axes.map((a) => Math.max(p[a], q[a], r[a])),
        };
      });
  }
}

/** Flattens a scene and builds its hierarchy by the surface-area heuristic over sorted centres. */
export function buildGeometry(scene: Scene): Geometry {
  const primitives = scene.items.flatMap((item, index) => primitivesOf(item.shape, index));
  const nodes: number[] = [];
  const nodeInfo: number[] = [];
  const order: number[] = [];

  const bounds = (list: Primitive[]): number[] => [
    ...axes.map((a) => Math.min(...list.map((p) => p.min[a]!))),
    ...axes.map((a) => Math.max(...list.map((p) => p.max[a]!))),
  ];
  const area = (b: number[]): number => {
    const [x, y, z] = axes.map((a) => b[a + 3]! - b[a]!) as [number, number, number];
    return x * y + y * z + z * x;
  };
  const build = (list: Primitive[]): number => {
    const index = nodeInfo.length / 2;
    nodes.push(...bounds(list));
    nodeInfo.push(0, 0);
    if (list.length <= LEAF_SIZE) {
      nodeInfo[index * 2] = -order.length - 1;
      nodeInfo[index * 2 + 1] = list.length;
      order.push(...list.map((p) => primitives.indexOf(p)));
      return index;
    }
    let best = { cost: Infinity, axis: 0, at: list.length >> 1 };
    for (const axis of axes) {
      const sorted = sortAlong(list, axis);
      for (let k = 1; k < 12; k++) {
        const at = Math.round((k * list.length) / 12);
        if (at < 1 || at >= list.length) continue;
        const cost =
          area(bounds(sorted.slice(0, at))) * at + area(bounds(sorted.slice(at))) * (list.length - at);
        if (cost < best.cost) best = { cost, axis, at };
      }
    }
    const sorted = sortAlong(list, best.axis);
    nodeInfo[index * 2] = build(sorted.slice(0, best.at));
    nodeInfo[index * 2 + 1] = build(sorted.slice(best.at));
    return index;
  };
  build(primitives);

  const data = new Float64Array(primitives.length * STRIDE);
  primitives.forEach((p, index) => data.set(p.data, index * STRIDE));
  return {
    kind: Uint8Array.from(primitives, (p) => p.kind),
    item: Uint16Array.from(primitives, (p) => p.item),
    data,
    nodes: Float64Array.from(nodes),
    nodeInfo: Int32Array.from(nodeInfo),
    order: Uint32Array.from(order),
  };
}

function sortAlong(list: Primitive[], axis: number): Primitive[] {
  return [...list].sort((a, b) => a.min[axis]! + a.max[axis]! - b.min[axis]! - b.max[axis]!);
}

const stack = new Int32Array(128);

/**
 * Finds the nearest hit from `EPSILON` to `reach`. Returns whether there is one; `hit` then holds distance, item and the
 * outward unit normal.
 */
export function intersect(
  g: Geometry,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  hit: Hit,
  reach = Infinity,
): boolean {
  hit.distance = reach;
  hit.item = -1;
  const ix = 1 / dx;
  const iy = 1 / dy;
  const iz = 1 / dz;
  const { nodes, nodeInfo, order: members } = g;
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const node = stack[--top]!;
    const b = node * 6;
    const x0 = (nodes[b]! - ox) * ix;
    const x1 = (nodes[b + 3]! - ox) * ix;
    const y0 = (nodes[b + 1]! - oy) * iy;
    const y1 = (nodes[b + 4]! - oy) * iy;
    const z0 = (nodes[b + 2]! - oz) * iz;
    const z1 = (nodes[b + 5]! - oz) * iz;
    const near = Math.max(Math.min(x0, x1), Math.min(y0, y1), Math.min(z0, z1));
    const far = Math.min(Math.max(x0, x1), Math.max(y0, y1), Math.max(z0, z1));
    if (!(far >= Math.max(near, 0)) || near > hit.distance) continue;
    const first = nodeInfo[node * 2]!;
    if (first < 0) {
      const start = -first - 1;
      const end = start + nodeInfo[node * 2 + 1]!;
      for (let k = start; k < end; k++) intersectPrimitive(g, members[k]!, ox, oy, oz, dx, dy, dz, hit);
    } else {
      // The child whose centre lies farther back is visited later, when the nearer one may have hidden it.
      const second = nodeInfo[node * 2 + 1]!;
      const f = first * 6;
      const s = second * 6;
      const order =
        (nodes[f]! + nodes[f + 3]! - nodes[s]! - nodes[s + 3]!) * dx +
        (nodes[f + 1]! + nodes[f + 4]! - nodes[s + 1]! - nodes[s + 4]!) * dy +
        (nodes[f + 2]! + nodes[f + 5]! - nodes[s + 2]! - nodes[s + 5]!) * dz;
      stack[top++] = order < 0 ? second : first;
      stack[top++] = order < 0 ? first : second;
    }
  }
  return hit.item >= 0;
}

function intersectPrimitive(
  g: Geometry,
  p: number,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  hit: Hit,
): void {
  const d = g.data;
  const o = p * STRIDE;
  const rx = ox - d[o]!;
  const ry = oy - d[o + 1]!;
  const rz = oz - d[o + 2]!;
  switch (g.kind[p]!) {
    case SPHERE: {
      const r = d[o + 3]!;
      const b = rx * dx + ry * dy + rz * dz;
      // The distance of the centre from the ray, by parts, so that far small spheres keep their digits.
      const [px, py, pz] = [rx - b * dx, ry - b * dy, rz - b * dz];
      const root = r * r - (px * px + py * py + pz * pz);
      if (root < 0) return;
      const s = Math.sqrt(root);
      const t = -b - s > EPSILON ? -b - s : -b + s;
      if (t > EPSILON && t < hit.distance) {
        record(hit, t, g.item[p]!, (rx + t * dx) / r, (ry + t * dy) / r, (rz + t * dz) / r);
      }
      return;
    }
    case CYLINDER: {
      const [ax, ay, az] = [d[o + 3]!, d[o + 4]!, d[o + 5]!];
      const length = d[o + 6]!;
      const r = d[o + 7]!;
      const da = dx * ax + dy * ay + dz * az;
      const ra = rx * ax + ry * ay + rz * az;
      const [ex, ey, ez] = [dx - da * ax, dy - da * ay, dz - da * az];
      const [qx, qy, qz] = [rx - ra * ax, ry - ra * ay, rz - ra * az];
      const a = ex * ex + ey * ey + ez * ez;
      const b = qx * ex + qy * ey + qz * ez;
      const c = qx * qx + qy * qy + qz * qz - r * r;
      const root = b * b - a * c;
      if (root < 0 && a > 1e-12) return;
      if (a > 1e-12) {
        const s = Math.sqrt(root);
        for (let side = -1; side <= 1; side += 2) {
          const t = (-b + side * s) / a;
          const along = ra + t * da;
          if (t > EPSILON && t < hit.distance && along >= 0 && along <= length) {
            record(hit, t, g.item[p]!, (qx + t * ex) / r, (qy + t * ey) / r, (qz + t * ez) / r);
          }
        }
      }
      for (let end = 0; end <= 1; end++) {
        const t = (end * length - ra) / da;
        if (!(t > EPSILON && t < hit.distance)) continue;
        const [hx, hy, hz] = [qx + t * ex, qy + t * ey, qz + t * ez];
        if (hx * hx + hy * hy + hz * hz > r * r) continue;
        const sign = end === 0 ? -1 : 1;
        record(hit, t, g.item[p]!, sign * ax, sign * ay, sign * az);
      }
      return;
    }
    case BOX: {
      const [c, s] = [d[o + 6]!, d[o + 7]!];
      const [lx, lz] = [c * rx - s * rz, s * rx + c * rz];
      const [mx, mz] = [c * dx - s * dz, s * dx + c * dz];
      let near = -Infinity;
      let far = Infinity;
      let axis = 0;
      let farAxis = 0;
      for (let k = 0; k < 3; k++) {
        const origin = k === 0 ? lx : k === 1 ? ry : lz;
        const inverse = 1 / (k === 0 ? mx : k === 1 ? dy : mz);
        const half = d[o + 3 + k]!;
        const t0 = (-half - origin) * inverse;
        const t1 = (half - origin) * inverse;
        const [lo, hi] = t0 < t1 ? [t0, t1] : [t1, t0];
        if (lo > near) [near, axis] = [lo, k];
        if (hi < far) [far, farAxis] = [hi, k];
      }
      if (!(near <= far)) return;
      const inside = near <= EPSILON;
      const t = inside ? far : near;
      if (!(t > EPSILON && t < hit.distance)) return;
      const face = inside ? farAxis : axis;
      const towards = face === 0 ? mx : face === 1 ? dy : mz;
      const sign = (towards > 0 ? -1 : 1) * (inside ? -1 : 1);
      if (face === 1) record(hit, t, g.item[p]!, 0, sign, 0);
      else if (face === 0) record(hit, t, g.item[p]!, sign * c, 0, -sign * s);
      else record(hit, t, g.item[p]!, sign * s, 0, sign * c);
      return;
    }
    case TRIANGLE: {
      const [ux, uy, uz] = [d[o + 3]!, d[o + 4]!, d[o + 5]!];
      const [vx, vy, vz] = [d[o + 6]!, d[o + 7]!, d[o + 8]!];
      const [hx, hy, hz] = [dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx];
      const det = ux * hx + uy * hy + uz * hz;
      if (Math.abs(det) < 1e-14) return;
      const inverse = 1 / det;
      const u = (rx * hx + ry * hy + rz * hz) * inverse;
      if (u < 0 || u > 1) return;
      const [kx, ky, kz] = [ry * uz - rz * uy, rz * ux - rx * uz, rx * uy - ry * ux];
      const v = (dx * kx + dy * ky + dz * kz) * inverse;
      if (v < 0 || u + v > 1) return;
      const t = (vx * kx + vy * ky + vz * kz) * inverse;
      if (!(t > EPSILON && t < hit.distance)) return;
      // Of thin meshes the normal faces the ray.
      const facing = d[o + 12] === 0 && dx * d[o + 9]! + dy * d[o + 10]! + dz * d[o + 11]! > 0 ? -1 : 1;
      record(hit, t, g.item[p]!, facing * d[o + 9]!, facing * d[o + 10]!, facing * d[o + 11]!);
      return;
    }
  }
}

function record(hit: Hit, distance: number, item: number, nx: number, ny: number, nz: number): void {
  hit.distance = distance;
  hit.item = item;
  hit.nx = nx;
  hit.ny = ny;
  hit.nz = nz;
}
