import { evaluate, type Evaluation } from '../core/bench/evaluate';
import { BokeluxError, FileError, SettingError } from '../core/errors';
import { readLights } from '../core/formats/lights/read';
import { lightsAtFrame } from '../core/formats/lights/space-light';
import type { Rectangle } from '../core/image/rectangle';
import { kernelsOn } from '../core/kernels';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import { ContentCache } from '../core/light/cache';
import { stackOf, type Plate } from '../core/light/plate';
import { cutRegion } from '../core/light/region';
import type { NearbyLights, ResolvedLight } from '../core/light/resolved-light';
import type { StationContext } from '../core/light/station';
import type { Look } from '../core/look/look';
import { placeSpaceLights } from '../core/look/space-lights';
import { lookAt, type Tracks } from '../core/look/tracks';
import type { PrintAlpha } from '../core/print/alpha';
import { kindOfFile, WRITE_EXTENSIONS } from '../core/print/encode';
import { lookForPrint, print, type PrintFormat, type PrintPrimaries } from '../core/print/print';
import { filmView } from '../core/stations/film/run';
import { lightsKey, readsNearbyLights, sightLights } from '../core/stations/ghosts/lights';
import { plateUnderLook } from '../core/stations/plate/primaries';
import type { ShotArchive } from '../core/shot/archive';
import type { EarlierPasses } from './earlier-passes';
import type { NamedElement } from './elements';
import { readBytes, writeBytes } from './files';
import { progressLine } from './progress';
import { openSource, placeOfShot, type ShotImages } from './source';

/** What a picture is rendered with, and how it is written. */
export interface RenderOptions {
  look?: string;
  element: NamedElement[];
  set: string[];
  lens?: string;
  lights?: string;
  fps?: number;
  lightsFrom?: number;
  frame: number;
  out: string;
  separations?: boolean;
  primaries?: PrintPrimaries;
  beforeFilm?: boolean;
  alpha?: PrintAlpha;
  width?: number;
  scale: number;
  region?: Rectangle;
  workers?: number;
  type: 'plate' | 'half' | 'float';
  bits?: '8' | '16' | 'half' | 'float';
}

/** A frame near the one that is printed, whose lights bear on it. */
export interface FrameAround extends Pick<RenderOptions, 'element'> {
  /** Frames after it; before it, negative. */
  offset: number;
  files: readonly string[];
}

/** What rendering may use besides, and what it leaves for the next picture. */
interface RenderContext {
  runner: TaskRunner;
  earlier?: EarlierPasses | undefined;
  /** Settings over time, which are taken at the frame; a shot's plate is taken at it as well. */
  tracks?: Tracks | undefined;
  /** The shot among the files, if it has been read before. */
  shot?: ShotArchive | undefined;
  /** Kept from one picture to the next. */
  cache?: ContentCache;
  /** Frames near it, of a reel, and what is known of their lights. */
  around?: readonly FrameAround[] | undefined;
  known?: Map<string, readonly ResolvedLight[]>;
  /** A file that is still being written is an error. */
  mustBeWhole?: boolean | undefined;
  /** Shows how far it is. */
  progress?: boolean;
}

export interface Rendered {
  plate: Plate;
  accounts: Evaluation['accounts'];
  cleaned: Evaluation['cleaned'];
  warnings: string[];
}

/** A frame that is open: its look, and what it is computed on. */
interface OpenFrame {
  look: Look;
  plate: Plate;
  backdrop: StationContext['backdrop'];
  images: ShotImages;
  warnings: readonly string[];
}

/** The look of a frame, and what opens the rest of it. */
async function readFrame(
  files: readonly string[],
  options: RenderOptions,
  { runner, earlier, tracks, shot }: RenderContext,
): Promise<{ look: Look; open: () => Promise<OpenFrame> }> {
  const { look: lookFile, element: elements, set, lens, frame } = options;
  const source = await openSource({
    ...{ files, look: lookFile, elements, set, lens, runner, earlier, shot },
    frame: tracks && frame,
  });
  const timed = tracks ? lookAt(source.look, tracks, frame) : source.look;
  const { look: lit, warnings } = await withLights(timed, options);
  const look = lookForPrint(lit);
  const open = async (): Promise<OpenFrame> => ({
    look,
    plate: atFrame(await source.openPlate(), frame),
    backdrop: await source.openBackdrop(),
    images: await source.openImages(),
    warnings,
  });
  return { look, open };
}

const halfOf = (plate: Plate): Plate | undefined =>
  stackOf(plate).find(({ picture }) => picture.isIncomplete);

