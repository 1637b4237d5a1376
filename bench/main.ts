import { wasmGhosts } from '../src/core/kernels/ghosts/wasm';
import { flareLight } from '../src/core/stations/ghosts/flare';
import type { ResolvedLight } from '../src/core/light/resolved-light';
import { ContentCache } from '../src/core/light/cache';
import FFT from 'fft.js';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateSync, inflateSync } from 'node:zlib';
import { mapRgb, scalePlane } from '../src/core/image/rgb';
import { displayBytes } from '../src/core/kernels/display';
import { curveMap, ToneTable } from '../src/core/color/tone';
import { applyView, viewOf } from '../src/core/color/view';
import { readExr } from '../src/core/formats/exr/read';
import { writeExr } from '../src/core/formats/exr/write';
import { channelFloats, pictureBytes } from '../src/core/image/picture';
import { referenceConvolution } from '../src/core/kernels/convolution/reference';
import { wasmConvolution } from '../src/core/kernels/convolution/wasm';
import { wasmDiffraction } from '../src/core/kernels/diffraction/wasm';
import { deflateZlib, inflateZlib } from '../src/core/kernels/codecs';
import { despike } from '../src/core/stations/plate/clean';
import { serialRunner } from '../src/core/jobs';
import type { TaskRunner } from '../src/core/kernels/runtime/parallel';
import { assignSetting, defaultLook } from '../src/core/look/look';
import { powerLawQuadrant } from '../src/core/optics/power-law';
import type { ScatterInput, ScatterKernel } from '../src/core/kernels/scatter';
import { wasmScatter } from '../src/core/kernels/scatter/wasm';
import { blurDiameter } from '../src/core/optics/camera';
import { DiscSet } from '../src/core/stations/focus/discs';
import { evenKernel } from '../src/core/stations/veil/parts/pixel-kernel';
import { rasterizePsf } from '../src/core/optics/rasterize-psf';
import { DRAFT_SIZE, pupilSource, spikeImages } from '../src/core/stations/veil/parts/spikes';
import { startThreads } from '../src/engine/node/threads';
import { compareGlassAndFilm } from './glass-film';
import { startFftw, startOpenExr } from './native';
import { compareReel } from './reel';

/**
 * Times each heavy operation against a reference measured alternately in the same run, and prints a table. Nothing is
 * asserted: machines differ, ratios less so.
 */
const RUNS = 4;
type Work = () => unknown;

async function milliseconds(work: Work): Promise<number> {
  const started = performance.now();
  await work();
  return performance.now() - started;
}

const rows: string[][] = [['operation', 'ms', 'reference', 'ms', 'ratio']];

/** Alternates the two, so that a busy moment of the machine strikes both; the least of each counts. */
async function compare(name: string, own: Work, reference: string, other: Work): Promise<void> {
  let [best, bestOther] = [Infinity, Infinity];
  for (let run = 0; run < RUNS; run++) {
    best = Math.min(best, await milliseconds(own));
    bestOther = Math.min(bestOther, await milliseconds(other));
  }
  row(name, best, reference, bestOther);
}

function row(name: string, best: number, reference: string, bestOther: number): void {
  rows.push([name, best.toFixed(0), reference, bestOther.toFixed(0), (best / bestOther).toFixed(2)]);
}

const [WIDTH, HEIGHT] = [1280, 720];
const law = { core: 4.3, falloff: 2, reach: Math.hypot(WIDTH, HEIGHT) };
const quadrant = powerLawQuadrant(law, WIDTH, HEIGHT);
const planes = [1, 2, 3].map((seed) =>
  Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => ((i * 7919 * seed) % 997) / 997),
);

