import type { Light } from '../light/light';
import { resampleTent } from '../image/resample';
import { mapRgb, throughMatrix, type Rgb } from '../image/rgb';
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
import { SettingError } from '../errors';
import { setSetting, type Look } from '../look/look';
import { NO_COLOUR } from '../settings/setting';
import type { PrintAlpha } from './alpha';
import { encodeFlat, type FlatAlpha, type FlatFormat } from './encode';

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
  /** What a flat file says of where the picture is; OpenEXR has the plate's, associated. */
  alpha?: PrintAlpha | undefined;
  /** How many pixels the file's frame is across, if not as many as the light's. */
  width?: number | undefined;
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
    const light = resized(job.region ? job.light : withoutOverscan(job.light, job.plate), job.width);
    const { total, width, height } = light;
    const matrix = isSceneLinear(format) ? fromRec709(printPrimaries(job)) : undefined;
    const rgb = matrix ? throughMatrix(total, matrix) : total;
    const alpha = flatAlpha(job, light);
    return {
      bytes: encodeFlat(rgb, width, height, format, view, alpha),
      warnings: [...sizeNotes(job), ...alphaNotes(job), ...primariesNotes(job, matrix)],
    };
  }
  const { width } = job;
  const frame = job.region ? job.light.width : job.plate.frame.width * job.light.scale;
  const across = width && Math.max(1, Math.round((job.light.width * width) / frame));
  const { picture, clipped } = finalPicture({ ...job, light: resized(job.light, across) }, format);
  const warnings = sizeNotes(job);
  if (clipped)
    warnings.push(
      `${clipped} samples were brighter than a half float can hold and were set to ${HALF_MAX}; print as float to keep them`,
    );
  if (job.plate.stored && job.region)
    warnings.push('a region is printed with square pixels; the whole picture has those of its file');
  const { progress, runner } = job;
  return { bytes: await writeExr(picture, { progress, runner }), warnings };
}

/** The light brought to so many pixels across. */
function resized(light: Light, across: number | undefined): Light {
  if (across === undefined || across === light.width) return light;
  const down = Math.max(1, Math.round((light.height * across) / light.width));
  const bring = (plane: Float32Array): Float32Array =>
    resampleTent(plane, light.width, light.height, across, down);
  return {
    ...light,
    width: across,
    height: down,
    scale: (light.scale * across) / light.width,
    base: mapRgb(light.base, bring),
    separations: light.separations.map(({ name, rgb }) => ({ name, rgb: mapRgb(rgb, bring) })),
    total: mapRgb(light.total, bring),
    alpha: light.alpha && bring(light.alpha),
  };
}

function sizeNotes({ width, light, plate, region }: PrintJob): string[] {
  const frame = region ? light.width : plate.frame.width * light.scale;
  return width !== undefined && width > Math.round(frame)
    ? [`enlarged ${(width / frame).toFixed(2)} times: no detail is gained`]
    : [];
}

/** The alpha that a flat file is to have; a plate without any covers its frame. */
function flatAlpha({ format, alpha = 'none' }: PrintJob, light: Light): FlatAlpha | undefined {
  if (alpha === 'none') return undefined;
  if (format.kind !== 'png' && format.kind !== 'tiff')
    throw new SettingError(`files of kind ${format.kind.toUpperCase()} hold no alpha`, {
      where: 'alpha',
      todo: 'Print PNG, TIFF or OpenEXR',
    });
  if (format.kind === 'png' && alpha === 'associated')
    throw new SettingError('PNG holds unassociated alpha alone', {
      where: 'alpha',
      todo: 'Take unassociated alpha, or print TIFF or OpenEXR',
    });
  const plane = light.alpha ?? new Float32Array(light.width * light.height).fill(1);
  return { plane, isAssociated: alpha === 'associated' };
}

function alphaNotes({ alpha = 'none', light }: PrintJob): string[] {
  return alpha !== 'none' && !light.alpha ? ['the plate has no alpha: it covers the whole frame'] : [];
}

/** What a look does to a print: a background that is for looking only is left out. */
export function lookForPrint(look: Look): Look {
  return look.plate.backgroundPrinted ? look : setSetting(look, 'plate.background', NO_COLOUR);
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
