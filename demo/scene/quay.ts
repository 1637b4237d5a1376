import type { Item, Material, Scene, Vec3 } from '../tracer/scene';

/**
 * A ferry quay at night. The camera stands on wet planks between a row of bollard lamps and a railing; a rope with
 * glass floats hangs close in front of it; boats lie alongside, a ferry and a lighthouse farther out.
 */
const SODIUM: Vec3 = [1, 0.54, 0.17];
const COOL: Vec3 = [0.8, 0.92, 1];
const scaled = (colour: Vec3, by: number): Vec3 => [colour[0] * by, colour[1] * by, colour[2] * by];

const materials: Record<string, Material> = {
  planks: { kind: 'coated', albedo: [0.3, 0.225, 0.165], roughness: 0.3, texture: 'planks' },
  pile: { kind: 'coated', albedo: [0.2, 0.15, 0.11], roughness: 0.35, texture: 'wood' },
  water: { kind: 'coated', albedo: [0.003, 0.007, 0.009], roughness: 0.05, index: 1.33, texture: 'waves' },
  iron: { kind: 'coated', albedo: [0.045, 0.05, 0.055], roughness: 0.22 },
  paint: { kind: 'coated', albedo: [0.55, 0.55, 0.52], roughness: 0.2 },
  rust: { kind: 'coated', albedo: [0.32, 0.09, 0.05], roughness: 0.3 },
  steel: { kind: 'metal', reflectance: [0.62, 0.63, 0.65], roughness: 0.2 },
  rope: { kind: 'coated', albedo: [0.42, 0.33, 0.22], roughness: 0.5 },
  land: { kind: 'coated', albedo: [0.03, 0.035, 0.03], roughness: 0.6 },
  rubber: { kind: 'coated', albedo: [0.4, 0.16, 0.06], roughness: 0.3 },
  stone: { kind: 'coated', albedo: [0.5, 0.48, 0.45], roughness: 0.5 },
  hullBlue: { kind: 'coated', albedo: [0.05, 0.13, 0.24], roughness: 0.16, texture: 'hull' },
  hullRed: { kind: 'coated', albedo: [0.3, 0.05, 0.04], roughness: 0.16, texture: 'hull' },
  floatGreen: { kind: 'glass', index: 1.5, tint: [0.002, 0.5, 0.12] },
  floatAmber: { kind: 'glass', index: 1.5, tint: [0.75, 0.16, 0.0004] },
  floatBlue: { kind: 'glass', index: 1.5, tint: [0.004, 0.12, 0.75] },
  floatClear: { kind: 'glass', index: 1.5, tint: [0.5, 0.8, 0.75] },
  bollardLamp: { kind: 'emitter', radiance: scaled(SODIUM, 620) },
  shoulderLamp: { kind: 'emitter', radiance: scaled(SODIUM, 230) },
  pierLamp: { kind: 'emitter', radiance: scaled(COOL, 2600) },
  mastLamp: { kind: 'emitter', radiance: scaled([1, 0.93, 0.8], 1500) },
  portLamp: { kind: 'emitter', radiance: [900, 26, 14] },
  starboardLamp: { kind: 'emitter', radiance: [10, 620, 150] },
  lighthouse: { kind: 'emitter', radiance: scaled([1, 0.94, 0.78], 5200) },
  cabinWindow: { kind: 'emitter', radiance: scaled([1, 0.68, 0.34], 7) },
  ferryWindow: { kind: 'emitter', radiance: scaled([1, 0.8, 0.5], 6) },
  harbourSodium: { kind: 'emitter', radiance: scaled(SODIUM, 900) },
  harbourWhite: { kind: 'emitter', radiance: scaled([1, 0.9, 0.75], 900) },
  harbourCool: { kind: 'emitter', radiance: scaled(COOL, 800) },
  harbourRed: { kind: 'emitter', radiance: [700, 20, 10] },
};

const GROUPS = ['quay', 'lamps', 'railing', 'rope', 'floats', 'boats', 'shore', 'water'] as const;
type Group = (typeof GROUPS)[number];

