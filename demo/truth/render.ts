import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { isMainThread, workerData } from 'node:worker_threads';
import { applyView, viewNamed } from '../../src/core/color/view';
import { writeExr } from '../../src/core/formats/exr/write';
import { floatsToHalves } from '../../src/core/image/half';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { pupilArea, pupilOutline } from '../../src/core/optics/pupil';
import { quayScene } from '../scene/quay';
import { MATTE_AT, Tracer, type LampSample } from '../tracer/integrator';
import { overRows, serveRows } from '../tracer/rows';
import { pairFile, PAIRS, PINHOLE, PUPIL_NAMES, PUPILS, SIZE, type Pair } from './pairs';

/**
 * Traces the quay through a pinhole and through real apertures, for the depth of field to be held against. Every pixel
 * gets samples until its mean is certain enough on a display; lamps are sent to the picture apart.
 */
interface Job {
  /** A pinhole without it. */
  pair?: Pair;
  run: number;
  /** Most samples a pixel. */
  samples: number;
}

/** What one row brings: light for each pupil (both the same for a pinhole), and the share of what a pinhole hides. */
interface Row {
  y: number;
  light: Float32Array<ArrayBuffer>;
  hidden: Float32Array<ArrayBuffer>;
  depth: Float32Array<ArrayBuffer>;
}

const { width: WIDTH, height: HEIGHT } = SIZE;
const BATCH = 32;
/** How far the mean may be off on a display of 0 to 1, by its own samples' spread. */
const TOLERANCE = 0.009;
const LAMP_SAMPLES_PER_PIXEL = 1500;
const INSIDE = insideOf(pupilOutline(PUPILS.blades));
const scene = quayScene();

function tracerOf({ pair, run }: Job): Tracer {
  const aperture = pair && {
    radius: scene.camera.focalLength / 1000 / pair.fStop / 2,
    focusDistance: pair.focus,
  };
  return new Tracer(scene, WIDTH, HEIGHT, {
    ...(aperture && { aperture }),
    run,
    lampsApart: true,
    plain: true,
  });
}

/** How quickly a display's value grows with light: a guide for where samples are needed, near the view's curve. */
function displaySlope(light: number): number {
  const x = Math.max(light, 0.0005);
  return 0.3 / (x ** 0.55 * (x + 0.6) ** 1.45);
}

function renderRows(job: Job): void {
  const tracer = tracerOf(job);
  const sums = new Float64Array(MATTE_AT + scene.groups.length);
  serveRows<Row>((y) => {
    const light = new Float32Array(WIDTH * 6);
    const hidden = new Float32Array(WIDTH);
    const depth = new Float32Array(WIDTH);
    for (let x = 0; x < WIDTH; x++) {
      depth[x] = tracer.depth(x, y);
      const all = [0, 0, 0];
      const bladed = [0, 0, 0];
      const square = [0, 0, 0];
      let [taken, within, away, asked] = [0, 0, 0, 0];
      while (taken < job.samples) {
        for (let k = 0; k < BATCH; k++, taken++) {
          sums.fill(0);
          tracer.sample(x, y, taken, sums);
          const inside = !job.pair || INSIDE(tracer.lensPoint.x, -tracer.lensPoint.y);
          if (inside) within++;
          for (let c = 0; c < 3; c++) {
            const value = sums[c]! + sums[c + 3]! + sums[c + 6]! + sums[c + 9]! + sums[c + 12]!;
            all[c]! += value;
            square[c]! += value * value;
            if (inside) bladed[c]! += value;
          }
          if (job.pair && k % 8 === 0) {
            asked++;
            if (tracer.lastIsHidden()) away++;
          }
        }
        const certain = all.every((sum, c) => {
          const mean = sum / taken;
          const variance = Math.max(0, square[c]! / taken - mean * mean) / taken;
          return Math.sqrt(variance) * displaySlope(mean) < TOLERANCE;
        });
        if (certain) break;
      }
      for (let c = 0; c < 3; c++) {
        light[x * 6 + c] = bladed[c]! / within;
        light[x * 6 + 3 + c] = all[c]! / taken;
      }
      hidden[x] = asked > 0 ? away / asked : 0;
    }
    return { row: { y, light, hidden, depth }, transfer: [light.buffer, hidden.buffer, depth.buffer] };
  });
}

/** Whether a point lies in a convex outline. */
function insideOf(outline: readonly [number, number][]): (x: number, y: number) => boolean {
  return (x, y) =>
    outline.every(([ax, ay], k) => {
      const [bx, by] = outline[(k + 1) % outline.length]!;
      return (bx - ax) * (y - ay) - (by - ay) * (x - ax) >= 0;
    });
}

interface Rendering {
  /** For each pupil, three planes. */
  light: Record<(typeof PUPIL_NAMES)[number], Float32Array[]>;
  hidden: Float32Array;
  /** Light of lamps that a pinhole does not see. */
  hiddenLamps: Float32Array;
  depth: Float32Array;
}