/** One 2-D transform there and back with a power-of-two package, per plane: what a straightforward build would do. */
function withPackage(plane: Float32Array): void {
  const [columns, lines] = [4096, 2048];
  const [rowFft, columnFft] = [new FFT(columns), new FFT(lines)];
  const grid = new Float64Array(columns * lines * 2);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) grid[2 * (y * columns + x)] = plane[y * WIDTH + x]!;
  const line = (fft: FFT, size: number, at: (k: number) => number, back: boolean): void => {
    const input = fft.createComplexArray() as number[];
    const output = fft.createComplexArray() as number[];
    for (let k = 0; k < size; k++) [input[2 * k], input[2 * k + 1]] = [grid[at(k)]!, grid[at(k) + 1]!];
    if (back) fft.inverseTransform(output, input);
    else fft.transform(output, input);
    for (let k = 0; k < size; k++) [grid[at(k)], grid[at(k) + 1]] = [output[2 * k]!, output[2 * k + 1]!];
  };
  for (const back of [false, true]) {
    for (let y = 0; y < (back ? HEIGHT : lines); y++)
      if (!back || y < HEIGHT) line(rowFft, columns, (k) => 2 * (y * columns + k), back);
    for (let x = 0; x < columns; x++) line(columnFft, lines, (k) => 2 * (k * columns + x), back);
  }
}

const threads = startThreads(new URL('./task-thread.mjs', import.meta.url));
const reference = referenceConvolution(serialRunner);
const single = wasmConvolution(serialRunner);
const many = wasmConvolution(threads.parallel);
const kernel = evenKernel(quadrant, WIDTH);
const kernelRows = kernel.rows;
const spectrum = await single.prepare(WIDTH, HEIGHT, kernelRows);
const referenceSpectrum = await reference.prepare(WIDTH, HEIGHT, kernelRows);

await compare(
  'bloom 1280x720 RGB, one thread',
  () => single.convolve(planes, [spectrum]),
  'power-of-two FFT package',
  () => planes.forEach(withPackage),
);
await compare(
  'bloom 1280x720 RGB, one thread',
  () => single.convolve(planes, [spectrum]),
  'double precision, TypeScript',
  () => reference.convolve(planes, [referenceSpectrum]),
);
await compare(
  `bloom 1280x720 RGB, ${threads.parallel.threads} threads`,
  () => many.convolve(planes, [spectrum]),
  'one thread',
  () => single.convolve(planes, [spectrum]),
);
await compare(
  `kernel spectrum 1280x720, ${threads.parallel.threads} threads`,
  () => many.prepare(WIDTH, HEIGHT, kernelRows),
  'its convolution',
  () => many.convolve(planes, [spectrum]),
);

await compare(
  `kernel of two parts 1280x720, ${threads.parallel.threads} threads`,
  () => many.prepare(WIDTH, HEIGHT, [kernel.plane, kernel.plane]),
  'its rows from one thread',
  () => many.prepare(WIDTH, HEIGHT, kernelRows),
);
const transformed = await many.transform(WIDTH, HEIGHT, planes);
await compare(
  `another kernel on a kept feed, ${threads.parallel.threads} threads`,
  () => many.convolve(transformed, [spectrum]),
  'on a new one',
  () => many.convolve(planes, [spectrum]),
);
const bladed = assignSetting(defaultLook(), 'pupil.blades=7');
const spikesOn = (parallel: TaskRunner, draft = false): (() => Promise<void>) => {
  const kernel = wasmDiffraction(parallel);
  const share = draft ? 0.25 : 1;
  return async () => {
    const images = await spikeImages(pupilSource(bladed), { kernel, ...(draft && { size: DRAFT_SIZE }) });
    await rasterizePsf(images, { width: share * WIDTH, height: share * HEIGHT, unit: 2 * share }, { kernel });
  };
};
await compare(
  `spikes of a new pupil 1280x720, ${threads.parallel.threads} threads`,
  spikesOn(threads.parallel),
  'one thread',
  spikesOn(serialRunner),
);

await compare(
  `a draft of them 320x180, ${threads.parallel.threads} threads`,
  spikesOn(threads.parallel, true),
  'full size',
  spikesOn(threads.parallel),
);

