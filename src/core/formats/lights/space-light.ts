/** Endings of files that lights are read from. */
export const LIGHT_EXTENSIONS = ['gltf', 'glb', 'csv', 'tsv', 'json'] as const;

/** A light with a place in space as a file tells of it. */
export interface SpaceLight {
  name: string;
  /** Metres from the camera, which looks along -z; x to the right, y up. */
  px: number;
  py: number;
  pz: number;
  /** Brightness in the file's own measure; undefined if it tells none. */
  gain?: number | undefined;
  /** `#rrggbb` */
  tint?: string | undefined;
  /** Of a directed light, degrees: its cone from edge to edge, and how far it is turned from facing the camera. */
  cone?: number | undefined;
  turn?: number | undefined;
  tilt?: number | undefined;
}

/** Lights by frame; those that stay where they are have no frame. */
export interface SpaceLights {
  lights: readonly (SpaceLight & { frame?: number | undefined })[];
  warnings: readonly string[];
}

/**
 * The lights as they stand at a frame: of those with frames, the two that lie about it are mixed by how near they are; before
 * the first and after the last they stay.
 */
export function lightsAtFrame({ lights }: SpaceLights, frame: number): SpaceLights['lights'] {
  const names = [...new Set(lights.map(({ name }) => name))];
  return names.map((name) => {
    const own = lights
      .filter((light) => light.name === name)
      .sort((a, b) => (a.frame ?? -Infinity) - (b.frame ?? -Infinity));
    const next = own.findIndex((light) => (light.frame ?? -Infinity) >= frame);
    const after = next < 0 ? own.at(-1)! : own[next]!;
    const before = next > 0 ? own[next - 1]! : after;
    const span = (after.frame ?? 0) - (before.frame ?? 0);
    const share = next < 0 || span <= 0 ? 1 : (frame - before.frame!) / span;
    const mix = (a: number, b: number): number => a + share * (b - a);
    return {
      ...after,
      frame: undefined,
      px: mix(before.px, after.px),
      py: mix(before.py, after.py),
      pz: mix(before.pz, after.pz),
      ...(before.gain !== undefined && after.gain !== undefined && { gain: mix(before.gain, after.gain) }),
    };
  });
}