class Builder {
  readonly items: Item[] = [];
  sphere(group: Group, material: string, centre: Vec3, radius: number): void {
    this.items.push({ group, material, shape: { kind: 'sphere', centre, radius } });
  }
  cylinder(group: Group, material: string, from: Vec3, to: Vec3, radius: number): void {
    this.items.push({ group, material, shape: { kind: 'cylinder', from, to, radius } });
  }
  box(group: Group, material: string, centre: Vec3, half: Vec3, yaw = 0): void {
    this.items.push({ group, material, shape: { kind: 'box', centre, half, yaw } });
  }
}

function quay(b: Builder): void {
  b.box('water', 'water', [0, -1.35, 480], [900, 0.1, 520]);
  b.box('quay', 'planks', [-0.25, -0.06, 22], [3.15, 0.06, 25]);
  b.box('quay', 'pile', [-3.32, -0.01, 22], [0.09, 0.1, 25]);
  b.box('quay', 'pile', [2.8, -0.01, 22], [0.09, 0.1, 25]);
  for (let z = 2; z <= 46; z += 4) {
    b.cylinder('quay', 'pile', [-3.5, -2, z + 1.6], [-3.5, 0.42, z + 1.6], 0.16);
    b.cylinder('quay', 'pile', [3.0, -2, z + 0.6], [3.0, 0.18, z + 0.6], 0.16);
  }
  // A waiting hut at the end, its windows lit.
  b.box('quay', 'pile', [0.4, 1.35, 43.5], [1.9, 1.35, 1.6]);
  b.box('quay', 'iron', [0.4, 2.8, 43.5], [2.25, 0.1, 1.95]);
  for (const x of [-0.75, 0.4, 1.55]) b.box('quay', 'cabinWindow', [x, 1.55, 41.88], [0.42, 0.42, 0.02]);
}

function lamps(b: Builder): void {
  for (let z = 4.6; z < 41; z += 4.4) {
    const x = -2.72;
    b.cylinder('lamps', 'iron', [x, 0, z], [x, 0.74, z], 0.1);
    b.cylinder('lamps', 'iron', [x, 0, z], [x, 0.05, z], 0.17);
    b.sphere('lamps', 'bollardLamp', [x, 0.86, z], 0.085);
    b.cylinder('lamps', 'iron', [x, 0.955, z], [x, 1.0, z], 0.16);
    for (let k = 0; k < 4; k++) {
      const a = (k * Math.PI) / 2 + 0.6;
      const [c, s] = [0.12 * Math.cos(a), 0.12 * Math.sin(a)];
      b.cylinder('lamps', 'iron', [x + c, 0.72, z + s], [x + c, 0.96, z + s], 0.009);
    }
  }
}

function railing(b: Builder): void {
  const x = 2.45;
  for (const y of [0.14, 1.18]) b.cylinder('railing', 'steel', [x, y, 2.2], [x, y, 41], 0.024);
  for (let z = 2.2; z <= 41; z += 1.94) b.cylinder('railing', 'steel', [x, 0, z], [x, 1.24, z], 0.034);
  for (let z = 2.2; z <= 41; z += 0.1617) b.cylinder('railing', 'steel', [x, 0.14, z], [x, 1.18, z], 0.009);
  // The bright lamp of the landing stage stands behind the railing.
  b.box('quay', 'planks', [5.1, -0.75, 12.4], [1.9, 0.07, 2.8]);
  b.cylinder('lamps', 'iron', [3.72, -0.7, 11.2], [3.72, 0.6, 11.2], 0.045);
  b.sphere('lamps', 'pierLamp', [3.72, 0.7, 11.2], 0.1);
  b.cylinder('lamps', 'iron', [3.72, 0.81, 11.2], [3.72, 0.85, 11.2], 0.2);
  for (const [px, pz] of [
    [3.5, 9.9],
    [6.7, 9.9],
    [3.5, 15],
    [6.7, 15],
  ] as const)
    b.cylinder('quay', 'pile', [px, -2, pz], [px, -0.2, pz], 0.13);
  // A lamp over the camera's left shoulder, out of frame, that gives the near things an edge of light.
  b.sphere('lamps', 'shoulderLamp', [-2.2, 2.9, -0.6], 0.09);
}

