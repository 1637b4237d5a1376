import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { isMainThread, workerData } from 'node:worker_threads';
import { fileURLToPath } from 'node:url';
import { writeExr } from '../src/core/formats/exr/write';
import { floatsToHalves, halvesToFloats } from '../src/core/image/half';
import { addChannel, emptyPicture, type Picture } from '../src/core/image/picture';
import { cameraAttributes } from './camera-attributes';
import { smoothWithin } from './smooth';
import { INTERIOR, interiorScene } from './scene/interior';
import { quayReelScene, quayScene } from './scene/quay';
import { stoneScene } from './scene/stone';
import { LIGHT_PASSES, MATTE_AT, NORMAL_AT, SKY, Tracer } from './tracer/integrator';
import { overRows, serveRows } from './tracer/rows';
import type { Scene } from './tracer/scene';

/** A scene, or the groups of it that the camera sees in one element. */
interface Subject {
  /** At a share of the reel, 0 to 1, if it moves. */
  scene: (time: number) => Scene;
  visible?: readonly string[];
  /** Whether light from other surfaces is smoothed within its own: rooms are noisy. */
  smooth?: true;
  /** The channels that are written, if not all. */
  keep?: RegExp;
}

/** What can be rendered: the demo shots' stills, and a plate beside them for glass in the scene. */
const SUBJECTS = {
  quay: { scene: quayScene },
  // A reel's frames are many: they have the passes alone that a lens needs.
  'quay-reel': { scene: quayReelScene, keep: /^(R|G|B|emission\..*|depth\.Z|matte\.boats)$/ },
  stone: { scene: stoneScene },
  'interior-view': { scene: interiorScene, visible: [...INTERIOR.view, SKY] },
  'interior-room': { scene: interiorScene, visible: INTERIOR.room, smooth: true },
} as const satisfies Record<string, Subject>;
type SubjectName = keyof typeof SUBJECTS;

/** What a worker renders: rows come to it one by one, so that quick and slow parts even out. */
interface Job {
  subject: SubjectName;
  width: number;
  height: number;
  samples: number;
  time: number;
}
interface Row {
  y: number;
  sums: Float64Array<ArrayBuffer>;
  depth: Float32Array<ArrayBuffer>;
}

const channelCount = (groups: number): number => MATTE_AT + groups;

function renderRows({ subject, width, height, samples, time }: Job): void {
  const { scene: sceneOf, visible }: Subject = SUBJECTS[subject];
  const scene = sceneOf(time);
  const tracer = new Tracer(scene, width, height, visible && { visible });
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
  const { width, height, time } = job;
  const { scene: sceneOf, visible, smooth, keep }: Subject = SUBJECTS[job.subject];
  const scene = sceneOf(time);
  const count = channelCount(scene.groups.length);
  const planes = Array.from({ length: count }, () => new Float32Array(width * height));
  const depth = new Float32Array(width * height);
  await overRows<Row>(fileURLToPath(import.meta.url), job, height, ({ y, sums, depth: line }) => {
    for (let x = 0; x < width; x++)
      for (let k = 0; k < count; k++) planes[k]![y * width + x] = sums[x * count + k]!;
    depth.set(line, y * width);
  });
  if (smooth) smoothIndirect(planes, depth, width);
  const picture = assemble(planes, depth, scene, visible, width, height);
  for (const name of keep ? [...picture.channels.keys()] : [])
    if (!keep!.test(name)) picture.channels.delete(name);
  return picture;
}

/** Smooths the last of the light passes, guided by normals, depth and mattes. */
function smoothIndirect(planes: Float32Array[], depth: Float32Array, width: number): void {
  const at = 3 * LIGHT_PASSES.indexOf('indirect');
  const guides = [
    ...planes.slice(NORMAL_AT, MATTE_AT).map((plane) => ({ plane, spread: 0.15 })),
    ...planes.slice(MATTE_AT).map((plane) => ({ plane, spread: 0.2 })),
    { plane: depth, spread: 0.06 },
  ];
  const mattes = planes.slice(MATTE_AT);
  smoothWithin(planes.slice(at, at + 3), guides, width, 3).forEach((plane, c) => {
    // Where nothing is seen nothing shines.
    planes[at + c] = plane.map((value, i) => (mattes.some((matte) => matte[i]! > 0) ? value : 0));
  });
}

/** Passes are rounded to half first and the beauty is their sum, so that nothing is lost between them. */
function assemble(
  planes: Float32Array[],
  depth: Float32Array,
  { groups, camera }: Scene,
  visible: readonly string[] | undefined,
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
  const seen = groups.flatMap((group, k) =>
    !visible || visible.includes(group) ? [{ group, coverage: planes[MATTE_AT + k]! }] : [],
  );
  for (const { group, coverage } of seen)
    addChannel(picture, `matte.${group}`, 'half', floatsToHalves(coverage));
  if (visible && !visible.includes(SKY)) {
    const alpha = depth.map((_, i) => seen.reduce((sum, { coverage }) => sum + coverage[i]!, 0));
    addChannel(picture, 'A', 'half', floatsToHalves(alpha));
  }
  addChannel(picture, 'depth.Z', 'float', depth);
  for (const [name, attribute] of cameraAttributes(camera, { width, height }))
    picture.attributes.set(name, attribute);
  return picture;
}

/** The number of a frame in a file's name. */
const numbered = (pattern: string, frame: number): string =>
  pattern.replace(/#+/, (marks) => String(frame).padStart(marks.length, '0'));

if (isMainThread) {
  const [subject, out, width = '1280', height = '720', samples = '128', frames = '1'] = process.argv.slice(2);
  if (!subject || !(subject in SUBJECTS) || !out)
    throw new Error(
      `usage: demo-render ${Object.keys(SUBJECTS).join('|')} OUT.exr [WIDTH HEIGHT SAMPLES [FRAMES]]`,
    );
  const size = { width: Number(width), height: Number(height), samples: Number(samples) };
  mkdirSync(dirname(out), { recursive: true });
  for (let frame = 1; frame <= Number(frames); frame++) {
    const file = numbered(out, frame);
    const time = (frame - 1) / Number(frames);
    writeFileSync(file, await writeExr(await render({ subject: subject as SubjectName, ...size, time })));
    process.stderr.write(`${file} written\n`);
  }
} else {
  renderRows(workerData as Job);
}
