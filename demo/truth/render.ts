import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { isMainThread, workerData } from 'node:worker_threads';
import { applyView, viewOf } from '../../src/core/color/view';
import { writeExr } from '../../src/core/formats/exr/write';
import { floatsToHalves } from '../../src/core/image/half';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { pupilArea } from '../../src/core/optics/pupil';
import { quayScene } from '../scene/quay';
import { rowScene } from '../scene/row';
import { SKY, Tracer, type Aperture } from '../tracer/integrator';
import { overRows, serveRows } from '../tracer/rows';
import { FIELD, Gathered, LightField, MARGIN, type Band, type View } from './lightfield';
import {
  elementFile,
  ELEMENTS,
  pairFile,
  PAIRS,
  PINHOLE,
  PUPIL_NAMES,
  PUPILS,
  ROW_PAIRS,
  rowFile,
  SIZE,
  type ElementName,
  type Pair,
} from './pairs';

/**
 * Traces the quay through a pinhole and through real apertures, for the depth of field to be held against. A first
 * tracing of few rays tells where many are needed; lamps are sent to the pictures apart.
 */
interface Job {
  scene: SceneName;
  /** A pinhole without it. */
  aperture?: Aperture;
  /** What the camera sees, if not all. */
  visible?: readonly string[];
  views: readonly View[];
  run: number;
  /** Rays for each pixel of the field. */
  need: Uint16Array;
}

interface Row {
  y: number;
  band: Band;
}

const { width: WIDTH, height: HEIGHT } = SIZE;
/** Rays a pixel of the tracing that tells where more are needed, and the fewest and most of one that counts. */
const FIRST = 24;
const LEAST = 32;
const MOST = 1024;
/** Rays for a standard deviation of 1 among a pixel's samples on a display of 0 to 1. */
const RAYS_PER_DEVIATION = 1300;
/** Samples are looked at over a square of so many pixels to each side, for what a few of them miss. */
const ROUND = 3;
const LAMP_SAMPLES_PER_PIXEL = 1500;
const SCENES = { quay: quayScene(), row: rowScene() };
type SceneName = keyof typeof SCENES;

/** The pictures of one f-stop, which one tracing brings, and its aperture. */
function tracingAt(
  name: SceneName,
  pairs: readonly Pair[],
): { scene: SceneName; aperture: Aperture; views: (View & Pair)[] } {
  const [{ fStop }] = pairs as [Pair];
  const distances = pairs.map(({ focus }) => focus);
  return {
    scene: name,
    aperture: {
      radius: SCENES[name].camera.focalLength / 1000 / fStop / 2,
      // Half way between the outermost focus distances in shift, so that no ray is laid far from where it was drawn.
      focusDistance: 2 / (1 / Math.min(...distances) + 1 / Math.max(...distances)),
    },
    views: pairs.flatMap((pair) => PUPIL_NAMES.map((pupil) => ({ ...pair, pupil }))),
  };
}

function tracerOf({ scene, aperture, visible, run }: Job): Tracer {
  const options = {
    ...(aperture && { aperture }),
    ...(visible && { visible }),
    run,
    lampsApart: true,
    plain: true,
  };
  return new Tracer(SCENES[scene], WIDTH, HEIGHT, options);
}

function renderRows(job: Job): void {
  const field = new LightField(tracerOf(job), job.views);
  serveRows<Row>((y) => {
    const band = field.traceRow(y, (x) => job.need[y * FIELD.width + x]!);
    return { row: { y, band }, transfer: [band.buffer] };
  });
}

async function render(job: Job): Promise<Gathered[]> {
  const pictures = job.views.map(() => new Gathered());
  await overRows<Row>(fileURLToPath(import.meta.url), job, FIELD.height, ({ y, band }) =>
    pictures.forEach((picture, index) => picture.add(y, band, index)),
  );
  return pictures;
}

const evenNeed = (rays: number): Uint16Array => new Uint16Array(FIELD.width * FIELD.height).fill(rays);

/** How quickly a display's value grows with light: a guide for where samples are needed, near the view's curve. */
function displaySlope(light: number): number {
  const x = Math.max(light, 0.0005);
  return 0.3 / (x ** 0.55 * (x + 0.6) ** 1.45);
}

/**
 * Rays for each pixel of the field, by a first tracing of few. In proportion to how far samples lie apart they bring the
 * least error for their number (Neyman 1934, allocation in stratified sampling).
 */
async function needed(job: Omit<Job, 'need' | 'run'>): Promise<Uint16Array> {
  const first = await render({ ...job, run: 0, need: evenNeed(FIRST) });
  const variance = new Float64Array(FIELD.width * FIELD.height);
  for (const [index, picture] of first.entries()) {
    const { focus, pupil } = job.views[index]!;
    // Share of the rays that pass its pupil.
    const share = focus === undefined ? 1 : pupilArea(PUPILS[pupil]);
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const { mean, variance: own } = picture.spread(y * WIDTH + x);
        const at = (y + MARGIN) * FIELD.width + x + MARGIN;
        variance[at] = Math.max(variance[at]!, (own * displaySlope(mean) ** 2) / share);
      }
  }
  const { width, height } = FIELD;
  const wide = variance.map((_, at) => meanAlong(variance, at, at % width, width, 1));
  const need = Uint16Array.from(wide, (_, at) => {
    const round = meanAlong(wide, at, Math.floor(at / width), height, width);
    return Math.max(LEAST, Math.min(MOST, RAYS_PER_DEVIATION * Math.sqrt(round)));
  });
  const mean = need.reduce((sum, rays) => sum + rays, 0) / need.length;
  process.stderr.write(`${mean.toFixed(0)} rays a pixel\n`);
  return need;
}

