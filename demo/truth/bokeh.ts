import { ContentCache } from '../../src/core/light/cache';
import { evaluate } from '../../src/core/bench/evaluate';
import { makePlate } from '../../src/core/light/plate';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { serialRunner } from '../../src/core/jobs';
import { kernelsOn } from '../../src/core/kernels';
import { assignSetting } from '../../src/core/look/look';
import { blurDiameter } from '../../src/core/optics/camera';
import { quayScene } from '../scene/quay';
import { Tracer, type LampSample } from '../tracer/integrator';
import type { Scene } from '../tracer/scene';
import { lookOf } from './measure';
import { SIZE, type Pair } from './pairs';

/** Diameter in pixels of a lone lamp's disc: by the formula, as it is traced, and as it is computed. */
export interface Bokeh {
  pair: Pair;
  /** Metres. */
  distance: number;
  formula: number;
  traced: number;
  computed: number;
}

/** Diameter of an even disc by the spread of its light: its variance along an axis is a sixteenth of the diameter squared. */
function diameterOf(samples: Iterable<readonly [x: number, weight: number]>): number {
  let [sum, first, second] = [0, 0, 0];
  for (const [x, weight] of samples) {
    sum += weight;
    first += weight * x;
    second += weight * x * x;
  }
  const mean = first / sum;
  return 4 * Math.sqrt(second / sum - mean * mean);
}

const SAMPLES = 10_000;

function traced({ fStop, focus }: Pair, distance: number): number {
  const { camera, sky } = quayScene();
  const scene: Scene = {
    camera: { ...camera, position: [0, 0, 0], target: [0, 0, 1] },
    sky,
    groups: ['lamp'],
    materials: { lamp: { kind: 'emitter', radiance: [1, 1, 1] } },
    // So small that its own size adds nothing.
    items: [
      {
        group: 'lamp',
        material: 'lamp',
        shape: { kind: 'sphere', centre: [0, 0, distance], radius: 1e-5 * distance },
      },
    ],
  };
  const aperture = { radius: camera.focalLength / 1000 / fStop / 2, focusDistance: focus };
  const tracer = new Tracer(scene, SIZE.width, SIZE.height, { aperture });
  const sample: LampSample = { x: 0, y: 0, light: [0, 0, 0], hidden: false };
  const found: [number, number][] = [];
  for (let index = 0; index < SAMPLES; index++)
    if (tracer.lampSample(0, index, sample)) found.push([sample.x, 1]);
  return diameterOf(found);
}

async function computed(pair: Pair, distance: number, formula: number): Promise<number> {
  // As wide as the others, and only as high as a disc is.
  const { width } = SIZE;
  const height = 64;
  const picture = emptyPicture(width, height);
  const light = new Float32Array(width * height);
  light[(height / 2) * width + width / 2] = 1000;
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', light);
  addChannel(picture, 'depth.Z', 'float', new Float32Array(width * height).fill(distance));
  const look = assignSetting(lookOf(pair, 'disc'), 'focus.limit=0.25');
  const plate = makePlate('lamp', 'lamp.exr', picture);
  const context = { plate, cache: new ContentCache(1 << 28), kernels: kernelsOn(serialRunner) };
  const result = await evaluate(look, context, { scale: 1, behind: 'focus' });
  const [red] = result.light.total;
  // About the disc alone: far off, the rounding of a bright lamp would weigh.
  const reach = Math.ceil(formula / 2) + 2;
  const found: [number, number][] = [];
  for (let y = height / 2 - reach; y <= height / 2 + reach; y++)
    for (let x = width / 2 - reach; x <= width / 2 + reach; x++) found.push([x, red[y * width + x]!]);
  return diameterOf(found);
}

export async function bokehAt(pair: Pair, distance: number): Promise<Bokeh> {
  const { focalLength, sensorWidth } = quayScene().camera;
  const { fStop, focus } = pair;
  const camera = { focalLength, sensorWidth, sensorHeight: sensorWidth, fStop, focusDistance: focus };
  const formula = Math.abs((blurDiameter(camera, distance, false) * SIZE.width) / sensorWidth);
  return {
    pair,
    distance,
    formula,
    traced: traced(pair, distance),
    computed: await computed(pair, distance, formula),
  };
}

/** Distances in metres before and behind both focus distances. */
export const DISTANCES = [1, 2, 8, 60, 1000] as const;
