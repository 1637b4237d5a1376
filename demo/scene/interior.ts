import type { Item, Material, Scene, Shape, Vec3 } from '../tracer/scene';
import { cutStone } from './cut-stone';
import { ball, box, rod } from './shapes';

/**
 * A room by day: a big window without panes onto a garden in the sun, a sill with a cut stone and pots, curtains, a chair
 * and a plant near the camera. Lengths in metres; the window's wall stands at z = 4, the camera looks along z.
 */
const materials: Record<string, Material> = {
  plaster: { kind: 'coated', albedo: [0.62, 0.58, 0.52], roughness: 0.8 },
  ceiling: { kind: 'coated', albedo: [0.7, 0.69, 0.66], roughness: 0.9 },
  floor: { kind: 'coated', albedo: [0.3, 0.19, 0.11], roughness: 0.3, texture: 'planks' },
  frame: { kind: 'coated', albedo: [0.66, 0.65, 0.61], roughness: 0.35 },
  sill: { kind: 'coated', albedo: [0.36, 0.23, 0.13], roughness: 0.3, texture: 'wood' },
  linen: { kind: 'coated', albedo: [0.6, 0.55, 0.45], roughness: 0.9 },
  clay: { kind: 'coated', albedo: [0.42, 0.17, 0.09], roughness: 0.6 },
  glaze: { kind: 'coated', albedo: [0.07, 0.16, 0.28], roughness: 0.12 },
  leaf: { kind: 'coated', albedo: [0.06, 0.19, 0.05], roughness: 0.3 },
  paper: { kind: 'coated', albedo: [0.55, 0.5, 0.42], roughness: 0.7 },
  cloth: { kind: 'coated', albedo: [0.45, 0.1, 0.06], roughness: 0.8 },
  ink: { kind: 'coated', albedo: [0.06, 0.12, 0.16], roughness: 0.6 },
  brass: { kind: 'metal', reflectance: [0.85, 0.62, 0.3], roughness: 0.16 },
  walnut: { kind: 'coated', albedo: [0.16, 0.09, 0.05], roughness: 0.3, texture: 'wood' },
  stone: { kind: 'glass', index: 1.8, tint: [0.6, 0.75, 0.7] },
  lawn: { kind: 'coated', albedo: [0.13, 0.22, 0.06], roughness: 0.8 },
  path: { kind: 'coated', albedo: [0.5, 0.46, 0.38], roughness: 0.8 },
  crown: { kind: 'coated', albedo: [0.06, 0.14, 0.03], roughness: 0.7 },
  tuft: { kind: 'coated', albedo: [0.1, 0.2, 0.04], roughness: 0.7 },
  trunk: { kind: 'coated', albedo: [0.16, 0.11, 0.07], roughness: 0.8 },
  hill: { kind: 'coated', albedo: [0.13, 0.2, 0.17], roughness: 0.9 },
  chalk: { kind: 'coated', albedo: [0.72, 0.7, 0.65], roughness: 0.7 },
  tile: { kind: 'coated', albedo: [0.4, 0.13, 0.07], roughness: 0.6 },
  sun: { kind: 'emitter', radiance: [130000, 117000, 98000] },
};

/** The window's opening, and the wall that it is cut in. */
const WINDOW = { left: -0.72, right: 0.98, low: 0.8, high: 2.15 };
const WALL = { near: 4, far: 4.28 };
/** A second window out of view, in the wall to the left. */
const SIDE = { near: 0.6, far: 2.9, low: 0.7, high: 2.3 };
const ROOM = { left: -2, right: 2.2, back: -1.6, height: 2.6 };

/** A wall of a box's form between two corners. */
const block = (group: string, material: string, low: Vec3, high: Vec3): Item =>
  box(
    group,
    material,
    [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2],
    [(high[0] - low[0]) / 2, (high[1] - low[1]) / 2, (high[2] - low[2]) / 2],
  );