/** The mean about a place along one axis. */
function meanAlong(values: Float64Array, at: number, place: number, length: number, stride: number): number {
  let [sum, count] = [0, 0];
  for (let k = Math.max(-ROUND, -place); k <= Math.min(ROUND, length - 1 - place); k++, count++)
    sum += values[at + k * stride]!;
  return sum / count;
}

async function renderWithLamps(job: Job): Promise<Gathered[]> {
  const pictures = await render(job);
  new LightField(tracerOf(job), job.views).addLamps(LAMP_SAMPLES_PER_PIXEL, pictures);
  return pictures;
}

const RGB = ['R', 'G', 'B'] as const;
/** Halves keep a thousandth; the last three bits of it are noise and would only make the files larger. */
function rounded(plane: Float32Array): Uint16Array {
  const halves = floatsToHalves(plane);
  for (let i = 0; i < halves.length; i++) halves[i] = Math.min(0x7bf8, (halves[i]! + 4) & 0xfff8);
  return halves;
}

async function write(file: string, halves: [string, Float32Array][], depth?: Float32Array): Promise<void> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  for (const [name, plane] of halves) addChannel(picture, name, 'half', rounded(plane));
  if (depth) addChannel(picture, 'depth.Z', 'float', depth);
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, await writeExr(picture));
  process.stderr.write(`${file} written\n`);
}

async function renderPinhole(): Promise<void> {
  const views: View[] = [{ pupil: 'disc' }];
  const job = { scene: 'quay', views } as const;
  const [picture] = await renderWithLamps({ ...job, run: 1, need: await needed(job) });
  const light = picture!.light();
  const tracer = new Tracer(SCENES.quay, WIDTH, HEIGHT);
  const depth = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    tracer.depth(i % WIDTH, Math.floor(i / WIDTH)),
  );
  await write(
    PINHOLE,
    RGB.map((name, c) => [name, light[c]!]),
    depth,
  );
}

/** One element with its alpha and depth, as a pinhole sees it. */
async function renderElement(name: ElementName): Promise<void> {
  const views: View[] = [{ pupil: 'disc' }];
  const visible: readonly string[] = ELEMENTS[name];
  const job = { scene: 'row', views, visible } as const;
  const [picture] = await renderWithLamps({ ...job, run: 1, need: await needed(job) });
  const light = picture!.light();
  const tracer = new Tracer(SCENES.row, WIDTH, HEIGHT, { visible });
  const depth = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    tracer.depth(i % WIDTH, Math.floor(i / WIDTH)),
  );
  const alpha: [string, Float32Array][] = visible.includes(SKY) ? [] : [['A', picture!.alpha()]];
  await write(
    elementFile(name),
    [...RGB.map((one, c): [string, Float32Array] => [one, light[c]!]), ...alpha],
    depth,
  );
}

/** Two independent renderings: their mean is the truth, and how far they are apart is kept beside it. */
async function renderPairs(
  name: SceneName,
  pairs: readonly Pair[],
  fileOf: (pair: Pair) => string,
): Promise<void> {
  const job = tracingAt(name, pairs);
  const need = await needed(job);
  const one = await renderWithLamps({ ...job, run: 1, need });
  const two = await renderWithLamps({ ...job, run: 2, need });
  const mean = (a: Float32Array, b: Float32Array): Float32Array => a.map((value, i) => (value + b[i]!) / 2);
  for (const pair of pairs) {
    const channels: [string, Float32Array][] = [];
    for (const pupil of PUPIL_NAMES) {
      const index = job.views.findIndex((view) => view.focus === pair.focus && view.pupil === pupil);
      const [p, q] = [one[index]!, two[index]!];
      const [a, b] = [p.light(), q.light()];
      RGB.forEach((name, c) => channels.push([`${pupil}.${name}`, mean(a[c]!, b[c]!)]));
      channels.push([`${pupil}.spread.Y`, spreadOnDisplay(a, b)]);
      if (pupil !== 'disc') continue;
      channels.push(['hidden.Y', mean(p.hidden(), q.hidden())]);
      channels.push(['hiddenLamps.Y', mean(p.hiddenLamps, q.hiddenLamps)]);
    }
    await write(fileOf(pair), channels);
  }
}

/** Root mean square over the channels of how far two pictures are apart on a display, in steps of a 1024th. */
function spreadOnDisplay(a: Float32Array[], b: Float32Array[]): Float32Array {
  const [p, q] = [a, b].map((rgb) => {
    const shown = new Float32Array(WIDTH * HEIGHT * 3);
    applyView(viewOf('filmic'), rgb, 1, shown);
    return shown;
  }) as [Float32Array, Float32Array];
  return Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    let square = 0;
    for (let c = 0; c < 3; c++) square += (p[3 * i + c]! - q[3 * i + c]!) ** 2 / 3;
    return Math.round(1024 * Math.sqrt(square)) / 1024;
  });
}

if (isMainThread) {
  const what = process.argv[2] ?? 'all';
  if (what === 'all' || what === 'pinhole') await renderPinhole();
  for (const name of Object.keys(ELEMENTS) as ElementName[])
    if (what === 'all' || what === 'elements') await renderElement(name);
  for (const fStop of new Set(PAIRS.map((pair) => pair.fStop)))
    if (what === 'all' || what === String(fStop))
      await renderPairs(
        'quay',
        PAIRS.filter((pair) => pair.fStop === fStop),
        pairFile,
      );
  if (what === 'all' || what === 'row') await renderPairs('row', ROW_PAIRS, rowFile);
} else {
  renderRows(workerData as Job);
}