function ropeBetween(
  b: Builder,
  from: Vec3,
  to: Vec3,
  sag: number,
  segments: number,
  radius: number,
): Vec3[] {
  const points = Array.from({ length: segments + 1 }, (_, k): Vec3 => {
    const t = k / segments;
    const drop = sag * 4 * t * (1 - t);
    return [
      from[0] + (to[0] - from[0]) * t,
      from[1] + (to[1] - from[1]) * t - drop,
      from[2] + (to[2] - from[2]) * t,
    ];
  });
  for (let k = 0; k < segments; k++) {
    b.cylinder('rope', 'rope', points[k]!, points[k + 1]!, radius);
    b.sphere('rope', 'rope', points[k + 1]!, radius);
  }
  return points;
}

function floats(b: Builder): void {
  b.cylinder('rope', 'pile', [-1.3, -0.2, 2.35], [-1.3, 2.34, 2.35], 0.1);
  const points = ropeBetween(b, [-1.3, 2.16, 2.3], [2.3, 2.62, 1.9], 0.36, 48, 0.014);
  const hung: [index: number, material: string, radius: number, cord: number][] = [
    [7, 'floatAmber', 0.105, 0.1],
    [14, 'floatGreen', 0.135, 0.2],
    [22, 'floatClear', 0.085, 0.06],
    [27, 'floatBlue', 0.12, 0.16],
  ];
  for (const [index, material, radius, cord] of hung) {
    const [x, y, z] = points[index]!;
    const centre: Vec3 = [x, y - cord - radius, z];
    b.cylinder('rope', 'rope', [x, y, z], [x, centre[1] + radius - 0.004, z], 0.007);
    b.cylinder('rope', 'rope', [x, centre[1] + radius - 0.012, z], [x, centre[1] + radius + 0.03, z], 0.02);
    b.sphere('floats', material, centre, radius);
  }
}

/** A rope laid down in rings, one over the other. */
function coil(b: Builder, x: number, z: number, radius: number, layers: number): void {
  const thickness = 0.017;
  for (let layer = 0; layer < layers; layer++) {
    const y = thickness + layer * thickness * 1.75;
    for (const ring of [radius, radius - thickness * 2.1]) {
      const wobble = 0.012 * Math.sin(layer * 2.4 + ring * 40);
      const at = (k: number): Vec3 => {
        const angle = (k / 26) * 2 * Math.PI + layer;
        const r = ring + wobble * Math.sin(2 * angle);
        return [x + r * Math.cos(angle), y, z + r * Math.sin(angle)];
      };
      for (let k = 0; k < 26; k++) b.cylinder('rope', 'rope', at(k), at(k + 1), thickness);
    }
  }
}

/** What lies about on the quay: mooring posts with their lines, a coil of rope, a float, crates, a bench. */
function tackle(b: Builder): void {
  for (const z of [6.6, 13.2, 22, 33]) {
    b.cylinder('quay', 'iron', [-2.2, 0, z], [-2.2, 0.36, z], 0.1);
    b.cylinder('quay', 'iron', [-2.2, 0.36, z], [-2.2, 0.46, z], 0.15);
  }
  ropeBetween(b, [-2.25, 0.3, 13.2], [-5.5, -0.15, 15.4], 0.35, 20, 0.022);
  ropeBetween(b, [-2.25, 0.3, 22], [-5.7, -0.1, 20.6], 0.25, 16, 0.022);
  coil(b, -0.55, 6.1, 0.34, 6);
  ropeBetween(b, [-0.86, 0.17, 6.2], [-2.12, 0.34, 6.62], 0.13, 20, 0.017);
  b.sphere('floats', 'floatAmber', [0.3, 0.13, 6.5], 0.13);
  b.sphere('floats', 'floatGreen', [0.66, 0.1, 6.15], 0.1);
  for (const [x, y, z, yaw] of [
    [1.62, 0.15, 8.3, 8],
    [1.66, 0.46, 8.34, -4],
    [1.5, 0.15, 9.15, 20],
  ] as const) {
    crate(b, [x, y, z], yaw);
  }
  b.box('quay', 'pile', [1.75, 0.44, 15.4], [0.2, 0.03, 0.8]);
  for (const z of [14.8, 16]) b.box('quay', 'iron', [1.75, 0.21, z], [0.16, 0.21, 0.03]);
}