/** The lights of the frames near one, as far as they can be read; `known` keeps them for the next frame. */
async function sightAround(
  options: RenderOptions,
  { around = [], known = new Map(), ...context }: RenderContext,
): Promise<NearbyLights[]> {
  const nearby: NearbyLights[] = [];
  for (const { offset, files, element } of around) {
    try {
      const frame = options.frame + offset;
      const { look, open } = await readFrame(files, { ...options, element, frame }, context);
      const key = JSON.stringify([
        files,
        element,
        context.shot && placeOfShot(context.shot, frame),
        lightsKey(look),
      ]);
      const lights = known.get(key) ?? (await sightFrame(await open(), context));
      if (!lights) continue;
      known.set(key, lights);
      nearby.push({ offset, lights });
    } catch (error) {
      // The frame by itself tells what is wrong with it; here the one before it stands for it.
      if (!(error instanceof BokeluxError)) throw error;
    }
  }
  return nearby;
}

/** The lights of a frame by itself; undefined if it is not whole yet. */
async function sightFrame(
  { look, plate, backdrop, images }: OpenFrame,
  { runner }: RenderContext,
): Promise<readonly ResolvedLight[] | undefined> {
  if (halfOf(plate)) return undefined;
  const context = { plate, backdrop, ...images, cache: new ContentCache(0), kernels: kernelsOn(runner) };
  return sightLights(look, context);
}

/** Sends a plate along the bench and writes the final. */
export async function renderFile(
  files: readonly string[],
  options: RenderOptions,
  context: RenderContext,
): Promise<Rendered> {
  const { runner, cache = new ContentCache(0), mustBeWhole, progress = false } = context;
  const format = formatOf(options);
  const { look, open } = await readFrame(files, options, context);
  // Before the frame's own pixels: those of the others are gone when it is opened.
  const nearbyLights = readsNearbyLights(look) ? await sightAround(options, context) : [];
  const { plate, backdrop, images, warnings } = await open();
  const half = halfOf(plate);
  if (mustBeWhole && half)
    throw new FileError('it is not whole yet', {
      where: half.name,
      todo: 'It is taken when the rest is there',
    });
  // A table that is missing is told before anything is computed.
  const view = filmView(look, images);
  const bar = progress ? progressLine('computing') : undefined;
  try {
    const { light, accounts, cleaned } = await evaluate(
      look,
      {
        plate,
        backdrop,
        ...images,
        ...(nearbyLights.length > 0 && { nearbyLights }),
        separate: options.separations,
        totalOnly: !options.separations,
        cache,
        kernels: kernelsOn(runner),
        progress: bar?.step,
      },
      { scale: options.scale, behind: options.beforeFilm ? 'glass' : undefined },
    );
    bar?.end();
    const { region } = options;
    const printed = await print({
      plate: plateUnderLook(plate, look),
      view,
      primaries: options.primaries,
      light: region ? cutRegion(light, region) : light,
      format,
      alpha: options.alpha,
      width: options.width,
      region,
      runner,
    });
    writeBytes(options.out, printed.bytes);
    const told = stackOf(plate).flatMap(({ picture }) => picture.warnings);
    return { plate, accounts, cleaned, warnings: [...warnings, ...told, ...printed.warnings] };
  } finally {
    bar?.end();
    for (const { id } of [plate, ...stackOf(plate)]) cache.drop(`${id} `);
  }
}

/** A plate under an id of its frame: what is kept of one frame's pixels is not the next one's. */
function atFrame(plate: Plate, frame: number): Plate {
  const own = (one: Plate): Plate => ({ ...one, id: `${one.id} at ${frame}` });
  return { ...own(plate), frameNumber: frame, ...(plate.stack && { stack: plate.stack.map(own) }) };
}

/** The look with the lights of a file as they stand at a frame. */
async function withLights(
  look: Look,
  { lights, frame, fps = 24, lightsFrom: first = 1 }: RenderOptions,
): Promise<{ look: Look; warnings: readonly string[] }> {
  if (lights === undefined) return { look, warnings: [] };
  const read = await readLights(readBytes(lights), lights, { fps, first });
  return { look: placeSpaceLights(look, lightsAtFrame(read, frame)), warnings: read.warnings };
}

/** The format that a file's ending and the options ask for. */
export function formatOf({ out, type, bits, separations }: RenderOptions): PrintFormat {
  const kind = kindOfFile(out);
  if (kind === 'exr') return { kind, samples: type, separations: separations ?? false };
  if (separations)
    throw new SettingError('only OpenEXR can hold separations', {
      where: '--separations',
      todo: 'Write OpenEXR',
    });
  return flatFormat(out, bits);
}

/** The format that a file's ending and the wanted samples ask for. */
export function flatFormat(out: string, bits: RenderOptions['bits']): Exclude<PrintFormat, { kind: 'exr' }> {
  const kind = kindOfFile(out);
  switch (kind) {
    case 'png':
      if (bits === 'half' || bits === 'float')
        throw new SettingError(`a PNG holds 8 or 16 bits, not ${bits}`, { where: '--bits' });
      return { kind, bits: bits === '16' ? 16 : 8 };
    case 'tiff':
      return { kind, samples: bits ?? 'float' };
    case 'hdr':
    case 'pfm':
      return { kind };
    default:
      throw new SettingError(
        `${out} ends in none of ${WRITE_EXTENSIONS.map((end) => `.${end}`).join(', ')}`,
        {
          where: out,
        },
      );
  }
}
