import { basename } from 'node:path';
import { SettingError } from '../core/errors';
import { readPassFiles } from '../core/formats/pass-files';
import { greyImage, type GreyImage } from '../core/image/grey-image';
import type { CubeLut } from '../core/color/lut';
import { readCube } from '../core/formats/cube';
import { mergePictures } from '../core/image/merge';
import { emptyElement, makePlate, stackPlates, type Plate } from '../core/light/plate';
import { assignSetting, defaultLook, getSetting, SETTINGS, type Look } from '../core/look/look';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import { NO_IMAGE } from '../core/settings/setting';
import {
  elementsOfPlate,
  filesOnBench,
  frameAmongElements,
  plateUnder,
  SHOT_EXTENSION,
  type PlateEntry,
} from '../core/shot/shot';
import { placeAt } from '../core/shot/reel';
import { openArchive, type ShotArchive } from '../core/shot/archive';
import { parseLensDesign } from '../core/optics/lens/design';
import { withOwnLens } from '../core/look/own-lens';
import type { EarlierPasses } from './earlier-passes';
import { stackElements, withElementSettings, type NamedElement } from './elements';
import { openParts, readBytes, readJson, readLook, readPicture } from './files';

/** What a command works on: a look and, opened when it is asked for, what the look and the command name. */
export interface Source {
  look: Look;
  /** The plate; of a shot, the version and frame that are on its bench. */
  openPlate(): Promise<Plate>;
  /** The images and look-up tables that the look names. */
  openImages(): Promise<ShotImages>;
  /** The plate that the look lays under the picture. */
  openBackdrop(): Promise<((id: string) => Plate | undefined) | undefined>;
}

export interface SourceOptions {
  /** Pictures of one plate, or one shot. */
  files: readonly string[];
  look?: string | undefined;
  /** A file with a lens design, which becomes the look's own. */
  lens?: string | undefined;
  /** Renders that lie over the plate, back to front. */
  elements?: readonly NamedElement[] | undefined;
  /** Assignments that are applied to the look in order. */
  set: readonly string[];
  /** Threads to read pictures on. */
  runner?: TaskRunner | undefined;
  /** What was read before, if files are watched. */
  earlier?: EarlierPasses | undefined;
  /** The shot among the files, if it has been read before. */
  shot?: ShotArchive | undefined;
  /** Which frame of the shot's plate is wanted, if not the one that is on its bench. */
  frame?: number | undefined;
}

export const isShotFile = (path: string): boolean => path.toLowerCase().endsWith(`.${SHOT_EXTENSION}`);

/** Reads the shot among some files; undefined if they are pictures. */
export async function readShot(files: readonly string[]): Promise<ShotArchive | undefined> {
  const shotFile = files.find(isShotFile);
  if (shotFile !== undefined && files.length > 1)
    throw new SettingError('a shot has its own plates', {
      where: shotFile,
      todo: 'Name the shot alone, or pictures without it',
    });
  return shotFile === undefined ? undefined : openArchive(openParts(shotFile), shotFile);
}

/** Reads what the command line names: a shot, or pictures and a look. */
export async function openSource(options: SourceOptions): Promise<Source> {
  const { files, look: lookFile, lens, elements = [], set, runner, earlier, frame } = options;
  const shotFile = files.find(isShotFile);
  const shot = options.shot ?? (await readShot(files));
  const start = lookFile === undefined ? (shot?.shot.look ?? defaultLook()) : readLook(lookFile);
  const mounted = lens === undefined ? start : withOwnLens(start, parseLensDesign(readJson(lens), lens));
  const placed = withElementSettings(mounted, elements, elementCount(files, shot));
  const look = set.reduce(assignSetting, placed);
  return {
    look,
    openPlate: async () => {
      const named = files.length > 0;
      const base = shot
        ? await activePlate(shot, { file: shotFile!, frame }, runner)
        : named
          ? await plateOfFiles(files, runner, { earlier })
          : undefined;
      return base && elements.length === 0 ? base : stackElements(base, elements, runner, earlier);
    },
    openImages: () => openImages(look, shot, runner),
    openBackdrop: () => openBackdrop(look, shot, runner),
  };
}

/** How many elements there are before those of the command line. */
function elementCount(files: readonly string[], shot: ShotArchive | undefined): number {
  if (!shot) return files.length > 0 ? 1 : 0;
  const entry = activeEntry(shot);
  return entry ? elementsOfPlate(entry, shot.shot.plates).length : 0;
}

