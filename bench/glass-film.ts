import { evaluate } from '../src/core/bench/evaluate';
import { bilinearSampler } from '../src/core/image/bilinear';
import { gaussianBlur } from '../src/core/image/gaussian-blur';
import { addChannel, emptyPicture } from '../src/core/image/picture';
import { toRgb, type Rgb } from '../src/core/image/rgb';
import { serialRunner } from '../src/core/jobs';
import { kernelsOn } from '../src/core/kernels';
import { wasmGrade } from '../src/core/kernels/grade/wasm';
import type { TaskRunner } from '../src/core/kernels/runtime/parallel';
import { wasmWarp } from '../src/core/kernels/warp/wasm';
import { ContentCache } from '../src/core/light/cache';
import { makePlate, type Plate } from '../src/core/light/plate';
import { assignSetting, defaultLook, type Look } from '../src/core/look/look';
import { seeded } from '../src/core/optics/seeded';
import { clumpWeights } from '../src/core/stations/film/grain';
import { glassWarp } from '../src/core/stations/glass/warp';

type Work = () => unknown;
type Compare = (name: string, own: Work, reference: string, other: Work) => Promise<void>;

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

function noise(width: number, height: number): Rgb {
  const next = seeded(3);
  return toRgb([0, 1, 2].map(() => Float32Array.from({ length: width * height }, () => next())));
}

/** A ball of glass over stripes, with matte, transmission and normals. */
function ballPlate(width: number, height: number): Plate {
  const picture = emptyPicture(width, height);
  const [cx, cy, radius] = [width / 2, height / 2, 0.4 * height];
  const add = (name: string, value: (u: number, v: number, inside: boolean) => number): void =>
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: width * height }, (_, i) => {
        const [u, v] = [((i % width) - cx) / radius, (Math.floor(i / width) - cy) / radius];
        return value(u, v, u * u + v * v < 1);
      }),
    );
  const stripes = (u: number, v: number, inside: boolean): number =>
    inside && Math.sin(40 * u + v) > 0.8 ? 3 : 0.05;
  for (const layer of ['', 'transmission.'])
    for (const name of ['R', 'G', 'B']) add(`${layer}${name}`, stripes);
  add('matte.ball', (_u, _v, inside) => (inside ? 1 : 0));
  add('N.X', (u, _v, inside) => (inside ? u : 0));
  add('N.Y', (_u, v, inside) => (inside ? -v : 0));
  add('N.Z', (u, v, inside) => (inside ? Math.sqrt(1 - u * u - v * v) : 1));
  return makePlate('ball', 'ball.exr', picture);
}

/** Three copies of the picture scaled apart, read linearly: what lateral colour is not. */
function scaledCopies(light: Rgb, width: number, height: number): void {
  for (const [c, plane] of light.entries()) {
    const read = bilinearSampler(plane, width, height);
    const out = new Float32Array(plane.length);
    const scale = 1 + 0.001 * (c - 1);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        out[y * width + x] = read(width / 2 + (x - width / 2) * scale, height / 2 + (y - height / 2) * scale);
  }
}

/** Times what Glass and Film do most of. */
export async function compareGlassAndFilm(compare: Compare, threads: TaskRunner): Promise<void> {
  const size = { width: 1920, height: 1080 };
  const light = noise(1920, 1080);
  const frame = { x: 0, y: 0, ...size };
  const cache = new ContentCache(1e8);
  const warped = async (parallel: TaskRunner, ...settings: string[]): Promise<Work> => {
    const move = await glassWarp(lookOf(...settings), frame, size, cache);
    const kernel = wasmWarp(parallel);
    return () => kernel.warp({ ...move, ...size, light });
  };
  const fringes = 'glass.lateral=0.0005';
  await compare(
    `lateral colour 1920x1080, 0.05 % of the height, ${threads.threads} threads`,
    await warped(threads, fringes),
    'three scaled copies, TypeScript',
    () => scaledCopies(light, 1920, 1080),
  );
  await compare(
    `distortion 1920x1080, ${threads.threads} threads`,
    await warped(threads, 'glass.k1=-0.05'),
    'one thread',
    await warped(serialRunner, 'glass.k1=-0.05'),
  );
  const plate = ballPlate(1920, 1080);
  const evaluated = (parallel: TaskRunner, ...settings: string[]): Work => {
    const own = new ContentCache(1e9);
    const context = { plate, cache: own, kernels: kernelsOn(parallel), totalOnly: true };
    let turn = 0;
    // Another exposure each time, so that nothing is answered from the cache.
    return () => evaluate(lookOf(...settings, `plate.exposure=${++turn / 1000}`), context, { scale: 1 });
  };
  const ball = ['glass.scene.on=true', 'glass.scene.matte=matte.ball'];
  await compare(
    `scene glass 1920x1080, a ball of 0.8 of the height, ${threads.threads} threads`,
    evaluated(threads, ...ball),
    'one thread',
    evaluated(serialRunner, ...ball),
  );
  const weights = clumpWeights(1);
  const grains = wasmGrade(threads);
  await compare(
    `grain of three layers 1920x1080, ${threads.threads} threads`,
    () => grains.noise({ ...size, left: 0, top: 0, seeds: [1, 2, 3], weights }),
    'one layer blurred, TypeScript',
    () => gaussianBlur(light[0], 1920, 1080, 0.5, 0.5),
  );
  const graded = [
    'film.contrast=1.2',
    'film.saturation=1.1',
    'film.sharpen.amount=0.5',
    'film.temperature=5000',
  ];
  const film = (parallel: TaskRunner): Work => {
    const kernel = kernelsOn(parallel);
    const own = new ContentCache(1e9);
    const small = ballPlate(1280, 720);
    let turn = 0;
    return () =>
      evaluate(
        lookOf(...graded, `film.gain=${1 + ++turn / 1000}`),
        { plate: small, cache: own, kernels: kernel, totalOnly: true },
        { scale: 1 },
      );
  };
  await compare(
    `a change at Film 1280x720, ${threads.threads} threads`,
    film(threads),
    'one thread',
    film(serialRunner),
  );
}
