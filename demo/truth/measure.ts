import { existsSync, readFileSync } from 'node:fs';
import { ContentCache } from '../../src/core/light/cache';
import { evaluate } from '../../src/core/bench/evaluate';
import { similarity } from '../../src/core/image/compare';
import { toRgb, type Rgb } from '../../src/core/image/rgb';
import { makePlate, stackPlates, type Plate } from '../../src/core/light/plate';
import { applyView, viewOf } from '../../src/core/color/view';
import { readExr } from '../../src/core/formats/exr/read';
import { channelFloats, type Picture } from '../../src/core/image/picture';
import { kernelsOn } from '../../src/core/kernels';
import { serialRunner } from '../../src/core/jobs';
import { parseLook, type Look } from '../../src/core/look/look';
import { quayScene } from '../scene/quay';
import { rowScene } from '../scene/row';
import {
  elementFile,
  pairFile,
  PINHOLE,
  PUPILS,
  rowFile,
  SIZE,
  STACKS,
  type Pair,
  type PupilName,
  type StackName,
} from './pairs';

/** How near the computed depth of field comes to a traced one. */
export interface Likeness {
  pair: Pair;
  pupil: PupilName;
  /** Peak signal to noise after the view, over all pixels and over those that a pinhole shows nearly whole. */
  psnr: number;
  recoverable: number;
  /** Share of such pixels. */
  share: number;
  /** Structural similarity of the luma after the view (Wang et al. 2004). */
  ssim: number;
  /** Mean of |difference| / (truth + 0.02) in linear light. */
  relative: number;
  /** Peak signal to noise of the two tracings that the truth is the mean of, against each other. */
  agreement: number;
}

/** The computed picture, the traced one and what a pinhole gives, as light. */
export interface Compared {
  likeness: Likeness;
  ours: Rgb;
  truth: Rgb;
}

const readPicture = (file: string): Promise<Picture> => readExr(new Uint8Array(readFileSync(file)));

function planes(picture: Picture, prefix = ''): Rgb {
  return toRgb(['R', 'G', 'B'].map((name) => channelFloats(picture.channels.get(prefix + name)!)));
}

/** The look that photographs the pinhole picture as a pair was. */
export function lookOf({ fStop, focus }: Pair, pupil: PupilName, scene = quayScene()): Look {
  const { focalLength, sensorWidth } = scene.camera;
  return parseLook({
    version: 1,
    camera: { focalLength, sensorWidth, sensorHeight: sensorWidth * (9 / 16), fStop, focusDistance: focus },
    focus: { on: true },
    pupil: PUPILS[pupil],
    veil: { on: false },
  });
}

export async function pinholePlate(): Promise<Plate> {
  return makePlate('pinhole', 'pinhole.exr', await readPicture(PINHOLE));
}

/** The row as elements, back to front, each traced by itself. */
export async function stackedPlate(stack: StackName): Promise<Plate> {
  const elements: Plate[] = [];
  for (const name of STACKS[stack])
    elements.push(makePlate(name, `${name}.exr`, await readPicture(elementFile(name))));
  return stackPlates(elements[0]!, elements);
}

export const isTraced = (pair: Pair): boolean => existsSync(pairFile(pair));

export const measure = (plate: Plate, pair: Pair, pupil: PupilName): Promise<Compared> =>
  compareWith(plate, pair, pupil, pairFile(pair), lookOf(pair, pupil));

/** The same of the row. */
export const measureRow = (plate: Plate, pair: Pair, pupil: PupilName): Promise<Compared> =>
  compareWith(plate, pair, pupil, rowFile(pair), lookOf(pair, pupil, rowScene()));

async function compareWith(
  plate: Plate,
  pair: Pair,
  pupil: PupilName,
  file: string,
  look: Look,
): Promise<Compared> {
  const traced = await readPicture(file);
  const truth = planes(traced, `${pupil}.`);
  const context = {
    plate,
    cache: new ContentCache(1 << 30),
    parallel: serialRunner,
    kernels: kernelsOn(serialRunner),
  };
  const { light } = await evaluate(look, context, { scale: 1, behind: 'focus' });
  const ours = light.total;
  const hidden = channelFloats(traced.channels.get('hidden.Y')!);
  const lamps = channelFloats(traced.channels.get('hiddenLamps.Y')!);
  const brightest = truth[0].map((red, i) => Math.max(red, truth[1][i]!, truth[2][i]!));
  const seen = hidden.map((share, i) => Number(share < 0.02 && lamps[i]! < 0.05 * (brightest[i]! + 0.02)));
  const apart = channelFloats(traced.channels.get(`${pupil}.spread.Y`)!);
  const agreement = decibels(apart.reduce((sum, value) => sum + value * value, 0) / apart.length);
  return { likeness: { pair, pupil, ...compare(ours, truth, seen), agreement }, ours, truth };
}

/** Luma and colours on a display, 0 to 1, by the view that the demo's look has. */
export function onDisplay(rgb: Rgb): Float32Array {
  const out = new Float32Array(rgb[0].length * 3);
  applyView(viewOf('filmic'), rgb, 1, out);
  return out;
}

function compare(ours: Rgb, truth: Rgb, seen: Float32Array): Omit<Likeness, 'pair' | 'pupil' | 'agreement'> {
  const [a, b] = [onDisplay(ours), onDisplay(truth)];
  let [all, within, count, relative] = [0, 0, 0, 0];
  for (let i = 0; i < seen.length; i++) {
    let square = 0;
    for (let c = 0; c < 3; c++) {
      square += (a[3 * i + c]! - b[3 * i + c]!) ** 2 / 3;
      relative += Math.abs(ours[c as 0]![i]! - truth[c as 0]![i]!) / (truth[c as 0]![i]! + 0.02) / 3;
    }
    all += square;
    if (seen[i]) {
      within += square;
      count++;
    }
  }
  return {
    psnr: decibels(all / seen.length),
    recoverable: decibels(within / count),
    share: count / seen.length,
    ssim: similarity(bytesOf(a), bytesOf(b), SIZE),
    relative: relative / seen.length,
  };
}

export const decibels = (meanSquare: number): number => -10 * Math.log10(meanSquare);

/** Values 0 to 1 of a display as opaque bytes. */
function bytesOf(display: Float32Array): Uint8ClampedArray {
  const data = new Uint8ClampedArray((display.length / 3) * 4).fill(255);
  for (let i = 0, at = 0; at < data.length; i += 3, at += 4)
    for (let c = 0; c < 3; c++) data[at + c] = Math.round(255 * display[i + c]!);
  return data;
}
