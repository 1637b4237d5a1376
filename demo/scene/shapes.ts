import type { Item, Vec3 } from '../tracer/scene';

export const box = (group: string, material: string, centre: Vec3, half: Vec3, yaw = 0): Item => ({
  group,
  material,
  shape: { kind: 'box', centre, half, yaw },
});
export const ball = (group: string, material: string, centre: Vec3, radius: number): Item => ({
  group,
  material,
  shape: { kind: 'sphere', centre, radius },
});
export const rod = (group: string, material: string, from: Vec3, to: Vec3, radius: number): Item => ({
  group,
  material,
  shape: { kind: 'cylinder', from, to, radius },
});
