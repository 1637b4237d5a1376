import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { isMainThread, workerData } from 'node:worker_threads';
import { fileURLToPath } from 'node:url';
import { writeExr } from '../src/core/formats/exr/write';
import { floatsToHalves, halvesToFloats } from '../src/core/image/half';
import { addChannel, emptyPicture, type Picture } from '../src/core/image/picture';
import { cameraAttributes } from './camera-attributes';
import { quayScene } from './scene/quay';
import { stoneScene } from './scene/stone';
import { LIGHT_PASSES, MATTE_AT, NORMAL_AT, Tracer } from './tracer/integrator';
import { overRows, serveRows } from './tracer/rows';
import type { Scene } from './tracer/scene';

/** What can be rendered: the demo shot's still, and a plate beside it for glass in the scene. */
const SCENES = { quay: quayScene, stone: stoneScene } as const;
type SceneName = keyof typeof SCENES;

/** What a worker renders: rows come to it one by one, so that quick and slow parts even out. */
interface Job {
  scene: SceneName;
  width: number;
  height: number;
  samples: number;
}
interface Row {
  y: number;
  sums: Float64Array<ArrayBuffer>;
  depth: Float32Array<ArrayBuffer>;
}

const channelCount = (groups: number): number => MATTE_AT + groups;

function renderRows({ scene: name, width, height, samples }: Job): void {
  const scene = SCENES[name]();
  const tracer = new Tracer(scene, width, height);
  const count = channelCount(scene.groups.length);
  serveRows<Row>((y) => {
    const sums = new Float64Array(width * count);
    const depth = new Float32Array(width);
    for (let x = 0; x < width; x++) {
      const pixel = sums.subarray(x * count, (x + 1) * count);
      for (let index = 0; index < samples; index++) tracer.sample(x, y, index, pixel);
      for (let k = 0; k < count; k++) pixel[k]! /= samples;
      depth[x] = tracer.depth(x, y);
    }
    return { row: { y, sums, depth }, transfer: [sums.buffer, depth.buffer] };
  });
}

/** Renders a scene on all cores. The result does not depend on how many there are. */
async function render(job: Job): Promise<Picture> {
  const { width, height } = job;
  const scene = SCENES[job.scene]();
  const count = channelCount(scene.groups.length);
  const planes = Array.from({ length: count }, () => new Float32Array(width * height));
  const depth = new Float32Array(width * height);
  await overRows<Row>(fileURLToPath(import.meta.url), job, height, ({ y, sums, depth: line }) => {
    for (let x = 0; x < width; x++)
      for (let k = 0; k < count; k++) planes[k]![y * width + x] = sums[x * count + k]!;
    depth.set(line, y * width);
  });
  return assemble(planes, depth, scene, width, height);
}

/** Passes are rounded to half first and the beauty is their sum, so that nothing is lost between them. */
function assemble(
  planes: Float32Array[],
  depth: Float32Array,
  { groups, camera }: Scene,
  width: number,
  height: number,
): Picture {
  const picture = emptyPicture(width, height);
  const rgb = ['R', 'G', 'B'] as const;
  rgb.forEach((channel, c) => {
    const sum = new Float32Array(width * height);
    LIGHT_PASSES.forEach((pass, index) => {
      const halves = floatsToHalves(planes[index * 3 + c]!);
      const rounded = halvesToFloats(halves);
      for (let i = 0; i < sum.length; i++) sum[i]! += rounded[i]!;
      addChannel(picture, `${pass}.${channel}`, 'half', halves);
    });
    addChannel(picture, channel, 'half', floatsToHalves(sum));
  });
  (['X', 'Y', 'Z'] as const).forEach((channel, c) =>
    addChannel(picture, `N.${channel}`, 'half', floatsToHalves(planes[NORMAL_AT + c]!)),
  );
  groups.forEach((group, k) =>
    addChannel(picture, `matte.${group}`, 'half', floatsToHalves(planes[MATTE_AT + k]!)),
  );
  addChannel(picture, 'depth.Z', 'float', depth);
  for (const [name, attribute] of cameraAttributes(camera, { width, height }))
    picture.attributes.set(name, attribute);
  return picture;
}

if (isMainThread) {
  const [scene, out, width = '1280', height = '720', samples = '128'] = process.argv.slice(2);
  if (!scene || !(scene in SCENES) || !out)
    throw new Error(`usage: demo-render ${Object.keys(SCENES).join('|')} OUT.exr [WIDTH HEIGHT SAMPLES]`);
  const size = { width: Number(width), height: Number(height), samples: Number(samples) };
  const picture = await render({ scene: scene as SceneName, ...size });
  mkdirSync(dirname(out), { recursive: true });
  writeFileSync(out, await writeExr(picture));
  process.stderr.write(`${out} written\n`);
} else {
  renderRows(workerData as Job);
}