export const activeEntry = ({ shot: { plates, activePlate: active } }: ShotArchive): PlateEntry | undefined =>
  plates.find(({ id }) => id === active) ?? plates[0];

/** The numbers of the frames that the plate on a shot's bench has; none of a single picture. */
export function framesOfShot(packed: ShotArchive): number[] {
  const entry = activeEntry(packed);
  return entry?.versions[entry.version]!.frames.flatMap(({ frame }) => frame ?? []) ?? [];
}

/** Which of its frames the plate on a shot's bench has at a number. */
export function placeOfShot(packed: ShotArchive, frame: number): number | undefined {
  const entry = activeEntry(packed);
  return entry && placeAt(entry, frame);
}

/** The plate on a shot's bench; at a frame that is asked for, with the file of that frame or the one before. */
function entryAt(packed: ShotArchive, file: string, frame: number | undefined): PlateEntry {
  const entry = activeEntry(packed);
  if (!entry)
    throw new SettingError('the shot has no plate', { where: file, todo: 'Bring one in and save it again' });
  return frame === undefined ? entry : { ...entry, frame: placeAt(entry, frame) };
}

async function plateOfFiles(
  paths: readonly string[],
  runner: TaskRunner | undefined,
  { id = 'plate', earlier }: { id?: string; earlier?: EarlierPasses | undefined } = {},
): Promise<Plate> {
  const picture = await readPicture(paths, runner);
  return makePlate(id, basename(paths[0]!), earlier?.complete(paths, picture) ?? picture);
}

/** A plate of a shot as it is on the bench. */
async function plateOfShot(
  { read }: ShotArchive,
  entry: PlateEntry,
  runner: TaskRunner | undefined,
): Promise<Plate> {
  const passes = filesOnBench(entry).map(({ id, name, older }) => ({
    name,
    older,
    read: () => read(id),
  }));
  return makePlate(entry.id, entry.name, mergePictures(await readPassFiles(passes, runner)), entry.roles);
}

/** The plate on a shot's bench, of all its elements. One that has no such frame is an empty one. */
async function activePlate(
  packed: ShotArchive,
  { file, frame: wanted }: { file: string; frame: number | undefined },
  runner: TaskRunner | undefined,
): Promise<Plate> {
  const entry = entryAt(packed, file, wanted);
  const base = await plateOfShot(packed, entry, runner);
  const stack: Plate[] = [];
  for (const element of elementsOfPlate(entry, packed.shot.plates)) {
    const frame = frameAmongElements(element, entry);
    if (element.id === entry.id) stack.push(base);
    else if (frame === undefined) stack.push(emptyElement(element.id, element.name, base));
    else stack.push(await plateOfShot(packed, { ...element, frame }, runner));
  }
  return stackPlates(base, stack);
}

/** What gives images and look-up tables by their names. */
export interface ShotImages {
  image: (name: string) => GreyImage | undefined;
  lut: (name: string) => CubeLut | undefined;
}

/** Images by name: those of the shot, others from files on their own. */
async function openImages(
  look: Look,
  packed: ShotArchive | undefined,
  runner: TaskRunner | undefined,
): Promise<ShotImages> {
  const images = new Map<string, GreyImage>();
  const luts = new Map<string, CubeLut>();
  for (const setting of SETTINGS) {
    if (setting.kind !== 'image') continue;
    const name = getSetting(look, setting.path) as string;
    if (name === NO_IMAGE) continue;
    const own = packed?.shot.images.find((image) => image.name === name);
    const bytes = own && (await packed!.read(own.id));
    if (setting.of === 'lut') {
      luts.set(name, readCube(new TextDecoder().decode(bytes ?? readBytes(name)), name));
      continue;
    }
    const picture = bytes
      ? mergePictures(await readPassFiles([{ name, read: () => bytes }], runner))
      : await readPicture([name], runner);
    images.set(name, greyImage(own?.id ?? name, name, picture));
  }
  return { image: (name) => images.get(name), lut: (name) => luts.get(name) };
}

/** `plate:ID` names a plate of the shot, or a file. */
async function openBackdrop(
  look: Look,
  packed: ShotArchive | undefined,
  runner: TaskRunner | undefined,
): Promise<((id: string) => Plate | undefined) | undefined> {
  const name = plateUnder(look);
  if (name === undefined) return undefined;
  const entry = packed?.shot.plates.find(({ id }) => id === name);
  const plate = await (entry
    ? plateOfShot(packed!, entry, runner)
    : plateOfFiles([name], runner, { id: `backdrop ${name}` }));
  return (id) => (id === name ? plate : undefined);
}
