import type { Item, Material, Scene, Vec3 } from '../tracer/scene';
import { ball, box, rod } from './shapes';

/**
 * Three things one behind the other, each whole behind what stands before it: bars close to the camera, a row of balls
 * and posts, and a wall with panels and small lamps. None covers itself, so that their pinhole pictures hold every surface.
 */
const materials: Record<string, Material> = {
  wall: { kind: 'coated', albedo: [0.32, 0.3, 0.27], roughness: 0.5, texture: 'wood' },
  red: { kind: 'coated', albedo: [0.5, 0.1, 0.07], roughness: 0.4 },
  blue: { kind: 'coated', albedo: [0.08, 0.16, 0.42], roughness: 0.4 },
  sand: { kind: 'coated', albedo: [0.55, 0.45, 0.25], roughness: 0.5 },
  green: { kind: 'coated', albedo: [0.1, 0.32, 0.16], roughness: 0.45 },
  post: { kind: 'coated', albedo: [0.42, 0.3, 0.2], roughness: 0.45, texture: 'wood' },
  bar: { kind: 'coated', albedo: [0.12, 0.13, 0.15], roughness: 0.4 },
  lamp: { kind: 'emitter', radiance: [60, 44, 24] },
  cool: { kind: 'emitter', radiance: [20, 32, 50] },
  key: { kind: 'emitter', radiance: [260, 240, 210] },
};

const PANELS = ['red', 'sand', 'blue', 'green', 'sand'] as const;
const BALLS = ['sand', 'red', 'green', 'blue'] as const;

function wall(): Item[] {
  const panels = Array.from({ length: 35 }, (_, k) => {
    const [column, row] = [k % 7, Math.floor(k / 7)];
    const centre: Vec3 = [-2.7 + 0.9 * column, -1.6 + 0.8 * row, 8];
    return box('wall', PANELS[(3 * column + 2 * row) % 5]!, centre, [0.28 + 0.02 * row, 0.22, 0.002]);
  });
  const lamps = Array.from({ length: 12 }, (_, k) =>
    ball(
      'wall',
      k % 3 === 1 ? 'cool' : 'lamp',
      [-2.4 + 4.8 * ((k * 0.618034) % 1), -1.3 + 2.6 * ((k * 0.754878) % 1), 8],
      0.012,
    ),
  );
  return [box('wall', 'wall', [0, 0, 8.1], [6, 4, 0.1]), ...panels, ...lamps];
}

function row(): Item[] {
  const balls = Array.from({ length: 4 }, (_, k) =>
    ball('row', BALLS[k]!, [-0.86 + 0.56 * k, -0.12 + 0.16 * (k % 2), 3], 0.17),
  );
  const posts = [-0.58, -0.02, 0.54].map((x) => rod('row', 'post', [x, -1, 3], [x, 0.36, 3], 0.035));
  return [...balls, ...posts];
}

const bars = (): Item[] =>
  [-0.42, -0.2, 0.13, 0.36].map((x) => rod('bars', 'bar', [x, -0.6, 1.3], [x + 0.07, 0.6, 1.3], 0.016));

/** Lamps out of the frame that light it all. */
const keys = (): Item[] => [
  ball('keys', 'key', [-1.6, 2.4, -0.4], 0.16),
  ball('keys', 'key', [2.6, 2.2, 4.4], 0.14),
];

export function rowScene(): Scene {
  const dark: Vec3 = [0.02, 0.02, 0.025];
  return {
    camera: { position: [0, 0, 0], target: [0, 0, 10], focalLength: 50, sensorWidth: 36 },
    sky: { zenith: dark, horizon: dark, glow: [0, 0, 0], glowHeading: 0, glowWidth: 30, distance: 10000 },
    materials,
    items: [...wall(), ...row(), ...bars(), ...keys()],
    groups: ['wall', 'row', 'bars', 'keys'],
  };
}
