import {
  AnimationClip,
  AnimationMixer,
  InterpolateDiscrete,
  Object3D,
  PerspectiveCamera,
  PointLight,
  Quaternion,
  QuaternionKeyframeTrack,
  Scene,
  Vector3,
  VectorKeyframeTrack,
} from 'three';
import { GLTFExporter } from 'three/examples/jsm/exporters/GLTFExporter.js';
import { defaultLook } from '../../look/look';
import { placeSpaceLights, trackSpaceLights } from '../../look/space-lights';
import { lookAt } from '../../look/tracks';
import { readGltfFields } from './gltf';
import { readLights } from './read';
import { lightsAtFrame } from './space-light';

/** What the exporter needs of a browser. */
class BlobReader {
  result: string | ArrayBuffer | null = null;
  onloadend: (() => void) | null = null;

  readAsDataURL(blob: Blob): void {
    void this.read(
      blob,
      (bytes) => `data:application/octet-stream;base64,${Buffer.from(bytes).toString('base64')}`,
    );
  }

  readAsArrayBuffer(blob: Blob): void {
    void this.read(blob, (bytes) => bytes);
  }

  private async read(blob: Blob, as: (bytes: ArrayBuffer) => string | ArrayBuffer): Promise<void> {
    this.result = as(await blob.arrayBuffer());
    this.onloadend?.();
  }
}

/** A scene in which a lamp on an arm turns and rises, seen by a camera on rails that carries another. */
function movingScene() {
  const scene = new Scene();
  const camera = new PerspectiveCamera(40, 16 / 9, 0.1, 100);
  camera.name = 'Camera';
  const arm = new Object3D();
  arm.name = 'Arm';
  const lamp = new PointLight('#ffffff', 250);
  lamp.name = 'Lamp';
  lamp.position.set(2, 0, -6);
  const still = new PointLight('#ffffff', 90);
  still.name = 'Still';
  still.position.set(1, 1, -5);
  camera.add(still);
  arm.add(lamp);
  scene.add(camera, arm);
  const turn = (angle: number): number[] =>
    new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), angle).toArray();
  const clip = new AnimationClip('all', 2, [
    new QuaternionKeyframeTrack('Arm.quaternion', [0, 1, 2], [turn(0), turn(0.9), turn(-0.4)].flat()),
    new VectorKeyframeTrack('Arm.position', [0, 0.5, 2], [0, 0, 0, 1, 2, 0, 0, 1, -3]),
    new VectorKeyframeTrack('Camera.position', [0, 1], [0, 0, 0, 0, 0.5, 2], InterpolateDiscrete),
  ]);
  return { scene, camera, lamp, clip };
}

async function written(binary: boolean): Promise<Uint8Array> {
  Object.assign(globalThis, { FileReader: BlobReader });
  const { scene, clip } = movingScene();
  scene.updateMatrixWorld(true);
  const made = await new GLTFExporter().parseAsync(scene, { animations: [clip], binary });
  return binary ? new Uint8Array(made as ArrayBuffer) : new TextEncoder().encode(JSON.stringify(made));
}

describe('lights of a scene that moves', () => {
  // Source: the same animation as three.js plays it (AnimationMixer), and written by its GLTFExporter.
  it.each([false, true])('are where another player has them at every frame (binary: %s)', async (binary) => {
    const clock = { fps: 12, first: 101 };
    const { lights } = await readLights(await written(binary), binary ? 'a.glb' : 'a.gltf', clock);
    const own = lights.filter(({ name }) => name === 'Lamp');
    expect(own.map(({ frame }) => frame)).toEqual(Array.from({ length: 25 }, (_, k) => 101 + k));
    const { scene, camera, lamp, clip } = movingScene();
    const mixer = new AnimationMixer(scene);
    mixer.clipAction(clip).play();
    own.slice(0, -1).forEach(({ px, py, pz }, k) => {
      mixer.setTime(k / 12);
      scene.updateMatrixWorld(true);
      const place = camera.worldToLocal(lamp.getWorldPosition(new Vector3()));
      expect(Math.hypot(px - place.x, py - place.y, pz - place.z)).toBeLessThan(1e-4);
    });
  });

  it('get tracks of their places', async () => {
    const read = await readLights(await written(false), 'a.gltf');
    const look = placeSpaceLights(defaultLook(), lightsAtFrame(read, 1));
    const tracks = trackSpaceLights({}, read, { look, known: new Set() });
    const moving = look.ghosts.lights.findIndex(({ name }) => name === 'Lamp');
    expect(Object.keys(tracks).filter((path) => path.startsWith(`ghosts.lights[${moving}].`))).toEqual(
      ['px', 'py', 'pz'].map((axis) => `ghosts.lights[${moving}].${axis}`),
    );
    const wanted = lightsAtFrame(read, 13).find(({ name }) => name === 'Lamp')!;
    expect(lookAt(look, tracks, 13).ghosts.lights[moving]!.py).toBeCloseTo(wanted.py, 6);
  });

  it('by numbers in another file stand still, which is said', async () => {
    const scene = JSON.parse(new TextDecoder().decode(await written(false))) as { buffers: object[] };
    scene.buffers = [{ uri: 'scene.bin', byteLength: 8 }];
    const read = await readLights(new TextEncoder().encode(JSON.stringify(scene)), 'a.gltf');
    expect(read.lights).toHaveLength(2);
    expect(read.warnings[0]).toMatch(/another file/);
  });
});

