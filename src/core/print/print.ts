import type { Light } from '../light/light';
import { throughMatrix, type Rgb } from '../image/rgb';
import { chromaticitiesAttribute } from '../image/chromaticities';
import {
  ACES_AP1,
  fromRec709,
  REC709_CHROMATICITIES,
  type Chromaticities,
  type Matrix,
} from '../color/chromaticities';
import type { Plate } from '../light/plate';
import type { Rectangle } from '../image/rectangle';
import { writeExr } from '../formats/exr/write';
import type { TaskRunner } from '../kernels/runtime/parallel';
import { HALF_MAX, floatsToHalves, limitHalves } from '../image/half';
import { pixelAspectAttribute, toStoredPixels } from '../image/pixel-aspect';
import { addChannel, emptyPicture, type Picture } from '../image/picture';
import { cutRegion } from '../light/region';
import type { View } from '../color/view';
import { encodeFlat, type FlatFormat } from './encode';

/** How a final is written. */
export type PrintFormat =
  | {
      kind: 'exr';
      /** Sample type; `plate` takes the plate's own. */
      samples: 'plate' | 'half' | 'float';
      /** Writes the plate and each effect as layers besides the final. */
      separations: boolean;
    }
  | FlatFormat;

/** Primaries of scene-linear files: those of the bench, ACES AP1, or the plate's own. */
export type PrintPrimaries = 'rec709' | 'acescg' | 'plate';

export interface PrintJob {
  plate: Plate;
  /** How formats of whole numbers show the light. */
  view: View;
  light: Light;
  format: PrintFormat;
  /** Of scene-linear files; those of the bench by default. */
  primaries?: PrintPrimaries | undefined;
  /** Where the light was cut out of the full-size picture, if it was. */
  region?: Rectangle | undefined;
  progress?: ((done: number) => void) | undefined;
  /** Threads to pack on. */
  runner?: TaskRunner | undefined;
}

export interface Printed {
  bytes: Uint8Array<ArrayBuffer>;
  /** Remarks for the person. */
  warnings: string[];
}

/**
 * Writes the final as a file. OpenEXR keeps overscan and the shape of the file's pixels; every other format holds the frame
 * alone, unsqueezed. Formats of whole numbers
 * go through the film's view, the others stay scene-linear.
 */
export async function print(job: PrintJob): Promise<Printed> {
  const { format, view } = job;
  if (format.kind !== 'exr') {
    const { total, width, height } = job.region ? job.light : withoutOverscan(job.light, job.plate);
    const matrix = isSceneLinear(format) ? fromRec709(printPrimaries(job)) : undefined;
    const rgb = matrix ? throughMatrix(total, matrix) : total;
    return { bytes: encodeFlat(rgb, width, height, format, view), warnings: primariesNotes(job, matrix) };
  }
  const { picture, clipped } = finalPicture(job, format);
  const warnings = clipped
    ? [
        `${clipped} samples were brighter than a half float can hold and were set to ${HALF_MAX}; print as float to keep them`,
      ]
    : [];
  if (job.plate.stored && job.region)
    warnings.push('a region is printed with square pixels; the whole picture has those of its file');
  const { progress, runner } = job;
  return { bytes: await writeExr(picture, { progress, runner }), warnings };
}

const isSceneLinear = (format: FlatFormat): boolean =>
  format.kind === 'hdr' ||
  format.kind === 'pfm' ||
  (format.kind === 'tiff' && (format.samples === 'half' || format.samples === 'float'));

/** The primaries that a job's scene-linear file is written in. */
function printPrimaries({ primaries, plate }: PrintJob): Chromaticities {
  if (primaries === 'acescg') return ACES_AP1;
  if (primaries === 'plate') return plate.primaries ?? REC709_CHROMATICITIES;
  return REC709_CHROMATICITIES;
}

/** What is to be said of primaries in a flat file. */
function primariesNotes({ format, primaries }: PrintJob, matrix: Matrix | undefined): string[] {
  if (matrix) return ['this kind of file cannot tell its primaries; OpenEXR can'];
  const isShown = primaries !== undefined && primaries !== 'rec709' && format.kind !== 'exr';
  return isShown && !isSceneLinear(format) ? ['files for the display are in the primaries of sRGB'] : [];
}

function withoutOverscan(light: Light, plate: Plate): Light {
  const { x, y, width, height } = plate.frame;
  if (width === plate.picture.width && height === plate.picture.height) return light;
  const [left, top] = [Math.round(x * light.scale), Math.round(y * light.scale)];
  return cutRegion(light, {
    x: left,
    y: top,
    width: Math.max(1, Math.min(light.width - left, Math.round(width * light.scale))),
    height: Math.max(1, Math.min(light.height - top, Math.round(height * light.scale))),
  });
}

function finalPicture(
  job: PrintJob,
  format: Extract<PrintFormat, { kind: 'exr' }>,
): { picture: Picture; clipped: number } {
  const { plate, light, region } = job;
  const { stored } = plate;
  // A region, or a smaller picture, keeps square pixels.
  const squeezed = light.scale === 1 && !region ? stored : undefined;
  const own = plate.sampleType === 'half' ? 'half' : 'float';
  const type = format.samples === 'plate' ? own : format.samples;
  const picture: Picture = {
    ...emptyPicture((squeezed ?? light).width, (squeezed ?? light).height),
    ...(squeezed
      ? { dataWindow: squeezed.dataWindow, displayWindow: squeezed.displayWindow }
      : windows(plate.picture, light, region)),
  };
  if (squeezed) picture.attributes.set(...pixelAspectAttribute(squeezed.aspect));
  const primaries = printPrimaries(job);
  const matrix = fromRec709(primaries);
  for (const [name, attribute] of plate.picture.attributes) {
    // The final is in the primaries that it is written in, whatever the plate came in.
    const stale = attribute.type === 'preview' || (name === 'chromaticities' && (plate.toWorking || matrix));
    if (!stale) picture.attributes.set(name, attribute);
  }
  if (matrix) picture.attributes.set('chromaticities', chromaticitiesAttribute(primaries));
  let clipped = 0;
  const add = (name: string, square: Float32Array): void => {
    const plane = squeezed ? toStoredPixels(square, light, squeezed) : square;
    if (type === 'float') return addChannel(picture, name, 'float', plane);
    const halves = floatsToHalves(plane);
    clipped += limitHalves(halves);
    addChannel(picture, name, 'half', halves);
  };
  const layer = (prefix: string, rgb: Rgb): void =>
    (matrix ? throughMatrix(rgb, matrix) : rgb).forEach((plane, c) => add(`${prefix}${'RGB'[c]}`, plane));
  layer('', light.total);
  if (light.alpha) add('A', light.alpha);
  if (format.separations) {
    layer('plate.', light.base);
    for (const { name, rgb } of light.separations) layer(`${name}.`, rgb);
  }
  return { picture, clipped };
}

function windows(
  source: Picture,
  light: Light,
  region: Rectangle | undefined,
): Pick<Picture, 'dataWindow' | 'displayWindow'> | object {
  if (light.scale !== 1) return {};
  const xMin = source.dataWindow.xMin + (region?.x ?? 0);
  const yMin = source.dataWindow.yMin + (region?.y ?? 0);
  const dataWindow = { xMin, yMin, xMax: xMin + light.width - 1, yMax: yMin + light.height - 1 };
  return { dataWindow, displayWindow: source.displayWindow };
}