async function render(job: Job): Promise<Rendering> {
  const plane = (): Float32Array => new Float32Array(WIDTH * HEIGHT);
  const planes = (): Float32Array[] => [plane(), plane(), plane()];
  const out: Rendering = {
    light: { blades: planes(), disc: planes() },
    hidden: plane(),
    hiddenLamps: plane(),
    depth: plane(),
  };
  await overRows<Row>(fileURLToPath(import.meta.url), job, HEIGHT, ({ y, light, hidden, depth }) => {
    for (let x = 0; x < WIDTH; x++)
      for (let c = 0; c < 3; c++) {
        out.light.blades[c]![y * WIDTH + x] = light[x * 6 + c]!;
        out.light.disc[c]![y * WIDTH + x] = light[x * 6 + 3 + c]!;
      }
    out.hidden.set(hidden, y * WIDTH);
    out.depth.set(depth, y * WIDTH);
  });
  addLamps(job, out);
  return out;
}

function addLamps(job: Job, out: Rendering): void {
  const tracer = tracerOf(job);
  const sample: LampSample = { x: 0, y: 0, light: [0, 0, 0], hidden: false };
  const share = job.pair ? pupilArea(PUPILS.blades) : 1;
  for (let lamp = 0; lamp < tracer.lampCount; lamp++) {
    const samples = Math.ceil(tracer.lampFootprint(lamp) * LAMP_SAMPLES_PER_PIXEL);
    for (let index = 0; index < samples; index++) {
      if (!tracer.lampSample(lamp, index, sample)) continue;
      const inside = !job.pair || INSIDE(tracer.lensPoint.x, -tracer.lensPoint.y);
      addTent(sample, 1 / samples, inside ? 1 / (samples * share) : 0, out);
    }
  }
}

/** Adds a lamp's sample to the four pixels about it, by the tent that all pixels are filtered with. */
function addTent({ x, y, light, hidden }: LampSample, disc: number, blades: number, out: Rendering): void {
  const [left, top] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
  for (let v = top; v <= top + 1; v++)
    for (let u = left; u <= left + 1; u++) {
      if (u < 0 || v < 0 || u >= WIDTH || v >= HEIGHT) continue;
      const share = (1 - Math.abs(x - 0.5 - u)) * (1 - Math.abs(y - 0.5 - v));
      const at = v * WIDTH + u;
      for (let c = 0; c < 3; c++) {
        out.light.disc[c]![at]! += share * disc * light[c]!;
        out.light.blades[c]![at]! += share * blades * light[c]!;
      }
      if (hidden) out.hiddenLamps[at]! += share * disc * Math.max(...light);
    }
}

const RGB = ['R', 'G', 'B'] as const;
/** Halves keep a thousandth; the last three bits of it are noise and would only make the files larger. */
function rounded(plane: Float32Array): Uint16Array {
  const halves = floatsToHalves(plane);
  for (let i = 0; i < halves.length; i++) halves[i] = Math.min(0x7bf8, (halves[i]! + 4) & 0xfff8);
  return halves;
}

function write(file: string, halves: [string, Float32Array][], depth?: Float32Array): void {
  const picture = emptyPicture(WIDTH, HEIGHT);
  for (const [name, plane] of halves) addChannel(picture, name, 'half', rounded(plane));
  if (depth) addChannel(picture, 'depth.Z', 'float', depth);
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, writeExr(picture));
  process.stderr.write(`${file} written\n`);
}

async function renderPinhole(samples: number): Promise<void> {
  const { light, depth } = await render({ run: 1, samples });
  write(
    PINHOLE,
    RGB.map((name, c) => [name, light.disc[c]!]),
    depth,
  );
}

/** Two independent renderings: their mean is the truth, and how far they are apart is kept beside it. */
async function renderPair(pair: Pair, samples: number): Promise<void> {
  const one = await render({ pair, run: 1, samples });
  const two = await render({ pair, run: 2, samples });
  const mean = (a: Float32Array, b: Float32Array): Float32Array => a.map((value, i) => (value + b[i]!) / 2);
  const channels: [string, Float32Array][] = [];
  for (const pupil of PUPIL_NAMES) {
    const [a, b] = [one.light[pupil], two.light[pupil]];
    RGB.forEach((name, c) => channels.push([`${pupil}.${name}`, mean(a[c]!, b[c]!)]));
    channels.push([`${pupil}.spread.Y`, spreadOnDisplay(a, b)]);
  }
  channels.push(['hidden.Y', mean(one.hidden, two.hidden)]);
  channels.push(['hiddenLamps.Y', mean(one.hiddenLamps, two.hiddenLamps)]);
  write(pairFile(pair), channels);
}

/** Root mean square over the channels of how far two pictures are apart on a display, in steps of a 1024th. */
function spreadOnDisplay(a: Float32Array[], b: Float32Array[]): Float32Array {
  const [p, q] = [a, b].map((rgb) => {
    const shown = new Float32Array(WIDTH * HEIGHT * 3);
    applyView(viewNamed('filmic'), rgb, 1, shown);
    return shown;
  }) as [Float32Array, Float32Array];
  return Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    let square = 0;
    for (let c = 0; c < 3; c++) square += (p[3 * i + c]! - q[3 * i + c]!) ** 2 / 3;
    return Math.round(1024 * Math.sqrt(square)) / 1024;
  });
}

if (isMainThread) {
  const [only, samples = '2048'] = process.argv.slice(2);
  if (only === 'pinhole' || only === 'all') await renderPinhole(Number(samples));
  for (const pair of PAIRS)
    if (only === 'all' || only === `${pair.fStop}-${pair.focus}`) await renderPair(pair, Number(samples));
} else {
  renderRows(workerData as Job);
}