/** A slatted fish crate. */
function crate(b: Builder, [x, y, z]: Vec3, yaw: number): void {
  const [c, s] = [Math.cos((yaw * Math.PI) / 180), Math.sin((yaw * Math.PI) / 180)];
  const at = (u: number, v: number, w: number): Vec3 => [x + c * u + s * w, y + v, z - s * u + c * w];
  for (const v of [-0.11, -0.005, 0.1]) {
    for (const w of [-0.26, 0.26]) b.box('quay', 'pile', at(0, v, w), [0.4, 0.042, 0.012], yaw);
    for (const u of [-0.39, 0.39]) b.box('quay', 'pile', at(u, v, 0), [0.012, 0.042, 0.25], yaw);
  }
  for (const w of [-0.18, 0, 0.18]) b.box('quay', 'pile', at(0, -0.145, w), [0.39, 0.01, 0.08], yaw);
}

/** A hull lofted through stations from stern to bow, its deck level at `freeboard` over the water. */
function hull(
  b: Builder,
  material: string,
  at: Vec3,
  yaw: number,
  length: number,
  beam: number,
  freeboard: number,
): (p: Vec3) => Vec3 {
  const [c, s] = [Math.cos((yaw * Math.PI) / 180), Math.sin((yaw * Math.PI) / 180)];
  const place = ([x, y, z]: Vec3): Vec3 => [at[0] + c * x + s * z, at[1] + y, at[2] - s * x + c * z];
  const rings = 16;
  const ribs = 7;
  const vertices: Vec3[] = [];
  const triangles: [number, number, number][] = [];
  for (let i = 0; i <= rings; i++) {
    const t = i / rings;
    const width =
      (beam / 2) * (t < 0.35 ? 0.82 + 0.5 * t : Math.sqrt(Math.max(0, 1 - ((t - 0.35) / 0.65) ** 2.6)));
    const sheer = freeboard * (1 + 0.55 * t * t);
    for (let j = 0; j <= ribs; j++) {
      const v = j / ribs;
      const flare = 0.55 + 0.45 * Math.sin((v * Math.PI) / 2);
      const overhang = 0.1 * length * Math.max(0, t - 0.7) * v;
      vertices.push(place([-width * flare, -0.25 + (sheer + 0.25) * v, (t - 0.5) * length + overhang]));
      vertices.push(place([width * flare, -0.25 + (sheer + 0.25) * v, (t - 0.5) * length + overhang]));
    }
  }
  const ring = (ribs + 1) * 2;
  const quad = (p: number, q: number, r: number, u: number): void =>
    void triangles.push([p, q, r], [q, u, r]);
  for (let i = 0; i < rings; i++) {
    for (let j = 0; j < ribs; j++) {
      const p = i * ring + j * 2;
      quad(p, p + ring, p + 2, p + ring + 2);
      quad(p + 1, p + ring + 1, p + 3, p + ring + 3);
    }
    const deck = i * ring + ribs * 2;
    quad(deck, deck + ring, deck + 1, deck + ring + 1);
  }
  for (let j = 0; j < ribs; j++) quad(j * 2, j * 2 + 1, j * 2 + 2, j * 2 + 3);
  b.items.push({ group: 'boats', material, shape: { kind: 'mesh', vertices, triangles } });
  return place;
}

