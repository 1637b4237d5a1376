import { readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { makePlate } from '../src/core/light/plate';
import { cameraOfFile } from '../src/core/optics/file-camera';
import { readExr } from '../src/core/formats/exr/read';
import { channelFloats, type Picture } from '../src/core/image/picture';
import { quayScene } from './scene/quay';
import { smoothWithin } from './smooth';
import { buildGeometry, intersect, newHit } from './tracer/geometry';
import { LIGHT_PASSES, MATTE_AT, Tracer, type LampSample } from './tracer/integrator';
import { Sampler } from './tracer/sampler';
import type { Item, Material, Scene } from './tracer/scene';

const BLACK_SKY: Scene['sky'] = {
  zenith: [0, 0, 0],
  horizon: [0, 0, 0],
  glow: [0, 0, 0],
  glowHeading: 0,
  glowWidth: 1,
  distance: 999,
};

function sceneOf(
  materials: Record<string, Material>,
  shapes: [material: string, shape: Item['shape']][],
  sky = BLACK_SKY,
): Scene {
  return {
    camera: { position: [0, 0, 0], target: [0, 0, 1], focalLength: 36, sensorWidth: 36 },
    sky,
    materials,
    items: shapes.map(([material, shape]) => ({ group: 'all', material, shape })),
    groups: ['all'],
  };
}

/** The mean of many samples of one pixel, per pass. */
function shade(scene: Scene, x: number, y: number, samples: number, size = 64): Record<string, number[]> {
  const tracer = new Tracer(scene, size, size);
  const sums = new Float64Array(MATTE_AT + 1);
  for (let index = 0; index < samples; index++) tracer.sample(x, y, index, sums);
  return Object.fromEntries(
    LIGHT_PASSES.map((pass, k) => [pass, [0, 1, 2].map((c) => sums[k * 3 + c]! / samples)]),
  );
}

describe('intersections', () => {
  const grey: Material = { kind: 'coated', albedo: [0.5, 0.5, 0.5], roughness: 0.5 };

  // Source: elementary geometry; distances along the z axis from the origin.
  it.each<[string, Item['shape'], number, [number, number, number]]>([
    ['a sphere', { kind: 'sphere', centre: [0, 0, 10], radius: 2 }, 8, [0, 0, -1]],
    ['a box', { kind: 'box', centre: [0, 0, 10], half: [1, 1, 3] }, 7, [0, 0, -1]],
    ['a turned box', { kind: 'box', centre: [0, 0, 10], half: [1, 1, 3], yaw: 90 }, 9, [0, 0, -1]],
    [
      'a cylinder from the side',
      { kind: 'cylinder', from: [0, -1, 10], to: [0, 1, 10], radius: 0.5 },
      9.5,
      [0, 0, -1],
    ],
    ['a cylinder end on', { kind: 'cylinder', from: [0, 0, 6], to: [0, 0, 9], radius: 0.5 }, 6, [0, 0, -1]],
    [
      'a triangle',
      {
        kind: 'mesh',
        vertices: [
          [-1, -1, 5],
          [2, -1, 5],
          [-1, 2, 5],
        ],
        triangles: [[0, 1, 2]],
      },
      5,
      [0, 0, -1],
    ],
  ])('with %s lie where they should', (_, shape, distance, normal) => {
    const geometry = buildGeometry(sceneOf({ grey }, [['grey', shape]]));
    const hit = newHit();
    expect(intersect(geometry, 0, 0, 0, 1e-9, 1e-9, 1, hit)).toBe(true);
    expect(hit.distance).toBeCloseTo(distance, 6);
    [hit.nx, hit.ny, hit.nz].forEach((value, c) => expect(value).toBeCloseTo(normal[c]!, 6));
    expect(intersect(geometry, 0, 0, 0, 0.9, 1e-9, Math.sqrt(1 - 0.81), hit)).toBe(false);
  });

  it('through the hierarchy are those of trying every shape', () => {
    const sampler = new Sampler();
    const shapes = Array.from({ length: 60 }, (_, k): [string, Item['shape']] => {
      sampler.begin(k, 1);
      sampler.draw();
      const [x, y] = [sampler.u * 8 - 4, sampler.v * 8 - 4];
      sampler.draw();
      return ['grey', { kind: 'sphere', centre: [x, y, 5 + 10 * sampler.u], radius: 0.2 + sampler.v }];
    });
    const all = buildGeometry(sceneOf({ grey }, shapes));
    const singles = shapes.map((shape) => buildGeometry(sceneOf({ grey }, [shape])));
    const hit = newHit();
    for (let k = 0; k < 300; k++) {
      sampler.begin(k, 2);
      sampler.draw();
      const [dx, dy] = [sampler.u - 0.5, sampler.v - 0.5];
      const length = Math.hypot(dx, dy, 1);
      const ray = [0, 0, 0, dx / length, dy / length, 1 / length] as const;
      const nearest = Math.min(
        ...singles.map((one) => (intersect(one, ...ray, hit) ? hit.distance : Infinity)),
      );
      expect(intersect(all, ...ray, hit) ? hit.distance : Infinity).toBe(nearest);
    }
  });
});

describe('light from windows', () => {
  const grey: Material = { kind: 'coated', albedo: [0.5, 0.5, 0.5], roughness: 1 };
  const sky = { ...BLACK_SKY, zenith: [2, 2, 2] as const, horizon: [2, 2, 2] as const };
  const room = (portals?: Scene['portals']): Scene => ({
    // A wall that is seen, and one behind the camera with a hole in it.
    ...sceneOf(
      { grey },
      [
        ['grey', { kind: 'box', centre: [0, 0, 4.1], half: [9, 9, 0.1] }],
        ['grey', { kind: 'box', centre: [-5, 0, -2.1], half: [4.5, 9, 0.1] }],
        ['grey', { kind: 'box', centre: [5, 0, -2.1], half: [4.5, 9, 0.1] }],
        ['grey', { kind: 'box', centre: [0, -5, -2.1], half: [0.5, 4.5, 0.1] }],
        ['grey', { kind: 'box', centre: [0, 5, -2.1], half: [0.5, 4.5, 0.1] }],
        ['grey', { kind: 'box', centre: [9, 0, 1], half: [0.1, 9, 4] }],
        ['grey', { kind: 'box', centre: [-9, 0, 1], half: [0.1, 9, 4] }],
        ['grey', { kind: 'box', centre: [0, 9, 1], half: [9, 0.1, 4] }],
        ['grey', { kind: 'box', centre: [0, -9, 1], half: [9, 0.1, 4] }],
      ],
      sky,
    ),
    ...(portals && { portals }),
  });
  const portals = [{ corner: [-0.5, -0.5, -2] as const, u: [1, 0, 0] as const, v: [0, 1, 0] as const }];

  // By definition of the estimator: what is aimed at changes the noise, not the mean.
  it('is the same whether rays are aimed at them or not, and far less noisy', () => {
    const runs = (scene: Scene): number[] =>
      Array.from({ length: 24 }, (_, k) => shade(scene, 20 + k, 32, 200)['diffuse']![1]!);
    const spread = (values: number[]): { mean: number; deviation: number } => {
      const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
      return { mean, deviation: Math.sqrt(values.reduce((s, v) => s + (v - mean) ** 2, 0) / values.length) };
    };
    const [plain, aimed] = [spread(runs(room())), spread(runs(room(portals)))];
    expect(aimed.mean / plain.mean).toBeGreaterThan(0.85);
    expect(aimed.mean / plain.mean).toBeLessThan(1.15);
    expect(aimed.deviation).toBeLessThan(plain.deviation / 2);
  });
});

describe('smoothing within surfaces', () => {
  it('takes noise away, keeps edges that a guide tells, and the mean', () => {
    const [width, height] = [40, 24];
    const sampler = new Sampler();
    const noisy = Float32Array.from({ length: width * height }, (_, i) => {
      sampler.begin(i, 5);
      sampler.draw();
      return (i % width < 20 ? 1 : 3) + sampler.u - 0.5;
    });
    const plane = noisy.map((_, i) => (i % width < 20 ? 0 : 1));
    const [smooth] = smoothWithin([noisy], [{ plane, spread: 0.1 }], width, 3);
    const deviation = (values: Float32Array, level: number, from: number): number => {
      const part = values.filter((_, i) => i % width >= from && i % width < from + 20);
      return Math.sqrt(part.reduce((sum, value) => sum + (value - level) ** 2, 0) / part.length);
    };
    for (const [level, from] of [
      [1, 0],
      [3, 20],
    ] as const)
      expect(deviation(smooth!, level, from)).toBeLessThan(deviation(noisy, level, from) / 4);
  });
});

describe('samples', () => {
  // Source: Sobol 1967: the first 16 points of a (0,2)-sequence have one in each of 16 rows, columns and 4 x 4 cells.
  it('are spread as a (0,2)-sequence, scrambled or not', () => {
    const sampler = new Sampler();
    for (const pixel of [0, 1, 77, 90210]) {
      const rows = new Set<number>();
      const columns = new Set<number>();
      const cells = new Set<number>();
      for (let index = 0; index < 16; index++) {
        sampler.begin(pixel, index);
        sampler.draw();
        columns.add(Math.floor(sampler.u * 16));
        rows.add(Math.floor(sampler.v * 16));
        cells.add(Math.floor(sampler.u * 4) * 4 + Math.floor(sampler.v * 4));
      }
      expect([rows.size, columns.size, cells.size]).toEqual([16, 16, 16]);
    }
  });
});

describe('light', () => {
  // Source: Lambert's law; a sphere of radius r and radiance L at distance d gives E = pi L r^2 / d^2, and a matt wall of
  // albedo a shows a E / pi. The coat takes about 4 % on the way in and again on the way out (Fresnel, index 1.5).
  it('of a lamp on a matt wall follows the inverse square', () => {
    const wall: Material = { kind: 'coated', albedo: [0.6, 0.3, 0.1], roughness: 0.5 };
    const lamp: Material = { kind: 'emitter', radiance: [1000, 1000, 1000] };
    const at = (distance: number): number[] =>
      shade(
        sceneOf({ wall, lamp }, [
          ['wall', { kind: 'box', centre: [0, 0, 10.5], half: [40, 40, 0.5] }],
          ['lamp', { kind: 'sphere', centre: [0, 0, 10 - distance], radius: 0.02 }],
        ]),
        33,
        33,
        256,
      ).diffuse!;
    const wanted = (distance: number): number => (0.6 * 1000 * 0.02 ** 2 * 0.96 ** 2) / distance ** 2;
    expect(at(2)[0]! / wanted(2)).toBeCloseTo(1, 1);
    expect(at(2)[0]! / at(4)[0]!).toBeCloseTo(4, 0);
    expect(at(2)[1]! / at(2)[0]!).toBeCloseTo(0.5, 3);
  });

  // Source: the white-furnace test (common practice): what reflects everything disappears in a white surround.
  it('is neither made nor lost by a mirror in a white room', () => {
    const steel: Material = { kind: 'metal', reflectance: [1, 1, 1], roughness: 0.1 };
    const white: Scene['sky'] = { ...BLACK_SKY, zenith: [1, 1, 1], horizon: [1, 1, 1] };
    const passes = shade(
      sceneOf({ steel }, [['steel', { kind: 'sphere', centre: [0, 0, 5], radius: 1 }]], white),
      32,
      32,
      256,
    );
    expect(passes.specular![0]).toBeCloseTo(1, 1);
    expect(passes.diffuse![0]).toBe(0);
  });

  it('of clear glass parts into what is thrown back and what goes through', () => {
    const clear: Material = { kind: 'glass', index: 1.5, tint: [1, 1, 1] };
    const white: Scene['sky'] = { ...BLACK_SKY, zenith: [1, 1, 1], horizon: [1, 1, 1] };
    const passes = shade(
      sceneOf({ clear }, [['clear', { kind: 'sphere', centre: [0, 0, 5], radius: 1 }]], white),
      32,
      32,
      512,
    );
    // Source: Fresnel at normal incidence, index 1.5: 4 %.
    expect(passes.specular![0]).toBeCloseTo(0.04, 2);
    expect(passes.specular![0]! + passes.transmission![0]!).toBeCloseTo(1, 1);
  });

  it('of a lamp seen directly is its radiance, and its depth is planar', () => {
    const lamp: Material = { kind: 'emitter', radiance: [700, 5, 1] };
    const scene = sceneOf({ lamp }, [['lamp', { kind: 'box', centre: [0, 0, 12], half: [50, 50, 2] }]]);
    expect(shade(scene, 5, 50, 16).emission).toEqual([700, 5, 1]);
    const tracer = new Tracer(scene, 64, 64);
    for (const [x, y] of [
      [32, 32],
      [0, 0],
      [63, 10],
    ] as const)
      expect(tracer.depth(x, y)).toBeCloseTo(10, 9);
    expect(
      new Tracer(
        sceneOf({ lamp }, [['lamp', { kind: 'sphere', centre: [0, 0, -5], radius: 1 }]]),
        8,
        8,
      ).depth(4, 4),
    ).toBe(999);
  });

  it('is the same in every run', () => {
    const tracer = (): Tracer => new Tracer(quayScene(), 160, 90);
    const sums = [0, 1].map(() => {
      const one = tracer();
      const out = new Float64Array(MATTE_AT + 8);
      for (let index = 0; index < 8; index++) one.sample(60, 70, index, out);
      return out;
    });
    expect(sums[0]).toEqual(sums[1]);
  });
});

describe('a real aperture', () => {
  const lamp: Material = { kind: 'emitter', radiance: [50, 20, 10] };
  const aperture = { radius: 0.02, focusDistance: 4 };
  const sample: LampSample = { x: 0, y: 0, light: [0, 0, 0], hidden: false };

  /** The light of every sample of the only lamp, and where it falls. */
  function lampLight(tracer: Tracer, samples: number): { sum: number; places: [number, number][] } {
    let sum = 0;
    const places: [number, number][] = [];
    for (let index = 0; index < samples; index++) {
      if (!tracer.lampSample(0, index, sample)) continue;
      sum += sample.light[0] / samples;
      places.push([sample.x, sample.y]);
    }
    return { sum, places };
  }

  it('sends as much of a lamp to the picture as rays from its pixels find, and no more with a lens', () => {
    const scene = sceneOf({ lamp }, [['lamp', { kind: 'sphere', centre: [0.4, 0.2, 4], radius: 0.3 }]]);
    const { sum } = lampLight(new Tracer(scene, 64, 64), 20_000);
    const sums = new Float64Array(MATTE_AT + 1);
    const tracer = new Tracer(scene, 64, 64);
    for (let y = 0; y < 64; y++)
      for (let x = 0; x < 64; x++) for (let k = 0; k < 4; k++) tracer.sample(x, y, k, sums);
    // Emission is the fourth of the passes.
    expect(sum / (sums[9]! / 4)).toBeCloseTo(1, 2);
    const { sum: lens } = lampLight(new Tracer(scene, 64, 64, { aperture }), 20_000);
    expect(lens / sum).toBeCloseTo(1, 2);
  });

  it('sees the focus plane as a pinhole does, and points behind it upright as the pupil stands, before it on their heads', () => {
    const at = (distance: number): Tracer =>
      new Tracer(
        sceneOf({ lamp }, [['lamp', { kind: 'sphere', centre: [0, 0, distance], radius: 1e-4 }]]),
        64,
        64,
        { aperture },
      );
    for (const [x, y] of lampLight(at(4), 200).places) {
      expect(x).toBeCloseTo(32, 1);
      expect(y).toBeCloseTo(32, 1);
    }
    for (const [distance, side] of [
      [40, 1],
      [1, -1],
    ] as const) {
      const tracer = at(distance);
      for (let index = 0; index < 200; index++) {
        if (!tracer.lampSample(0, index, sample)) continue;
        const { x, y } = tracer.lensPoint;
        if (Math.abs(x) > 0.2) expect(Math.sign(sample.x - 32)).toBe(side * Math.sign(x));
        if (Math.abs(y) > 0.2) expect(Math.sign(32 - sample.y)).toBe(side * Math.sign(y));
      }
    }
  });

  it('knows what a pinhole does not see', () => {
    const wall: Material = { kind: 'coated', albedo: [0.5, 0.5, 0.5], roughness: 0.5 };
    const scene = sceneOf({ wall, lamp }, [
      ['wall', { kind: 'box', centre: [0, 0, 1], half: [0.004, 0.5, 0.001] }],
      ['lamp', { kind: 'sphere', centre: [0, 0, 40], radius: 0.05 }],
    ]);
    const tracer = new Tracer(scene, 64, 64, { aperture });
    let [hidden, arrived] = [0, 0];
    for (let index = 0; index < 2000; index++) {
      if (!tracer.lampSample(0, index, sample)) continue;
      arrived++;
      if (sample.hidden) hidden++;
    }
    // The post hides the lamp from the middle of the lens, and from a strip of it alone.
    expect(hidden).toBe(arrived);
    expect(arrived / 2000).toBeGreaterThan(0.6);
    expect(arrived / 2000).toBeLessThan(0.9);
  });

  it('leaves nothing but itself to chance when surfaces are lit by a formula', () => {
    const [one, two] = [1, 2].map((run) => {
      const sums = new Float64Array(MATTE_AT + 8);
      const tracer = new Tracer(quayScene(), 160, 90, { plain: true, run });
      for (let index = 0; index < 64; index++) tracer.sample(80, 75, index, sums);
      return sums.slice(0, 3).map((sum) => sum / 64);
    });
    expect(one![0]).toBeGreaterThan(0.01);
    one!.forEach((value, c) => expect(value / two![c]!).toBeCloseTo(1, 1));
  });
});

describe('the window by day', () => {
  const read = (name: string): Promise<Picture> =>
    readExr(new Uint8Array(readFileSync(join(__dirname, '../public/demo', name))));

  it('is two elements with passes, of which the room is open where the view shines in', async () => {
    const [view, room] = [await read('interior-view.exr'), await read('interior-room.exr')];
    for (const picture of [view, room]) {
      expect([picture.width, picture.height]).toEqual([960, 540]);
      const { passes, beauty, depth } = makePlate('p', 'p.exr', picture);
      expect(passes.map(({ name }) => name)).toEqual(expect.arrayContaining([...LIGHT_PASSES, 'N']));
      expect([beauty.name, depth!.name]).toEqual(['beauty', 'depth']);
      expect(cameraOfFile(picture.attributes)).toMatchObject({ focalLength: 42, sensorWidth: 36 });
    }
    const plane = (picture: Picture, name: string) => channelFloats(picture.channels.get(name)!);
    expect(view.channels.has('A')).toBe(false);
    const alpha = plane(room, 'A');
    const open = alpha.filter((value) => value === 0).length / alpha.length;
    expect(open).toBeGreaterThan(0.25);
    expect(open).toBeLessThan(0.6);
    // The room has nothing where it is open, and the sky behind is stops over white.
    const [red, sky] = [plane(room, 'R'), plane(view, 'emission.B')];
    expect(alpha.every((value, i) => value > 0 || red[i] === 0)).toBe(true);
    expect(sky.filter((value) => value > 3).length / sky.length).toBeGreaterThan(0.2);
    const stone = plane(room, 'matte.stone');
    expect(stone.filter((value) => value > 0.99).length).toBeGreaterThan(1000);
  });
});

describe('the demo shot', () => {
  const file = join(__dirname, '../public/demo/quay.exr');
  let picture: Picture;
  beforeAll(async () => {
    picture = await readExr(new Uint8Array(readFileSync(file)));
  });
  const plane = (name: string): Float32Array => channelFloats(picture.channels.get(name)!);

  it('is 1280 x 720, half floats with a float depth, under 16 MB', () => {
    expect([picture.width, picture.height]).toEqual([1280, 720]);
    expect(statSync(file).size).toBeLessThan(16e6);
    for (const { name, type } of picture.channels.values())
      expect([name, type]).toEqual([name, name === 'depth.Z' ? 'float' : 'half']);
    expect(cameraOfFile(picture.attributes)).toEqual({
      focalLength: 33,
      sensorWidth: 36,
      sensorHeight: 20.25,
    });
    const plate = makePlate('p', 'quay.exr', picture);
    expect([plate.beauty.name, plate.depth!.name]).toEqual(['beauty', 'depth']);
  });

  it('has light passes whose sum is the beauty', () => {
    for (const channel of ['R', 'G', 'B']) {
      const beauty = plane(channel);
      const passes = LIGHT_PASSES.map((pass) => plane(`${pass}.${channel}`));
      let worst = 0;
      for (let i = 0; i < beauty.length; i++) {
        let sum = -beauty[i]!;
        for (const pass of passes) sum += pass[i]!;
        const difference = Math.abs(sum);
        worst = Math.max(worst, Math.min(difference / 0.001, difference / (0.01 * beauty[i]!)));
      }
      expect(worst).toBeLessThan(1);
    }
  });

  it('has lamps of real radiance, and few of them', () => {
    const green = plane('G');
    expect(green.reduce((most, value) => Math.max(most, value), 0)).toBeGreaterThan(2000);
    expect(green.filter((value) => value > 100).length / green.length).toBeLessThan(0.01);
    expect(green.every((value) => Number.isFinite(value) && value >= 0)).toBe(true);
  });

  it('has mattes, one an object group, that cover a pixel at most once, and normals of unit length inside objects', () => {
    const mattes = quayScene().groups.map((group) => plane(`matte.${group}`));
    const [nx, ny, nz] = ['N.X', 'N.Y', 'N.Z'].map(plane) as [Float32Array, Float32Array, Float32Array];
    let longest = 0;
    let most = 0;
    for (let i = 0; i < nx.length; i++) {
      let covered = 0;
      for (const matte of mattes) covered += matte[i]!;
      most = Math.max(most, covered);
      longest = Math.max(longest, Math.hypot(nx[i]!, ny[i]!, nz[i]!));
    }
    expect(most).toBeLessThan(1.003);
    expect(longest).toBeCloseTo(1, 2);
    for (const matte of mattes) expect(matte.some((value) => value > 0.99)).toBe(true);
  });

  it('has planar depth in metres, from the rope near by to the sky', () => {
    const depth = plane('depth.Z');
    const nearest = depth.reduce((least, value) => Math.min(least, value), Infinity);
    expect(nearest).toBeGreaterThan(1);
    expect(nearest).toBeLessThan(3);
    expect(depth.reduce((most, value) => Math.max(most, value), 0)).toBe(10000);
  });
});

describe('the frames of the demo reel', () => {
  const FRAMES = 24;
  const fileOf = (frame: number): string =>
    join(__dirname, `../public/demo/quay-reel.${String(frame).padStart(4, '0')}.exr`);
  const pictures: Picture[] = [];
  beforeAll(async () => {
    for (let frame = 1; frame <= FRAMES; frame++)
      pictures.push(await readExr(new Uint8Array(readFileSync(fileOf(frame)))));
  });

  it('are 640 x 360 with beauty, emission, depth and one matte, under 1.5 MB each', () => {
    for (let frame = 1; frame <= FRAMES; frame++) expect(statSync(fileOf(frame)).size).toBeLessThan(1.5e6);
    for (const { width, height, channels } of pictures) {
      expect([width, height]).toEqual([640, 360]);
      const names = ['B', 'G', 'R', 'depth.Z', 'emission.B', 'emission.G', 'emission.R', 'matte.boats'];
      expect([...channels.keys()].sort()).toEqual(names);
    }
  });

  it('show a lighthouse that turns once, and a boat with a lamp that goes by', () => {
    const at = (picture: Picture, name: string): Float32Array => channelFloats(picture.channels.get(name)!);
    // The lighthouse stands alone before the sky, right of the middle.
    const tower = pictures.map((picture) => {
      const green = at(picture, 'emission.G');
      let most = 0;
      for (let y = 100; y < 160; y++)
        for (let x = 400; x < 470; x++) most = Math.max(most, green[y * 640 + x]!);
      return most;
    });
    const brightest = tower.indexOf(Math.max(...tower));
    expect(tower[brightest]! / Math.min(...tower)).toBeGreaterThan(10);
    expect([brightest > 0, brightest < FRAMES - 1]).toEqual([true, true]);
    for (let k = 0; k < brightest; k++) expect(tower[k + 1]!).toBeGreaterThanOrEqual(0.99 * tower[k]!);
    // What is boat and shines, at the right of the picture.
    const lanternAt = (picture: Picture): number => {
      const [red, matte] = [at(picture, 'emission.R'), at(picture, 'matte.boats')];
      let [sum, weight] = [0, 0];
      for (let y = 180; y < 320; y++)
        for (let x = 480; x < 640; x++) {
          const light = red[y * 640 + x]! * matte[y * 640 + x]!;
          sum += light * x;
          weight += light;
        }
      return sum / weight;
    };
    const places = [0, 8, 16, 23].map((k) => lanternAt(pictures[k]!));
    for (let k = 1; k < places.length; k++) expect(places[k]!).toBeLessThan(places[k - 1]! - 5);
  });
});
