import type { Item, Scene, Vec3 } from '../tracer/scene';
import { cutStone } from './cut-stone';

/**
 * A cut stone on a dark table among small lamps, for glass in the scene: every facet shows the lamps from another side.
 * Lengths in metres.
 */
const lamp = (centre: Vec3, radius: number, material: string): Item => ({
  group: 'lamps',
  material,
  shape: { kind: 'sphere', centre, radius },
});

/** Small lamps in two rings overhead, warm and cold by turns. */
function chandelier(): Item[] {
  return [
    [0.16, 0.26, 14],
    [0.3, 0.2, 18],
  ].flatMap(([radius, height, count]) =>
    Array.from({ length: count! }, (_, k) => {
      const angle = ((k + 0.3) / count!) * 2 * Math.PI;
      const centre: Vec3 = [radius! * Math.cos(angle), height!, radius! * Math.sin(angle)];
      return lamp(centre, 0.004, ['warm', 'white', 'cold'][k % 3]!);
    }),
  );
}

export function stoneScene(): Scene {
  return {
    camera: { position: [0, 0.105, -0.19], target: [0, 0.022, 0], focalLength: 50, sensorWidth: 36 },
    sky: {
      zenith: [0.01, 0.012, 0.018],
      horizon: [0.05, 0.05, 0.06],
      glow: [0.12, 0.09, 0.06],
      glowHeading: 40,
      glowWidth: 30,
      distance: 10000,
    },
    materials: {
      stone: { kind: 'glass', index: 1.9, tint: [0.9, 0.9, 0.9] },
      table: { kind: 'coated', albedo: [0.03, 0.022, 0.018], roughness: 0.25 },
      card: { kind: 'coated', albedo: [0.55, 0.54, 0.5], roughness: 0.8 },
      warm: { kind: 'emitter', radiance: [90, 62, 34] },
      cold: { kind: 'emitter', radiance: [50, 62, 80] },
      white: { kind: 'emitter', radiance: [160, 155, 145] },
    },
    items: [
      {
        group: 'table',
        material: 'table',
        shape: { kind: 'box', centre: [0, -0.05, 0.2], half: [0.8, 0.05, 0.8] },
      },
      {
        group: 'table',
        material: 'card',
        shape: { kind: 'box', centre: [0.12, 0.045, 0.16], half: [0.05, 0.045, 0.003], yaw: 18 },
      },
      // Lying on its point and an edge.
      { group: 'stone', material: 'stone', shape: cutStone(1, -0.705, [0, 0.0196, 0]) },
      ...chandelier(),
      lamp([-0.16, 0.22, -0.02], 0.012, 'white'),
      lamp([0.2, 0.25, 0.05], 0.01, 'warm'),
      lamp([0.05, 0.3, -0.2], 0.014, 'white'),
      lamp([-0.09, 0.05, 0.14], 0.006, 'warm'),
      lamp([-0.03, 0.06, 0.2], 0.005, 'cold'),
      lamp([0.06, 0.035, 0.18], 0.005, 'warm'),
      lamp([0.25, 0.1, -0.12], 0.012, 'cold'),
    ],
    groups: ['table', 'stone', 'lamps'],
  };
}
