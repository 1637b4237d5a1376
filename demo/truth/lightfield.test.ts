import { quayScene } from '../scene/quay';
import { Tracer } from '../tracer/integrator';
import type { Item, Material, Scene } from '../tracer/scene';
import { Gathered, LightField, MARGIN, type View } from './lightfield';
import { SIZE } from './pairs';

const VIEWS: readonly View[] = [
  { focus: 3, pupil: 'disc' },
  { focus: 3, pupil: 'blades' },
  { focus: 20, pupil: 'disc' },
];
const APERTURE = { radius: 0.01, focusDistance: 2 / (1 / 3 + 1 / 20) };

function sceneOf(materials: Record<string, Material>, shapes: [string, Item['shape']][]): Scene {
  const { camera, sky } = quayScene();
  return {
    camera: { ...camera, position: [0, 0, 0], target: [0, 0, 1] },
    sky,
    materials,
    items: shapes.map(([material, shape]) => ({ group: 'all', material, shape })),
    groups: ['all'],
  };
}

function gather(scene: Scene, views: readonly View[], rays: number, rows: readonly number[]): Gathered[] {
  const tracer = new Tracer(scene, SIZE.width, SIZE.height, {
    aperture: APERTURE,
    lampsApart: true,
    plain: true,
  });
  const field = new LightField(tracer, views);
  const pictures = views.map(() => new Gathered());
  for (const row of rows) {
    const band = field.traceRow(row, () => rays);
    pictures.forEach((picture, index) => picture.add(row, band, index));
  }
  return pictures;
}

describe('one tracing for several pictures', () => {
  const line = 270;
  const rows = Array.from({ length: 7 }, (_, k) => line + MARGIN - 3 + k);

  it('gives every picture a wall of one brightness as it is', () => {
    const wall: Material = { kind: 'emitter', radiance: [2, 1, 0.5] };
    const scene = sceneOf({ wall }, [['wall', { kind: 'box', centre: [0, 0, 9], half: [50, 50, 1] }]]);
    for (const picture of gather(scene, VIEWS, 4, rows)) {
      const light = picture.light();
      for (const x of [0, 1, 480, 958, 959]) {
        light.forEach((plane, c) => expect(plane[line * SIZE.width + x]).toBeCloseTo([2, 1, 0.5][c]!, 5));
        expect(picture.spread(line * SIZE.width + x).variance).toBeCloseTo(0, 5);
      }
    }
  });

  // Source: the thin lens: an edge at the focus distance is sharp, one elsewhere is as wide as its blur disc.
  it('is sharp at the distance that each picture is focused at', () => {
    const bright: Material = { kind: 'emitter', radiance: [1, 1, 1] };
    const dark: Material = { kind: 'emitter', radiance: [0, 0, 0] };
    const scene = sceneOf({ bright, dark }, [
      ['dark', { kind: 'box', centre: [-50, 0, 4], half: [50, 50, 1] }],
      ['bright', { kind: 'box', centre: [0, 0, 90], half: [900, 900, 1] }],
    ]);
    const [near, , far] = gather(scene, VIEWS, 64, rows);
    // Pixels that are neither dark nor bright, by how much they are neither.
    const softness = (picture: Gathered): number => {
      const row = picture.light()[0]!.subarray(line * SIZE.width + 440, line * SIZE.width + 520);
      return row.reduce((sum, value) => sum + 4 * value * (1 - value), 0);
    };
    // The dark one's near face is at 3 m: there only the tent of a pixel is soft.
    expect(softness(near!)).toBeLessThan(1.3);
    // (radius / scale)(1 / 3 - 1 / 20) is 2.5 pixels to each side.
    expect(softness(far!)).toBeGreaterThan(2);
    expect(softness(far!)).toBeLessThan(5);
  });

  it('sends lamps with the same light through every pupil, and marks what a pinhole does not see', () => {
    const lamp: Material = { kind: 'emitter', radiance: [100, 50, 25] };
    const post: Material = { kind: 'coated', albedo: [0.5, 0.5, 0.5], roughness: 0.5 };
    const scene = sceneOf({ lamp, post }, [
      ['lamp', { kind: 'sphere', centre: [0.02, 0, 10], radius: 0.01 }],
      ['lamp', { kind: 'sphere', centre: [2, 0, 10], radius: 0.01 }],
      ['post', { kind: 'box', centre: [0.006, 0, 3], half: [0.005, 1, 0.01] }],
    ]);
    const tracer = new Tracer(scene, SIZE.width, SIZE.height, {
      aperture: APERTURE,
      lampsApart: true,
      plain: true,
    });
    const pictures = VIEWS.map(() => new Gathered());
    new LightField(tracer, VIEWS).addLamps(60, pictures);
    const half = (plane: Float32Array, right: boolean): number =>
      plane.reduce((sum, value, i) => sum + (i % SIZE.width > 600 === right ? value : 0), 0);
    const free = pictures.map(({ lamps }) => half(lamps[0]!, true));
    for (const light of free) expect(light / free[0]!).toBeCloseTo(1, 1);
    for (const { lamps } of pictures)
      expect(half(lamps[1]!, true) / half(lamps[0]!, true)).toBeCloseTo(0.5, 5);
    // The lamp behind the post is seen by part of the lens alone.
    const covered = pictures.map(({ hiddenLamps }) => half(hiddenLamps, false));
    expect(covered[0]!).toBeGreaterThan(0);
    expect(half(pictures[0]!.hiddenLamps, true)).toBe(0);
    expect(half(pictures[0]!.lamps[0]!, false)).toBeLessThan(0.98 * free[0]!);
  });
});