/** Against the native library, which gets the same planes on the same padded grid. */
async function compareWithFftw(width: number, height: number, count: number): Promise<void> {
  const convolution = count === 1 ? single : many;
  const source = planes.map((plane) => {
    const larger = new Float32Array(width * height);
    for (let i = 0; i < larger.length; i++) larger[i] = plane[i % plane.length]!;
    return larger;
  });
  const { rows } = evenKernel(powerLawQuadrant({ ...law, reach: 2 * width }, width, height), width);
  const made = await convolution.prepare(width, height, rows);
  const fftw = await startFftw({ width, height, length: 2 * width, rows: 2 * height }, count);
  if (!fftw) {
    process.stderr.write('no FFTW to compare with (Debian: libfftw3-dev and gcc)\n');
    return;
  }
  let [best, bestOther] = [Infinity, Infinity];
  for (let run = 0; run < 2 * RUNS; run++) {
    best = Math.min(best, await milliseconds(() => convolution.convolve(source, [made])));
    bestOther = Math.min(bestOther, await fftw.time(''));
  }
  fftw.close();
  row(
    `convolution ${width}x${height} RGB, ${count === 1 ? 'one thread' : `${count} threads`}`,
    best,
    'FFTW 3',
    bestOther,
  );
}
for (const [width, height] of [
  [512, 512],
  [960, 540],
  [1920, 1080],
] as const)
  for (const count of [1, threads.parallel.threads]) await compareWithFftw(width, height, count);

const file = new Uint8Array(readFileSync('public/demo/quay.exr'));
const picture = await readExr(file);
const raw = new Uint8Array(pictureBytes(picture));
let at = 0;
for (const { samples } of picture.channels.values()) {
  raw.set(new Uint8Array(samples.buffer), at);
  at += samples.byteLength;
}
const packed = deflateSync(raw, { level: 4 });
await compare(
  'read the demo shot (OpenEXR, ZIP)',
  async () => readExr(file),
  'inflate alone (node:zlib)',
  () => inflateSync(packed),
);
await compare(
  'write the demo shot',
  async () => writeExr(picture),
  'deflate alone (node:zlib 4)',
  () => deflateSync(raw, { level: 4 }),
);

/** Against the reference implementation, which reads and writes the same pictures. */
async function compareWithOpenExr(count: number): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bokelux-bench-'));
  const compressions = ['zip', 'piz', 'pxr24', 'b44', 'dwaa'];
  const native = await startOpenExr(folder, 1920, 1080, count, compressions);
  if (!native) {
    process.stderr.write('no OpenEXR to compare with (Debian: libopenexr-dev, pkg-config and g++)\n');
    return;
  }
  const runner = count === 1 ? undefined : threads.parallel;
  const on = count === 1 ? 'one thread' : `${count} threads`;
  for (const compression of compressions) {
    const stored = new Uint8Array(readFileSync(join(folder, `${compression}.exr`)));
    let [best, bestOther] = [Infinity, Infinity];
    for (let run = 0; run < RUNS; run++) {
      best = Math.min(best, await milliseconds(() => readExr(stored, { runner })));
      bestOther = Math.min(bestOther, await native.time(`read ${compression}`));
    }
    row(`read 16 channels of 1920x1080, ${compression}, ${on}`, best, 'OpenEXR in C++', bestOther);
  }
  const decoded = await readExr(new Uint8Array(readFileSync(join(folder, 'zip.exr'))));
  let [best, bestOther] = [Infinity, Infinity];
  for (let run = 0; run < RUNS; run++) {
    best = Math.min(best, await milliseconds(() => writeExr(decoded, { runner })));
    bestOther = Math.min(bestOther, await native.time('write zip'));
  }
  row(`write them, zip, ${on}`, best, 'OpenEXR in C++', bestOther);
  native.close();
  rmSync(folder, { recursive: true });
}
for (const count of [1, threads.parallel.threads]) await compareWithOpenExr(count);