function walls(): Item[] {
  const { left, right, back, height } = ROOM;
  const [near, far] = [WALL.near, WALL.far];
  const out = 0.2;
  return [
    block('walls', 'floor', [left - out, -0.2, back - out], [right + out, 0, far]),
    block('walls', 'ceiling', [left - out, height, back - out], [right + out, height + 0.2, far]),
    block('walls', 'plaster', [left - out, 0, back - out], [left, height, SIDE.near]),
    block('walls', 'plaster', [left - out, 0, SIDE.far], [left, height, far]),
    block('walls', 'plaster', [left - out, 0, SIDE.near], [left, SIDE.low, SIDE.far]),
    block('walls', 'plaster', [left - out, SIDE.high, SIDE.near], [left, height, SIDE.far]),
    block('walls', 'plaster', [right, 0, back - out], [right + out, height, far]),
    block('walls', 'plaster', [left, 0, back - out], [right, height, back]),
    block('walls', 'plaster', [left, 0, near], [WINDOW.left, height, far]),
    block('walls', 'plaster', [WINDOW.right, 0, near], [right, height, far]),
    block('walls', 'plaster', [WINDOW.left, 0, near], [WINDOW.right, WINDOW.low, far]),
    block('walls', 'plaster', [WINDOW.left, WINDOW.high, near], [WINDOW.right, height, far]),
  ];
}

function windowFrame(): Item[] {
  const { left, right, low, high } = WINDOW;
  const [z0, z1, w] = [4.1, 4.16, 0.05];
  const middle = (left + right) / 2;
  const upper = low + 0.68 * (high - low);
  return [
    block('frame', 'frame', [left, low, z0], [left + w, high, z1]),
    block('frame', 'frame', [right - w, low, z0], [right, high, z1]),
    block('frame', 'frame', [left, low, z0], [right, low + w, z1]),
    block('frame', 'frame', [left, high - w, z0], [right, high, z1]),
    block('frame', 'frame', [middle - w / 2, low, z0 - 0.01], [middle + w / 2, high, z1]),
    block('frame', 'frame', [left, upper - w / 2, z0 + 0.01], [right, upper + w / 2, z1 - 0.01]),
    rod(
      'frame',
      'brass',
      [middle + 0.005, low + 0.42, z0 - 0.035],
      [middle + 0.005, low + 0.55, z0 - 0.035],
      0.008,
    ),
    block('frame', 'sill', [left - 0.12, low - 0.04, 3.68], [right + 0.12, low, 4.1]),
  ];
}

/** A curtain that hangs in folds from a rod: a thin surface. */
function curtain(from: number, to: number, phase: number): Item {
  const [columns, rows] = [72, 6];
  const vertices: Vec3[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      const [s, t] = [i / columns, j / rows];
      const fold =
        0.035 * Math.sin(2 * Math.PI * (6 * s + phase)) +
        0.012 * Math.sin(2 * Math.PI * (13 * s + 2 * phase));
      // It spreads a little towards the floor.
      const x = from + (to - from) * (s + 0.04 * (1 - t) * Math.sin(7 * s + phase));
      vertices.push([x, 0.03 + 2.32 * t, 3.86 + fold * (1.15 - 0.35 * t)]);
    }
  const triangles: [number, number, number][] = [];
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const at = j * (columns + 1) + i;
      triangles.push([at, at + 1, at + columns + 1], [at + 1, at + columns + 2, at + columns + 1]);
    }
  return { group: 'curtains', material: 'linen', shape: { kind: 'mesh', vertices, triangles } };
}

/** A vessel by its outline, radius over height, turned about its axis: a thin surface. */
function vessel(at: Vec3, outline: readonly (readonly [radius: number, height: number])[]): Shape {
  const sides = 40;
  const vertices = outline.flatMap(([radius, height]) =>
    Array.from({ length: sides }, (_, k): Vec3 => {
      const angle = (2 * Math.PI * k) / sides;
      return [at[0] + radius * Math.cos(angle), at[1] + height, at[2] + radius * Math.sin(angle)];
    }),
  );
  const triangles: [number, number, number][] = [];
  for (let j = 0; j + 1 < outline.length; j++)
    for (let k = 0; k < sides; k++) {
      const [a, b] = [j * sides + k, j * sides + ((k + 1) % sides)];
      triangles.push([a, a + sides, b], [b, a + sides, b + sides]);
    }
  return { kind: 'mesh', vertices, triangles };
}

/** A leaf that hangs over: a strip of triangles from its stem to its tip. */
function leaf(group: string, root: Vec3, heading: number, length: number, lift: number, width: number): Item {
  const steps = 8;
  const [c, s] = [Math.cos(heading), Math.sin(heading)];
  const vertices: Vec3[] = [];
  for (let k = 0; k <= steps; k++) {
    const t = k / steps;
    const out = length * t * (1 - 0.15 * t);
    const up = lift * Math.sin(Math.PI * 0.62 * t) - 0.35 * length * t * t * t;
    const half = width * Math.sqrt(Math.sin(Math.PI * Math.min(1, 0.06 + 0.94 * t)) + 1e-9) * 0.5;
    const [x, y, z] = [root[0] + out * c, root[1] + up, root[2] + out * s];
    vertices.push(
      [x - half * s, y + 0.15 * half, z + half * c],
      [x, y, z],
      [x + half * s, y + 0.15 * half, z - half * c],
    );
  }
  const triangles: [number, number, number][] = [];
  for (let k = 0; k < steps; k++)
    for (let side = 0; side < 2; side++) {
      const at = 3 * k + side;
      triangles.push([at, at + 1, at + 3], [at + 1, at + 4, at + 3]);
    }
  return { group, material: 'leaf', shape: { kind: 'mesh', vertices, triangles } };
}

