import { WebIO, type GLTF, type JSONDocument, type Node } from '@gltf-transform/core';
import { KHRLightsPunctual, type Light } from '@gltf-transform/extensions';
import { FileError } from '../../errors';
import { linearToHex } from '../../color/hex';
import { sceneAnimation, type SceneAnimation, type SceneClock } from './gltf-animation';
import type { SpaceLight, SpaceLights } from './space-light';

/** A light from a direction stands so many metres away. */
const FAR = 1e5;

type Vector = [number, number, number];

const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Vector): Vector => {
  const length = Math.hypot(...a) || 1;
  return [a[0] / length, a[1] / length, a[2] / length];
};

/** Column of a matrix of four by four, as glTF stores them. */
const column = (matrix: readonly number[], k: number): Vector => [
  matrix[4 * k]!,
  matrix[4 * k + 1]!,
  matrix[4 * k + 2]!,
];

/** Where a camera stands and its axes: right, up, and against its view. */
interface Pose {
  place: Vector;
  axes: [Vector, Vector, Vector];
}

const HOME: Pose = {
  place: [0, 0, 0],
  axes: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
};

function poseOf(node: Node): Pose {
  const matrix = node.getWorldMatrix();
  return {
    place: column(matrix, 3),
    axes: [unit(column(matrix, 0)), unit(column(matrix, 1)), unit(column(matrix, 2))],
  };
}

const seenFrom = ({ axes }: Pose, direction: Vector): Vector =>
  axes.map((axis) => dot(axis, direction)) as Vector;

/** Angles in degrees by which a direction is turned from facing the camera, for a light at a place. */
export function facing(place: Vector, direction: Vector): { turn: number; tilt: number } {
  const toCamera = unit([-place[0], -place[1], -place[2]]);
  const side = unit(cross(Math.abs(toCamera[1]) > 0.999 ? [1, 0, 0] : [0, 1, 0], toCamera));
  const up = cross(toCamera, side);
  const axis = unit(direction);
  const degrees = (radians: number): number => (radians * 180) / Math.PI;
  return {
    turn: degrees(Math.atan2(dot(axis, side), dot(axis, toCamera))),
    tilt: degrees(Math.asin(Math.max(-1, Math.min(1, dot(axis, up))))),
  };
}

function readLight(name: string, node: Node, light: Light, camera: Pose): SpaceLight {
  const pose = poseOf(node);
  // Lights shine along -z of their node.
  const shines = seenFrom(camera, pose.axes[2].map((value) => -value) as Vector);
  const isFar = light.getType() === 'directional';
  const offset = pose.place.map((value, k) => value - camera.place[k]!) as Vector;
  const place = isFar ? (shines.map((value) => -value * FAR) as Vector) : seenFrom(camera, offset);
  const isSpot = light.getType() === 'spot';
  return {
    name,
    px: place[0],
    py: place[1],
    pz: place[2],
    gain: light.getIntensity(),
    tint: linearToHex(light.getColor()),
    ...(isSpot && {
      cone: Math.max(1, (2 * light.getOuterConeAngle() * 180) / Math.PI),
      ...facing(place, shines),
    }),
  };
}

/** A scene that is open. */
interface OpenScene {
  nodes: readonly Node[];
  /** The nodes with a camera. */
  cameras: readonly Node[];
  animation: SceneAnimation | undefined;
  warnings: readonly string[];
}

async function openScene(bytes: Uint8Array, name: string): Promise<OpenScene> {
  const io = new WebIO().registerExtensions([KHRLightsPunctual]);
  const isBinary = bytes.length > 4 && new TextDecoder().decode(bytes.subarray(0, 4)) === 'glTF';
  try {
    const whole = isBinary ? await io.binaryToJSON(bytes) : jsonOf(bytes);
    const { scene, animations, isElsewhere } = sceneOnly(whole);
    const document = await io.readJSON(scene);
    const nodes = document.getRoot().listNodes();
    const cameras = nodes.filter((node) => node.getCamera());
    return {
      nodes,
      cameras,
      animation: sceneAnimation(scene.json, animations, document),
      warnings: [
        ...(isElsewhere
          ? ['how things move is told in another file: export the scene as one .glb to bring it in']
          : []),
        ...(cameras.length > 1 ? [`of ${cameras.length} cameras the first is taken`] : []),
      ],
    };
  } catch (error) {
    throw new FileError(`the scene cannot be read: ${(error as Error).message}`, {
      where: name,
      todo: 'Export it as glTF 2.0 with its lights and its camera',
    });
  }
}

/** So many frames of a scene that moves are read. */
const MOST_FRAMES = 20_000;

/** The frames of a scene's animation with the time of each in seconds; one that does not move has none. */
function framesOf(
  { animation }: OpenScene,
  { fps, first }: SceneClock,
  name: string,
): { frame: number; time: number }[] {
  if (!animation) return [];
  const count = Math.ceil(animation.duration * fps - 1e-4) + 1;
  if (count > MOST_FRAMES)
    throw new FileError(`it moves for ${count} frames; up to ${MOST_FRAMES} are read`, {
      where: name,
      todo: 'Export a shorter part',
    });
  return Array.from({ length: count }, (_, k) => ({ frame: first + k, time: k / fps }));
}