const deflated = new Uint8Array(packed);
await compare(
  'inflate 54 MB of samples',
  () => inflateZlib(deflated, raw.length),
  'node:zlib',
  () => inflateSync(packed),
);
await compare(
  'deflate 54 MB of samples',
  () => deflateZlib(raw, false),
  'node:zlib 4',
  () => deflateSync(raw, { level: 4 }),
);

const rgb = ['R', 'G', 'B'].map((name) => channelFloats(picture.channels.get(name)!));
const light = rgb as [Float32Array, Float32Array, Float32Array];
/** The median of each pixel's neighbours by sorting, as the definition has it. */
function mediansBySorting(): number {
  let sum = 0;
  for (let y = 1; y < HEIGHT - 1; y++)
    for (let x = 1; x < WIDTH - 1; x++) {
      const around: number[] = [];
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) around.push(light[0][(y + dy) * WIDTH + x + dx]!);
      sum += around.sort((a, b) => a - b)[4]!;
    }
  return sum;
}
await compare(
  'despike 1280x720',
  () => despike(light, WIDTH, HEIGHT, 10),
  'medians by sorting',
  mediansBySorting,
);
const tone = curveMap([
  [-6, -7],
  [0, 0.5],
  [4, 3],
]);
await compare(
  'curve on 1280x720 RGB, table made anew',
  () => {
    const table = new ToneTable(tone);
    light.forEach((plane) => table.apply(plane));
  },
  'the curve itself',
  () => light.forEach((plane) => plane.map(tone)),
);
const exact = new Float32Array(WIDTH * HEIGHT * 3);
await compare(
  'filmic view for the screen',
  () => displayBytes(viewOf('filmic'), rgb, 1),
  'the view itself',
  () => applyView(viewOf('filmic'), rgb, 1, exact),
);

await compare(
  'a change at Film 1280x720, to the screen',
  () =>
    displayBytes(
      viewOf('filmic'),
      mapRgb(light, (plane) => scalePlane(plane, 1.5)),
      1,
    ),
  'the view itself',
  () => applyView(viewOf('filmic'), rgb, 1.5, exact),
);

const depth = channelFloats(picture.channels.get('depth.Z')!);
/** The demo shot at another size, through a 50 mm lens at f/1.4 that is focused at 3 m. */
function photographed(width: number, height: number, key: string): ScatterInput {
  const sized = (plane: Float32Array): Float32Array =>
    Float32Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      return plane[Math.floor((y * HEIGHT) / height) * WIDTH + Math.floor((x * WIDTH) / width)]!;
    });
  const camera = { focalLength: 50, sensorWidth: 36, sensorHeight: 20.25, fStop: 1.4, focusDistance: 3 };
  return {
    key,
    width,
    height,
    surfaces: [
      {
        light: rgb.map(sized),
        radius: sized(depth).map((z) => (blurDiameter(camera, z, false) * width) / 36 / 2),
      },
    ],
    discs,
    fill: true,
    cellX: new Uint8Array(width),
    cellY: new Uint8Array(height),
  };
}
const blades = { blades: 6, curvature: 0, rotation: 15 };
const discs = new DiscSet({ pupil: blades, obstruction: 0, squeeze: 1, rim: 0, catsEye: 0 });
/** Every pixel the mean of its own disc: what a straightforward build would do, which lets far things bleed over near ones. */
function gathered({ width, height, surfaces }: ScatterInput): Float32Array[] {
  const { light: source, radius } = surfaces[0]!;
  const out = source.map((plane) => new Float32Array(plane.length));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const r = Math.abs(radius[y * width + x]!);
      const reach = Math.floor(r);
      let [count, a, b, c] = [0, 0, 0, 0];
      for (let v = Math.max(0, y - reach); v <= Math.min(height - 1, y + reach); v++)
        for (let u = Math.max(0, x - reach); u <= Math.min(width - 1, x + reach); u++) {
          if ((u - x) ** 2 + (v - y) ** 2 > r * r) continue;
          const at = v * width + u;
          count++;
          a += source[0]![at]!;
          b += source[1]![at]!;
          c += source[2]![at]!;
        }
      [a, b, c].forEach((sum, k) => (out[k]![y * width + x] = sum / count));
    }
  return out;
}
const inputs = new Map<string, ScatterInput>();
let turn = 0;
/** Scatters with the pieces cut anew each time, or kept. */
const scattered =
  (kernel: ScatterKernel, width: number, height: number, cut: 'anew' | 'kept' = 'anew') =>
  (): Promise<unknown> => {
    const name = `${width}x${height}`;
    const input = inputs.get(name) ?? photographed(width, height, name);
    inputs.set(name, input);
    return kernel.scatter({ ...input, key: cut === 'anew' ? `${name} ${turn++}` : name });
  };
