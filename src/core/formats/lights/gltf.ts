import { WebIO, type GLTF, type JSONDocument, type Node } from '@gltf-transform/core';
import { KHRLightsPunctual, type Light } from '@gltf-transform/extensions';
import { FileError } from '../../errors';
import { linearToHex } from '../../color/hex';
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

function readLight(node: Node, light: Light, camera: Pose, index: number): SpaceLight {
  const pose = poseOf(node);
  // Lights shine along -z of their node.
  const shines = seenFrom(camera, pose.axes[2].map((value) => -value) as Vector);
  const isFar = light.getType() === 'directional';
  const offset = pose.place.map((value, k) => value - camera.place[k]!) as Vector;
  const place = isFar ? (shines.map((value) => -value * FAR) as Vector) : seenFrom(camera, offset);
  const isSpot = light.getType() === 'spot';
  return {
    name: node.getName() || light.getName() || `Light ${index + 1}`,
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

/**
 * Lights and a camera of a scene in glTF 2.0 (ISO/IEC 12113:2022) with the extension KHR_lights_punctual: places are seen from
 * the first camera. `name` is for messages. Throws {@link FileError}.
 */
export async function readGltfLights(bytes: Uint8Array, name: string): Promise<SpaceLights> {
  const fail = (what: string, todo: string): never => {
    throw new FileError(what, { where: name, todo });
  };
  const io = new WebIO().registerExtensions([KHRLightsPunctual]);
  const isBinary = bytes.length > 4 && new TextDecoder().decode(bytes.subarray(0, 4)) === 'glTF';
  const nodes: Node[] = [];
  try {
    const document = isBinary ? await io.readBinary(bytes) : await io.readJSON(sceneOnly(bytes));
    nodes.push(...document.getRoot().listNodes());
  } catch (error) {
    return fail(
      `the scene cannot be read: ${(error as Error).message}`,
      'Export it as glTF 2.0 with its lights and its camera',
    );
  }
  const cameras = nodes.filter((node) => node.getCamera());
  const camera = cameras[0] ? poseOf(cameras[0]) : HOME;
  const lit = nodes.flatMap((node) => {
    const light = node.getExtension<Light>('KHR_lights_punctual');
    return light ? [{ node, light }] : [];
  });
  if (lit.length === 0)
    fail('the scene holds no lights', 'Export its lights with the extension KHR_lights_punctual');
  return {
    lights: lit.map(({ node, light }, index) => readLight(node, light, camera, index)),
    warnings: [
      ...(cameras.length === 0 ? ['the scene has no camera: places are taken as seen from its origin'] : []),
      ...(cameras.length > 1 ? [`of ${cameras.length} cameras the first is taken`] : []),
    ],
  };
}

/** The fields that are there. */
const present = <T extends object>(fields: T): T =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as T;

/** What a scene in JSON says of places: its geometry, which may lie in files that are not there, is left out. */
function sceneOnly(bytes: Uint8Array): JSONDocument {
  const json = JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF;
  const nodes = json.nodes?.map(
    ({ name, children, matrix, translation, rotation, scale, camera, extensions }) =>
      present({ name, children, matrix, translation, rotation, scale, camera, extensions }),
  );
  const { asset, scene, scenes, cameras, extensions, extensionsUsed } = json;
  return {
    json: {
      asset,
      ...(scene !== undefined && { scene }),
      ...(scenes && { scenes }),
      ...(nodes && { nodes }),
      ...(cameras && { cameras }),
      ...(extensions && { extensions }),
      ...(extensionsUsed && {
        extensionsUsed: extensionsUsed.filter((one) => one === 'KHR_lights_punctual'),
      }),
    },
    resources: {},
  };
}