/** Golden angle: leaves that follow each other so do not hide each other. */
const GOLDEN = Math.PI * (3 - Math.sqrt(5));

function potted(group: string, at: Vec3, size: number, leaves: number): Item[] {
  return [
    {
      group,
      material: 'clay',
      shape: vessel(at, [
        [0.05 * size, 0],
        [0.07 * size, 0.12 * size],
        [0.078 * size, 0.12 * size],
        [0.078 * size, 0.14 * size],
        [0.066 * size, 0.14 * size],
        [0.062 * size, 0.11 * size],
        [0, 0.11 * size],
      ]),
    },
    ...Array.from({ length: leaves }, (_, k) =>
      leaf(
        group,
        [at[0], at[1] + 0.11 * size, at[2]],
        k * GOLDEN,
        (0.16 + 0.1 * ((k * 0.618) % 1)) * size,
        (0.1 + 0.14 * ((k * 0.755) % 1)) * size,
        0.05 * size,
      ),
    ),
  ];
}

function onTheSill(): Item[] {
  const y = WINDOW.low;
  return [
    { group: 'stone', material: 'stone', shape: cutStone(3, -0.705, [0.24, y + 0.0196 * 3, 3.8]) },
    ...potted('pots', [-0.48, y, 3.9], 1.25, 15),
    {
      group: 'pots',
      material: 'glaze',
      shape: vessel(
        [0.66, y, 3.86],
        [
          [0.035, 0],
          [0.075, 0.05],
          [0.085, 0.11],
          [0.05, 0.19],
          [0.034, 0.23],
          [0.044, 0.26],
          [0.036, 0.25],
          [0.03, 0.22],
        ],
      ),
    },
    box('books', 'ink', [-0.15, y + 0.014, 3.85], [0.1, 0.014, 0.07], 12),
    box('books', 'paper', [-0.155, y + 0.041, 3.85], [0.094, 0.013, 0.066], -6),
    box('books', 'cloth', [-0.15, y + 0.066, 3.85], [0.09, 0.012, 0.062], 21),
    ball('books', 'brass', [-0.13, y + 0.105, 3.84], 0.027),
  ];
}

function inTheRoom(): Item[] {
  return [
    rod('curtains', 'brass', [-1.35, 2.38, 3.86], [1.6, 2.38, 3.86], 0.014),
    curtain(-1.22, -0.74, 0.1),
    curtain(1.0, 1.5, 0.55),
    // A picture on the wall beside the window, and one that is only its edge.
    box('picture', 'walnut', [1.78, 1.42, 3.985], [0.2, 0.27, 0.015]),
    box('picture', 'paper', [1.78, 1.42, 3.975], [0.17, 0.24, 0.01]),
    box('picture', 'ink', [1.78, 1.38, 3.968], [0.11, 0.14, 0.008]),
    // The chair's back, and a plant near the camera.
    box('chair', 'walnut', [0.62, 0.96, 2.35], [0.2, 0.02, 0.012], -24),
    ...[-1, 0, 1].map((k) =>
      rod(
        'chair',
        'walnut',
        [0.62 + 0.13 * k, 0.4, 2.35 + 0.058 * k],
        [0.62 + 0.13 * k, 0.95, 2.35 + 0.058 * k],
        0.011,
      ),
    ),
    ...[-1, 1].map((k) =>
      rod(
        'chair',
        'walnut',
        [0.62 + 0.185 * k, 0, 2.35 + 0.082 * k],
        [0.62 + 0.185 * k, 0.99, 2.35 + 0.082 * k],
        0.018,
      ),
    ),
    ...potted('plant', [-0.5, 0.62, 2.0], 2.1, 17),
    block('plant', 'walnut', [-0.68, 0.58, 1.82], [-0.32, 0.62, 2.18]),
  ];
}

