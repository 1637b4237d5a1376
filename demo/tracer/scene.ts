/** The description of a scene as plain data: lengths in metres, y up, the camera looks along its target. */
export type Vec3 = readonly [x: number, y: number, z: number];

export type Shape =
  | { kind: 'sphere'; centre: Vec3; radius: number }
  | { kind: 'cylinder'; from: Vec3; to: Vec3; radius: number }
  | { kind: 'box'; centre: Vec3; half: Vec3; yaw?: number }
  /** A thin surface, or the skin of a body whose corners run so that normals point outwards. */
  | {
      kind: 'mesh';
      vertices: readonly Vec3[];
      triangles: readonly (readonly [number, number, number])[];
      closed?: true;
    };

/** A procedural surface that varies the base material over the surface. */
export type Texture = 'planks' | 'waves' | 'wood' | 'hull';

export type Material =
  /** A diffuse base under a clear coat of index 1.5 (or 1.33 for water). `roughness` is the GGX alpha of the coat. */
  | { kind: 'coated'; albedo: Vec3; roughness: number; index?: number; texture?: Texture }
  | { kind: 'metal'; reflectance: Vec3; roughness: number }
  /** Clear glass; `tint` is what one metre lets through, by channel. */
  | { kind: 'glass'; index: number; tint: Vec3 }
  /** Gives off `radiance` and reflects nothing. Spheres of it are sampled as lights. */
  | { kind: 'emitter'; radiance: Vec3 };

export interface Item {
  /** The object group, which becomes an id matte. */
  group: string;
  material: string;
  shape: Shape;
}

export interface SceneCamera {
  position: Vec3;
  target: Vec3;
  /** Millimetres. */
  focalLength: number;
  sensorWidth: number;
}

export interface Sky {
  zenith: Vec3;
  horizon: Vec3;
  /** A glow of the town's lights over the horizon: radiance, heading in degrees from z to x, and width. */
  glow: Vec3;
  glowHeading: number;
  glowWidth: number;
  /** Depth written where nothing is hit. */
  distance: number;
}

/** An opening that daylight comes in by: rays off surfaces are aimed at it, so that rooms are not left to chance. */
export interface Portal {
  corner: Vec3;
  /** Its two sides, square to each other. */
  u: Vec3;
  v: Vec3;
}

export interface Scene {
  camera: SceneCamera;
  portals?: readonly Portal[];
  sky: Sky;
  materials: Readonly<Record<string, Material>>;
  items: readonly Item[];
  groups: readonly string[];
}
