import type { Accessor, Document, GLTF, Node } from '@gltf-transform/core';
import type { Light } from '@gltf-transform/extensions';

/** When a scene's animation is looked at: its first instant falls on a frame. */
export interface SceneClock {
  fps: number;
  first: number;
}

type Interpolation = 'LINEAR' | 'STEP' | 'CUBICSPLINE';

/** A value over time, and what it is set on. */
interface Channel {
  times: readonly number[];
  /** Of each time one value; of cubic splines three: the tangent before it, it, the tangent behind it. */
  values: readonly (readonly number[])[];
  interpolation: Interpolation;
  isRotation: boolean;
  set: (value: readonly number[]) => void;
}

/** A scene that moves. */
export interface SceneAnimation {
  /** Seconds. */
  duration: number;
  /** Puts all that moves where it is at a time in seconds. */
  goTo(time: number): void;
}

interface PointerTarget extends GLTF.IAnimationChannelTarget {
  extensions?: { KHR_animation_pointer?: { pointer?: string } };
}

/**
 * What moves in a scene by all its animations: places, turns and sizes of nodes (glTF 2.0, 3.11), and by KHR_animation_pointer fields of
 * view of cameras, and brightness, colour and cone of lights. Undefined if nothing does.
 */
export function sceneAnimation(
  { nodes: nodeDefs = [] }: GLTF.IGLTF,
  animations: readonly GLTF.IAnimation[],
  document: Document,
): SceneAnimation | undefined {
  const root = document.getRoot();
  const [nodes, accessors] = [root.listNodes(), root.listAccessors()];
  const lights = lightsByIndex(nodeDefs, nodes);
  const channels = animations.flatMap(({ channels, samplers }) =>
    channels.flatMap(({ sampler: index, target }): Channel[] => {
      const sampler = samplers[index];
      const [input, output] = [accessors[sampler?.input ?? -1], accessors[sampler?.output ?? -1]];
      const set = setterOf(target as PointerTarget, { nodes, cameras: root.listCameras(), lights });
      if (!sampler || !input || !output || !set) return [];
      return [
        {
          times: elementsOf(input).map(([time]) => time!),
          values: elementsOf(output),
          interpolation: (sampler.interpolation ?? 'LINEAR') as Interpolation,
          isRotation: target.path === 'rotation',
          set,
        },
      ];
    }),
  );
  const moving = channels.filter(({ times }) => times.length > 0);
  if (moving.length === 0) return undefined;
  return {
    duration: Math.max(...moving.map(({ times }) => times.at(-1)!)),
    goTo: (time) => moving.forEach((channel) => channel.set(valueAt(channel, time))),
  };
}

function elementsOf(accessor: Accessor): number[][] {
  return Array.from({ length: accessor.getCount() }, (_, k) => accessor.getElement(k, []));
}

/** The lights of a scene by their places in its list. */
function lightsByIndex(defs: readonly GLTF.INode[], nodes: readonly Node[]): Map<number, Light> {
  const lights = new Map<number, Light>();
  defs.forEach(({ extensions }, k) => {
    const named = extensions?.KHR_lights_punctual as { light?: number } | undefined;
    const light = nodes[k]?.getExtension<Light>('KHR_lights_punctual');
    if (named?.light !== undefined && light) lights.set(named.light, light);
  });
  return lights;
}

type Cameras = ReturnType<ReturnType<Document['getRoot']>['listCameras']>;

interface Animated {
  nodes: readonly Node[];
  cameras: Cameras;
  lights: ReadonlyMap<number, Light>;
}

type Vector3 = [number, number, number];

/** What sets a channel's value; undefined for what does not bear on lights, such as weights of shapes. */
function setterOf(
  { node: index, path, extensions }: PointerTarget,
  { nodes, cameras, lights }: Animated,
): Channel['set'] | undefined {
  const node = nodes[index ?? -1];
  if (node && path === 'translation') return (value) => node.setTranslation(value as Vector3);
  if (node && path === 'scale') return (value) => node.setScale(value as Vector3);
  if (node && path === 'rotation')
    return (value) => node.setRotation(value as [number, number, number, number]);
  const pointer = extensions?.KHR_animation_pointer?.pointer ?? '';
  const ofCamera = /^\/cameras\/(\d+)\/perspective\/yfov$/.exec(pointer);
  const camera = cameras[Number(ofCamera?.[1] ?? -1)];
  if (camera) return ([value]) => void camera.setYFov(value!);
  const ofLight = /^\/extensions\/KHR_lights_punctual\/lights\/(\d+)\/(.+)$/.exec(pointer);
  const light = lights.get(Number(ofLight?.[1] ?? -1));
  switch (light && ofLight?.[2]) {
    case 'intensity':
      return ([value]) => void light!.setIntensity(value!);
    case 'color':
      return (value) => void light!.setColor(value as Vector3);
    case 'spot/outerConeAngle':
      return ([value]) => void light!.setOuterConeAngle(value!);
    default:
      return undefined;
  }
}

/** A channel's value at a time, as glTF 2.0, appendix C, has it; before its first time and after its last it stays. */
function valueAt({ times, values, interpolation, isRotation }: Channel, time: number): readonly number[] {
  const isCubic = interpolation === 'CUBICSPLINE';
  const at = (k: number): readonly number[] => values[isCubic ? 3 * k + 1 : k]!;
  const next = times.findIndex((one) => one > time);
  if (next === 0) return at(0);
  if (next < 0) return at(times.length - 1);
  const k = next - 1;
  if (interpolation === 'STEP') return at(k);
  const span = times[next]! - times[k]!;
  const t = (time - times[k]!) / span;
  const [a, b] = [at(k), at(next)];
  if (!isCubic) return isRotation ? slerp(a, b, t) : a.map((value, c) => value + t * (b[c]! - value));
  const [leaving, arriving] = [values[3 * k + 2]!, values[3 * next]!];
  const [t2, t3] = [t * t, t * t * t];
  const value = a.map(
    (_, c) =>
      (2 * t3 - 3 * t2 + 1) * a[c]! +
      span * (t3 - 2 * t2 + t) * leaving[c]! +
      (3 * t2 - 2 * t3) * b[c]! +
      span * (t3 - t2) * arriving[c]!,
  );
  return isRotation ? normalised(value) : value;
}

function normalised(value: readonly number[]): number[] {
  const length = Math.hypot(...value) || 1;
  return value.map((part) => part / length);
}

/** Between two turns, the shorter way round at an even speed. */
function slerp(a: readonly number[], b: readonly number[], t: number): number[] {
  const cos = a.reduce((sum, value, c) => sum + value * b[c]!, 0);
  const angle = Math.acos(Math.min(1, Math.abs(cos)));
  if (angle < 1e-6) return [...a];
  const sign = cos < 0 ? -1 : 1;
  const [own, other] = [Math.sin((1 - t) * angle), sign * Math.sin(t * angle)];
  return normalised(a.map((value, c) => own * value + other * b[c]!));
}