/** What is there of a scene at every frame, as far as it changes; of what stays as it is once, without a frame. */
function overFrames<T extends object>(
  scene: OpenScene,
  frames: readonly { frame: number; time: number }[],
  read: () => T,
): (T & { frame?: number })[] {
  if (!scene.animation || frames.length === 0) return [read()];
  const told = frames.map(({ time }) => {
    scene.animation!.goTo(time);
    return read();
  });
  const start = JSON.stringify(told[0]);
  if (told.every((one) => JSON.stringify(one) === start)) return [told[0]!];
  return told.map((one, k) => ({ ...one, frame: frames[k]!.frame }));
}

/**
 * Lights of a scene in glTF 2.0 (ISO/IEC 12113:2022) with the extension KHR_lights_punctual: places are seen from the first camera, in a
 * scene that moves at every frame. `name` is for messages. Throws {@link FileError}.
 */
export async function readGltfLights(
  bytes: Uint8Array,
  name: string,
  clock: SceneClock,
): Promise<SpaceLights> {
  const scene = await openScene(bytes, name);
  const { nodes, cameras, warnings } = scene;
  const lit = nodes.flatMap((node) => {
    const light = node.getExtension<Light>('KHR_lights_punctual');
    return light ? [{ node, light }] : [];
  });
  if (lit.length === 0)
    throw new FileError('the scene holds no lights', {
      where: name,
      todo: 'Export its lights with the extension KHR_lights_punctual',
    });
  const frames = framesOf(scene, clock, name);
  const names = uniqueNames(
    lit.map(({ node, light }, index) => node.getName() || light.getName() || `Light ${index + 1}`),
  );
  return {
    lights: lit.flatMap(({ node, light }, index) =>
      overFrames(scene, frames, () =>
        readLight(names[index]!, node, light, cameras[0] ? poseOf(cameras[0]) : HOME),
      ),
    ),
    warnings: [
      ...(cameras.length === 0 ? ['the scene has no camera: places are taken as seen from its origin'] : []),
      ...warnings,
    ],
  };
}

/** Lights are told apart by their names: those of one name are counted. */
function uniqueNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    let own = name;
    for (let k = 2; taken.has(own); k++) own = `${name} ${k}`;
    taken.add(own);
    return own;
  });
}

/** The angle that a camera sees from its lower to its upper edge, degrees; of one that zooms, at a frame. */
export interface SceneField {
  frame?: number;
  field: number;
}

/** What the first camera of a scene sees; of one that zooms, at every frame. Throws {@link FileError}. */
export async function readGltfFields(
  bytes: Uint8Array,
  name: string,
  clock: SceneClock,
): Promise<SceneField[]> {
  const scene = await openScene(bytes, name);
  const camera = scene.cameras
    .map((node) => node.getCamera()!)
    .find((one) => one.getType() === 'perspective');
  if (!camera)
    throw new FileError('the scene has no camera with a perspective', {
      where: name,
      todo: 'Export it with its camera',
    });
  return overFrames(scene, framesOf(scene, clock, name), () => ({
    field: (camera.getYFov() * 180) / Math.PI,
  }));
}

/** The fields that are there. */
const present = <T extends object>(fields: T): T =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as T;

const jsonOf = (bytes: Uint8Array): JSONDocument => ({
  json: JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF,
  resources: {},
});

/** What a scene says of places, and how they move: its shapes, which may lie in files that are not there, are left out. */
function sceneOnly({ json, resources }: JSONDocument): {
  scene: JSONDocument;
  animations: readonly GLTF.IAnimation[];
  /** Whether it moves by numbers that lie in another file. */
  isElsewhere: boolean;
} {
  const nodes = json.nodes?.map(
    ({ name, children, matrix, translation, rotation, scale, camera, extensions }) =>
      present({ name, children, matrix, translation, rotation, scale, camera, extensions }),
  );
  const { asset, scene, scenes, cameras, extensions, extensionsUsed, animations = [] } = json;
  const isThere = ({ uri }: GLTF.IBuffer): boolean =>
    uri === undefined || uri.startsWith('data:') || uri in resources;
  const isMoving = animations.length > 0;
  const hasNumbers = isMoving && (json.buffers ?? []).every(isThere);
  const { accessors, bufferViews, buffers } = json;
  return {
    scene: {
      json: {
        asset,
        ...(scene !== undefined && { scene }),
        ...(scenes && { scenes }),
        ...(nodes && { nodes }),
        ...(cameras && { cameras }),
        ...(extensions && { extensions }),
        ...(hasNumbers && present({ accessors, bufferViews, buffers })),
        ...(extensionsUsed && {
          extensionsUsed: extensionsUsed.filter((one) => one === 'KHR_lights_punctual'),
        }),
      },
      resources: hasNumbers ? resources : {},
    },
    animations: hasNumbers ? animations : [],
    isElsewhere: isMoving && !hasNumbers,
  };
}