const [alone, together, kept] = [serialRunner, threads.parallel, serialRunner].map(wasmScatter) as [
  ScatterKernel,
  ScatterKernel,
  ScatterKernel,
];
const small = photographed(960, 540, '960x540');
await compare(
  'focus 960x540, f/1.4 at 3 m, one thread',
  scattered(alone, 960, 540),
  'a gather a pixel, TypeScript',
  () => gathered(small),
);
await compare(
  `focus 1920x1080, ${threads.parallel.threads} threads`,
  scattered(together, 1920, 1080),
  'one thread',
  scattered(alone, 1920, 1080),
);
await compare(
  'focus 1920x1080, other discs, one thread',
  scattered(kept, 1920, 1080, 'kept'),
  'with pieces cut anew',
  scattered(alone, 1920, 1080),
);
await compare(
  `focus 960x540 (draft), ${threads.parallel.threads} threads`,
  scattered(together, 960, 540),
  'full size',
  scattered(together, 1920, 1080),
);
/** Ghosts of one light at f/8, those of all pairs of the double Gauss or the four brightest. */
const lamp: ResolvedLight = {
  name: 'lamp',
  index: 0,
  isFound: false,
  x: 0.7,
  y: 0.35,
  flux: [1000, 1000, 1000],
  size: 0.005,
  distance: undefined,
  visibility: 1,
  flare: 1,
  veil: 0,
};
const flared = (parallel: TaskRunner, draft: boolean, ...settings: string[]): (() => Promise<unknown>) => {
  const look = ['ghosts.on=true', 'camera.fStop=8', ...settings].reduce(assignSetting, defaultLook());
  const context = { cache: new ContentCache(1e8), kernels: { ghosts: wasmGhosts(parallel) }, draft };
  const scale = draft ? 0.25 : 1;
  const size = { width: 1920 * scale, height: 1080 * scale };
  return () => flareLight(look, [lamp], size, { x: 0, y: 0, ...size, scale }, context);
};
const allPairs = 'ghosts.count=100';
await compare(
  `ghosts of 45 pairs 1920x1080, real rays, ${threads.parallel.threads} threads`,
  flared(threads.parallel, false, allPairs),
  'one thread',
  flared(serialRunner, false, allPairs),
);
await compare(
  'ghosts of 45 pairs 1920x1080, near the axis, one thread',
  flared(serialRunner, false, allPairs, 'ghosts.quality=quick'),
  'real rays',
  flared(serialRunner, false, allPairs),
);
await compare(
  'ghosts of a moved light 480x270 (draft), 4 pairs, one thread',
  flared(serialRunner, true),
  'full size',
  flared(serialRunner, false),
);
await compareGlassAndFilm(compare, threads.parallel);
await threads.close();
await compareReel(compare);

console.log(`${cpus().length} x ${cpus()[0]?.model ?? 'unknown processor'}, Node ${process.version}\n`);
const widths = rows[0]!.map((_, column) => Math.max(...rows.map((row) => row[column]!.length)));
for (const [index, row] of rows.entries()) {
  console.log(`| ${row.map((cell, column) => cell.padEnd(widths[column]!)).join(' | ')} |`);
  if (index === 0) console.log(`| ${widths.map((width) => '-'.repeat(width)).join(' | ')} |`);
}