/** A tree whose crown is a heap of tufts, on the skin of a flattened ball. */
function tree(x: number, z: number, size: number, seed: number): Item[] {
  const ground = -3;
  const tufts = Array.from({ length: 260 }, (_, k) => {
    const up = 1 - (2 * (k + 0.5)) / 260;
    const out = Math.sqrt(1 - up * up);
    const angle = GOLDEN * k + seed;
    const reach = size * (0.74 + 0.3 * ((k * 0.618 + seed * 0.37) % 1));
    const centre: Vec3 = [
      x + reach * out * Math.cos(angle),
      ground + 1.9 * size + 0.85 * reach * up,
      z + reach * out * Math.sin(angle),
    ];
    return ball(
      'garden',
      k % 3 ? 'crown' : 'tuft',
      centre,
      size * (0.08 + 0.09 * ((k * 0.755 + seed * 0.7) % 1)),
    );
  });
  return [
    rod('garden', 'trunk', [x, ground, z], [x, ground + 1.6 * size, z], 0.07 * size),
    ball('garden', 'crown', [x, ground + 1.9 * size, z], 0.74 * size),
    ...tufts,
  ];
}

function house(x: number, z: number, width: number, height: number, yaw: number): Item[] {
  const ground = -3;
  return [
    box('houses', 'chalk', [x, ground + height / 2, z], [width / 2, height / 2, width / 3], yaw),
    box('houses', 'tile', [x, ground + height + 0.3, z], [width / 2 + 0.3, 0.3, width / 3 + 0.3], yaw),
    box('houses', 'tile', [x, ground + height + 0.9, z], [width / 2 - 0.5, 0.35, width / 3 - 0.8], yaw),
    ...[-0.28, 0, 0.28].map((k) =>
      box(
        'houses',
        'ink',
        [
          x + k * width * Math.cos((yaw * Math.PI) / 180) - (width / 3) * Math.sin((yaw * Math.PI) / 180),
          ground + 0.6 * height,
          z - k * width * Math.sin((yaw * Math.PI) / 180) - (width / 3) * Math.cos((yaw * Math.PI) / 180),
        ],
        [0.4, 0.6, 0.06],
        yaw,
      ),
    ),
  ];
}

/** What is seen through the window, a floor lower than the room. */
function outside(): Item[] {
  return [
    box('garden', 'lawn', [0, -3.5, 200], [400, 0.5, 195]),
    box('garden', 'path', [2.4, -2.99, 30], [1.1, 0.02, 24], 4),
    ...tree(-4.2, 17, 2, 1),
    ...tree(7.5, 24, 2.4, 2),
    ...tree(-9, 40, 3, 3),
    ...tree(16, 52, 3.4, 4),
    ...tree(-1.5, 70, 3, 5),
    ...house(6, 64, 9, 5, 18),
    ...house(-14, 76, 11, 6, -12),
    ball('hills', 'hill', [-120, -168, 420], 200),
    ball('hills', 'hill', [140, -260, 520], 300),
    ball('hills', 'hill', [20, -240, 640], 262),
  ];
}

/** To the right, high, and far beyond the window. */
const sun = (): Item => ball('sun', 'sun', [520, 700, 640], 9.4);

export function interiorScene(): Scene {
  return {
    camera: { position: [-0.05, 1.32, 1.35], target: [0.13, 1.17, 4], focalLength: 42, sensorWidth: 36 },
    sky: {
      zenith: [1.1, 2, 4.2],
      horizon: [4.4, 4.8, 5.2],
      glow: [5, 4.1, 2.9],
      glowHeading: 39,
      glowWidth: 28,
      distance: 10000,
    },
    portals: [
      {
        corner: [WINDOW.left, WINDOW.low, WALL.near],
        u: [0, WINDOW.high - WINDOW.low, 0],
        v: [WINDOW.right - WINDOW.left, 0, 0],
      },
      {
        corner: [ROOM.left, SIDE.low, SIDE.near],
        u: [0, SIDE.high - SIDE.low, 0],
        v: [0, 0, SIDE.far - SIDE.near],
      },
    ],
    materials,
    items: [...walls(), ...windowFrame(), ...onTheSill(), ...inTheRoom(), ...outside(), sun()],
    groups: [
      'walls',
      'frame',
      'stone',
      'pots',
      'books',
      'curtains',
      'picture',
      'chair',
      'plant',
      'garden',
      'houses',
      'hills',
      'sun',
    ],
  };
}

/** What is seen of it in each of its two elements; the sky belongs to the view. */
export const INTERIOR = {
  view: ['garden', 'houses', 'hills', 'sun'],
  room: ['walls', 'frame', 'stone', 'pots', 'books', 'curtains', 'picture', 'chair', 'plant'],
} as const;