function fishingBoat(b: Builder, paint: string, at: Vec3, yaw: number, length: number): void {
  const place = hull(b, paint, at, yaw, length, length * 0.32, 0.85);
  const deck = 0.95;
  const box = (material: string, centre: Vec3, half: Vec3): void =>
    b.box('boats', material, place(centre), half, yaw);
  const rod = (material: string, from: Vec3, to: Vec3, radius: number): void =>
    b.cylinder('boats', material, place(from), place(to), radius);
  // A low trunk with a wheelhouse on its after end, a band of windows round it.
  box('paint', [0, deck + 0.28, -0.04 * length], [0.95, 0.34, 0.22 * length]);
  const house = -0.15 * length;
  const depth = 0.095 * length;
  box('paint', [0, deck + 0.98, house], [0.78, 0.4, depth]);
  box('rust', [0, deck + 1.86, house + 0.08], [0.98, 0.05, depth + 0.22]);
  for (const x of [-0.74, -0.26, 0.26, 0.74])
    box('paint', [x, deck + 1.6, house + depth - 0.04], [0.045, 0.24, 0.04]);
  for (const x of [-0.5, 0, 0.5])
    box('cabinWindow', [x, deck + 1.6, house + depth - 0.04], [0.2, 0.2, 0.012]);
  for (const side of [-1, 1]) {
    for (const z of [-1, -0.34, 0.34, 1])
      box('paint', [side * 0.745, deck + 1.6, house + z * (depth - 0.04)], [0.035, 0.24, 0.045]);
    for (const z of [-0.67, 0, 0.67])
      box('cabinWindow', [side * 0.745, deck + 1.6, house + z * (depth - 0.04)], [0.012, 0.2, 0.2]);
    // Stanchions and a hand rail along the deck's edge.
    for (let t = -0.44; t <= 0.18; t += 0.088) {
      rod(
        'steel',
        [side * 0.145 * length, deck - 0.1, t * length],
        [side * 0.145 * length, deck + 0.62, t * length],
        0.014,
      );
    }
    rod(
      'steel',
      [side * 0.145 * length, deck + 0.6, -0.45 * length],
      [side * 0.145 * length, deck + 0.6, 0.2 * length],
      0.016,
    );
    // Fenders over the side.
    for (const t of [-0.28, -0.02, 0.2])
      b.sphere('boats', 'rubber', place([side * 0.178 * length, 0.72, t * length]), 0.2);
  }
  rod('pile', [0, deck, 0.1 * length], [0, deck + 4.6, 0.08 * length], 0.06);
  rod('pile', [0, deck + 3.9, 0.085 * length], [0, deck + 1.7, 0.42 * length], 0.03);
  rod('iron', [0, deck + 4.5, 0.08 * length], [0, deck + 1.9, -0.3 * length], 0.012);
  rod('iron', [0, deck + 4.5, 0.08 * length], [0, deck + 0.5, 0.46 * length], 0.01);
  box('rust', [0.5, deck + 0.75, 0.05 * length], [0.26, 0.16, 0.2]);
  b.sphere('boats', 'mastLamp', place([0, deck + 4.72, 0.08 * length]), 0.055);
  b.sphere('boats', 'portLamp', place([-0.95, deck + 2.02, house + depth]), 0.065);
  b.sphere('boats', 'starboardLamp', place([0.95, deck + 2.02, house + depth]), 0.065);
}

function ferry(b: Builder): void {
  const at: Vec3 = [-30, -1.25, 92];
  const yaw = 72;
  const place = hull(b, 'hullBlue', at, yaw, 46, 11, 2.6);
  b.box('boats', 'paint', place([0, 4.4, -2]), [5.0, 1.7, 16], yaw);
  b.box('boats', 'paint', place([0, 7.3, -3]), [4.4, 1.3, 12], yaw);
  b.box('boats', 'paint', place([0, 9.5, 5]), [3.8, 1.0, 3], yaw);
  b.cylinder('boats', 'rust', place([0, 8.4, -9]), place([0, 12.2, -9.6]), 1.1);
  for (let k = 0; k < 15; k++) {
    for (const side of [-1, 1]) {
      if (k % 5 !== 3)
        b.box('boats', 'ferryWindow', place([side * 5.02, 4.6, -16.5 + k * 2]), [0.04, 0.42, 0.62], yaw);
      if (k < 11 && k % 4 !== 2)
        b.box('boats', 'ferryWindow', place([side * 4.42, 7.5, -13.5 + k * 2]), [0.04, 0.34, 0.6], yaw);
    }
  }
  b.cylinder('boats', 'iron', place([0, 10.4, 5]), place([0, 15, 5]), 0.12);
  b.sphere('boats', 'mastLamp', place([0, 15.2, 5]), 0.2);
  b.sphere('boats', 'portLamp', place([-4.6, 9.8, 7]), 0.12);
  b.sphere('boats', 'starboardLamp', place([4.6, 9.8, 7]), 0.12);
}