/** A scene whose values are told by pointers, as KHR_animation_pointer has them. */
function pointed(): Uint8Array {
  // Of a cubic spline through t^3 at 0 and 1 second, tangents 3 t^2: it is t^3 between them.
  const heights = [0, 0, 0, 3, 1, 0];
  const splines = heights.flatMap((height, k) => [0, height, k % 3 === 1 ? -4 : 0]);
  const numbers = Float32Array.from([0, 1, 100, 300, 0.5, 1, ...splines]);
  const base64 = Buffer.from(numbers.buffer).toString('base64');
  const accessor = (first: number, count: number, type: string) => ({
    ...{ bufferView: 0, byteOffset: 4 * first, componentType: 5126, count, type },
    ...(first === 0 && { min: [0], max: [1] }),
  });
  const pointer = (sampler: number, path: string) => ({
    sampler,
    target: { path: 'pointer', extensions: { KHR_animation_pointer: { pointer: path } } },
  });
  const scene = {
    asset: { version: '2.0' },
    extensionsUsed: ['KHR_lights_punctual', 'KHR_animation_pointer'],
    extensions: { KHR_lights_punctual: { lights: [{ type: 'point', intensity: 100 }] } },
    cameras: [{ type: 'perspective', perspective: { yfov: 0.5, znear: 0.1 } }],
    nodes: [
      { name: 'Camera', camera: 0 },
      { name: 'Lamp', translation: [0, 0, -4], extensions: { KHR_lights_punctual: { light: 0 } } },
    ],
    animations: [
      {
        samplers: [
          { input: 0, output: 1 },
          { input: 0, output: 2 },
          { input: 0, output: 3, interpolation: 'CUBICSPLINE' },
        ],
        channels: [
          pointer(0, '/extensions/KHR_lights_punctual/lights/0/intensity'),
          pointer(1, '/cameras/0/perspective/yfov'),
          { sampler: 2, target: { node: 1, path: 'translation' } },
        ],
      },
    ],
    buffers: [{ byteLength: numbers.byteLength, uri: `data:application/octet-stream;base64,${base64}` }],
    bufferViews: [{ buffer: 0, byteLength: numbers.byteLength }],
    accessors: [
      accessor(0, 2, 'SCALAR'),
      accessor(2, 2, 'SCALAR'),
      accessor(4, 2, 'SCALAR'),
      accessor(6, 6, 'VEC3'),
    ],
  };
  return new TextEncoder().encode(JSON.stringify(scene));
}

describe('values that a scene tells by pointers', () => {
  it('are the brightness of lights; cubic splines go through what they are told', async () => {
    const { lights } = await readLights(pointed(), 'a.gltf', { fps: 10, first: 0 });
    expect(lights).toHaveLength(11);
    lights.forEach(({ gain, py, pz }, k) => {
      expect(gain).toBeCloseTo(100 + 20 * k, 4);
      expect(py).toBeCloseTo((k / 10) ** 3, 5);
      expect(pz).toBeCloseTo(-4, 5);
    });
  });

  it('are the field of view of the camera', async () => {
    const fields = await readGltfFields(pointed(), 'a.gltf', { fps: 10, first: 1 });
    expect(fields).toHaveLength(11);
    fields.forEach(({ frame, field }, k) => {
      expect(frame).toBe(1 + k);
      expect(field).toBeCloseTo(((0.5 + 0.05 * k) * 180) / Math.PI, 4);
    });
    const bare = new TextEncoder().encode('{"asset":{"version":"2.0"}}');
    await expect(readGltfFields(bare, 'b.gltf', { fps: 24, first: 1 })).rejects.toThrow(/no camera/);
  });
});