function shore(b: Builder): void {
  b.sphere('shore', 'land', [-240, -640, 760], 690);
  b.sphere('shore', 'land', [260, -930, 900], 975);
  b.sphere('shore', 'land', [40, -1290, 1000], 1310);
  const tower: Vec3 = [58, 0, 430];
  b.box('shore', 'land', [62, -1.5, 436], [26, 3.2, 16]);
  b.cylinder('shore', 'stone', [tower[0], 0, tower[2]], [tower[0], 25, tower[2]], 2.6);
  b.cylinder('shore', 'iron', [tower[0], 25, tower[2]], [tower[0], 25.6, tower[2]], 3.6);
  b.sphere('shore', 'lighthouse', [tower[0], 27.6, tower[2] - 0.4], 1.25);
  b.cylinder('shore', 'iron', [tower[0], 29.4, tower[2]], [tower[0], 30.4, tower[2]], 2.6);
  const kinds = [
    'harbourSodium',
    'harbourWhite',
    'harbourSodium',
    'harbourCool',
    'harbourWhite',
    'harbourSodium',
    'harbourRed',
  ];
  // Lamps along the far waterfront, spaced by an irrational step so that no pattern shows.
  for (let k = 0; k < 34; k++) {
    const t = (k * 0.6180339887) % 1;
    const u = (k * 0.7548776662) % 1;
    const z = 300 + 130 * u;
    b.sphere(
      'shore',
      kinds[k % kinds.length]!,
      [(-0.62 + 1.02 * t) * z, 2.2 + 7 * ((k * 0.5698402909) % 1), z],
      0.2 + 0.17 * u,
    );
  }
}

/** Where a lantern's boat goes by behind the railing, from the right. */
const [LAUNCH_FROM, LAUNCH_BY]: [Vec3, Vec3] = [
  [7.6, -1.25, 18],
  [-2.6, 0, -0.5],
];

/** A small open boat with a lantern on a short mast. */
function launch(b: Builder, time: number): void {
  const at = LAUNCH_FROM.map((from, axis) => from + LAUNCH_BY[axis]! * time) as unknown as Vec3;
  const place = hull(b, 'hullRed', at, 100, 3.6, 1.3, 0.36);
  b.cylinder('boats', 'pile', place([0, 0.2, 0.3]), place([0, 1, 0.3]), 0.02);
  b.sphere('boats', 'lantern', place([0, 1.04, 0.3]), 0.07);
}

/** Degrees to either side within which the light of the tower falls to less than half. */
const BEAM = 16;

/** How much of its light the lighthouse sends this way while it turns once a reel, from a little before it does. */
function beam(time: number): number {
  const degrees = 360 * time - 200;
  return 0.02 + 0.98 * 2 ** -((degrees / BEAM) ** 2);
}

/** The quay while a boat goes by and the lighthouse turns, from 0 to 1. */
export function quayReelScene(time: number): Scene {
  const still = quayScene();
  const builder = new Builder();
  launch(builder, time);
  const light = still.materials['lighthouse'] as Material & { kind: 'emitter' };
  return {
    ...still,
    materials: {
      ...still.materials,
      lantern: { kind: 'emitter', radiance: scaled([1, 0.62, 0.26], 4000) },
      lighthouse: { kind: 'emitter', radiance: scaled(light.radiance, 2 * beam(time)) },
    },
    items: [...still.items, ...builder.items],
  };
}

/** The scene at its first frame. */
export function quayScene(): Scene {
  const builder = new Builder();
  quay(builder);
  lamps(builder);
  railing(builder);
  floats(builder);
  tackle(builder);
  fishingBoat(builder, 'hullRed', [-6.6, -1.25, 17.5], 5, 9);
  fishingBoat(builder, 'hullBlue', [-6.9, -1.25, 31], -4, 11);
  ferry(builder);
  shore(builder);
  return {
    camera: { position: [0.15, 1.62, 0], target: [-0.55, 1.36, 12], focalLength: 33, sensorWidth: 36 },
    sky: {
      zenith: [0.0028, 0.005, 0.0125],
      horizon: [0.02, 0.03, 0.052],
      glow: [0.11, 0.06, 0.026],
      glowHeading: -14,
      glowWidth: 26,
      distance: 10000,
    },
    materials,
    items: builder.items,
    groups: GROUPS,
  };
}
