import { FileError } from '../../core/errors';
import { groupFiles } from '../../core/image/file-names';
import { defaultLook } from '../../core/look/look';
import {
  elementsOfPlate,
  NEW_PLATE,
  renderOf,
  type PlateEntry,
  type PlateVersion,
  type Reference,
  type Shot,
} from '../../core/shot/shot';
import { hasOlder, keepOlder, withNewerRender } from '../../core/shot/versions';
import { benchEngine } from '../../engine/browser/client';
import { forgetVersion, useDesk } from '../../state/desk-store';
import { reachableShots, useShot } from '../../state/shot-store';
import { askChoice } from './choices';
import type { HeldPlate } from './engine-plates';
import { discardFiles, holdFile, keepFiles, referToFile, type HeldFile } from './files';
import { makeRoom } from './kept';
import { notify } from './notices';
import {
  openEntry,
  openImage,
  openReference,
  showCard,
  showImage,
  showReference,
  syncEngine,
} from './open-plates';
import { rememberOriginal } from './originals';
import { usePlates, type PlateCard } from './plates';

/** The folder that a dropped file came out of, as far as the browser tells. */
function folderOf(file: File): string {
  const path = (file as { path?: string }).path ?? file.webkitRelativePath ?? '';
  return path
    .replace(/^\.?\//, '')
    .split('/')
    .slice(0, -1)
    .join('/');
}

/** Files of a group, held under new ids, as one version of a plate; where they come from is remembered, unless their folder is watched. */
async function versionOf(
  frames: IncomingFrames,
  isWatched: boolean,
): Promise<{
  version: PlateVersion;
  files: HeldFile[];
}> {
  const held: HeldFile[] = [];
  const isSequence = frames.length > 1;
  const hold = async (file: File): Promise<{ id: string; name: string }> => {
    const one = { id: crypto.randomUUID(), name: file.name };
    if (!isWatched) rememberOriginal(one.id, file);
    held.push({ ...one, blob: isSequence ? referToFile(one.id, file) : await holdFile(one.id, file) });
    return one;
  };
  const version: PlateVersion = { id: crypto.randomUUID(), frames: [] };
  for (const { frame, files } of frames) {
    const named = [];
    for (const { file } of files) named.push(await hold(file));
    version.frames.push({ frame: frame ?? null, files: named });
  }
  return { version, files: held };
}

/** More files than this are kept while the person works on. */
const MOST_AWAITED = 48;

/** Opens what comes in while its files are kept. What cannot be opened leaves no trace. */
async function openAndKeep<T>(files: readonly HeldFile[], open: () => Promise<T>): Promise<T> {
  const keeping = keepFiles(files, makeRoom);
  try {
    const opened = await open();
    // A tile on the shelf is a promise that the render is still there after a reload. Long sequences are looked at meanwhile.
    if (files.length <= MOST_AWAITED) await keeping;
    else void keeping.then(() => notify(`${files.length} files are kept in this browser`, 'success'));
    return opened;
  } catch (error) {
    await keeping;
    await discardFiles(files.map(({ id }) => id));
    throw error;
  }
}

/** Brings renders in: files of one base are passes, or frames, of one plate. A group that fails leaves no trace. */
export async function bringIn(incoming: readonly File[]): Promise<void> {
  for (const { name, frames } of groupFiles(incoming, folderOf)) {
    usePlates.getState().set({ opening: name });
    const { plate, opened } = await openNew(name, frames);
    showCard(plate, opened);
    useShot.getState().addPlate(plate);
    takeUntouchedCamera(plate);
    useDesk.getState().set({ subject: { kind: 'final' }, zoom: null, centre: null });
    forgetVersion();
  }
}

/** Frames of a render as their files come in. */
export type IncomingFrames = readonly { frame: number | undefined; files: readonly { file: File }[] }[];

/** Opens a render under a new plate's name, and keeps its files. */
async function openNew(
  name: string,
  frames: IncomingFrames,
  mustBeWhole = false,
): Promise<{ plate: PlateEntry; opened: HeldPlate }> {
  const { version, files } = await versionOf(frames, mustBeWhole);
  const plate = { ...NEW_PLATE, id: crypto.randomUUID(), name, versions: [version] };
  return { plate, opened: await openAndKeep(files, () => openRender(plate, mustBeWhole)) };
}

/** Opens what of a plate is on the bench. Fails if it must be whole and is still being written. */
async function openRender(plate: PlateEntry, mustBeWhole: boolean): Promise<HeldPlate> {
  const held = await openEntry(plate);
  if (!mustBeWhole || !held.opened.isIncomplete) return held;
  held.release();
  throw new FileError('it is not whole yet', { where: plate.name });
}

/** Brings in a render that must be whole, without putting it on the bench if another is there. Gives its plate's id. */
export async function bringInBeside(name: string, frames: IncomingFrames): Promise<string> {
  const { plate, opened } = await openNew(name, frames, true);
  showCard(plate, opened);
  const { activePlate, addPlate, choosePlate } = useShot.getState();
  addPlate(plate);
  if (activePlate) choosePlate(activePlate);
  else takeUntouchedCamera(plate);
  return plate.id;
}

/** Brings renders in as elements that lie over a plate, each group of files as one. */
export async function bringInElements(whole: string, incoming: readonly File[]): Promise<void> {
  for (const group of groupFiles(incoming, folderOf)) {
    usePlates.getState().set({ opening: group.name });
    const { plate, opened } = await openNew(nameAmong(whole, group.name), group.frames);
    const card = showCard(plate, opened);
    const { addElement, plates } = useShot.getState();
    addElement(whole, plate);
    const count = plates.find(({ id }) => id === whole)?.elements.length ?? 0;
    useDesk.getState().set({ subject: { kind: 'final' }, element: Math.max(1, count) });
    if (!card.hasAlpha)
      notify(`${plate.name} has no alpha: it covers all that lies behind it, unless it is added`, 'warning');
    await syncEngine();
  }
}

/** A name that no other element of a plate has, since settings call them by it. */
function nameAmong(whole: string, name: string): string {
  const { plates } = useShot.getState();
  const plate = plates.find(({ id }) => id === whole);
  const taken = new Set(plate ? elementsOfPlate(plate, plates).map((one) => one.name) : []);
  let free = name;
  for (let k = 2; taken.has(free); k++) free = `${name} ${k}`;
  return free;
}

/** Takes the camera that a plate's file speaks of while nobody has touched the present one, and says so. */
function takeUntouchedCamera(plate: PlateEntry): void {
  const told = usePlates.getState().cards[plate.id]?.camera ?? {};
  const [own, untouched] = [useShot.getState().look.camera, defaultLook().camera];
  const names = Object.keys(untouched) as (keyof typeof own)[];
  if (Object.keys(told).length === 0 || names.some((name) => own[name] !== untouched[name])) return;
  useShot.getState().takeCamera(told);
  const { focalLength, fStop } = useShot.getState().look.camera;
  notify(
    `${plate.name}: the camera is that of the file, ${focalLength} mm at f/${fStop}; undo takes it back`,
    'success',
  );
}

/**
 * Takes a newer render in the place of a plate's present one. Settings stay; what it lacks is that of the version before, if by
 * their names both are of one thing, and it is told what that is.
 */
export async function replaceRender(plateId: string, incoming: readonly File[]): Promise<void> {
  const plate = useShot.getState().plates.find(({ id }) => id === plateId);
  const groups = groupFiles(incoming, folderOf);
  if (!plate || groups.length === 0) return;
  const name =
    groups.length === 1
      ? groups[0]!.name
      : await askChoice(
          `These files are ${groups.length} renders. Which takes the place of ${plate.name}?`,
          groups.map((group) => group.name),
        );
  const group = groups.find((one) => one.name === name);
  if (group) await takeNewer(plate, group.frames);
}

/** Puts a newer render of a plate on the bench. If it fails, or must be whole and is not, nothing of it stays. */
export async function takeNewer(
  plate: PlateEntry,
  incoming: IncomingFrames,
  mustBeWhole = false,
): Promise<void> {
  const before = usePlates.getState().cards[plate.id];
  const { version, files } = await versionOf(incoming, mustBeWhole);
  const next = withNewerRender(plate, version);
  const { plate: lean, opened } = await openAndKeep(files, () =>
    openNewer(next, version, before, mustBeWhole),
  );
  const after = showCard(lean, opened);
  useShot
    .getState()
    .editPlate(plate.id, { versions: lean.versions, version: lean.version, frame: lean.frame });
  forgetVersion();
  tellDifferences(plate.name, before, after);
  tellFrames(plate, lean, version);
  await syncEngine();
}

/**
 * Opens a plate's newer render by itself, and with the older ones if it lacks any of their passes. Gives the plate with those older
 * files alone of which something is taken; other frames are taken to be like the one that is on the bench.
 */
async function openNewer(
  next: PlateEntry,
  incoming: PlateVersion,
  before: PlateCard | undefined,
  mustBeWhole: boolean,
): Promise<{ plate: PlateEntry; opened: HeldPlate }> {
  const shown = next.versions[next.version]!.frames[next.frame]!.frame;
  if (!incoming.frames.some(({ frame }) => frame === shown))
    return { plate: next, opened: await openRender(next, mustBeWhole) };
  const bare = keepOlder(next, () => false);
  if (!before || !hasOlder(next)) return { plate: bare, opened: await openRender(bare, mustBeWhole) };
  // A pass by itself may be no picture.
  const alone = await openRender(bare, mustBeWhole).catch(() => undefined);
  if (alone && missingPasses(before, alone.opened).length === 0) return { plate: bare, opened: alone };
  alone?.release();
  const opened = await openRender(next, mustBeWhole);
  const renders = new Set(opened.opened.passes.map((pass) => pass.older));
  return {
    plate: keepOlder(next, (file) => renders.has(renderOf(next.versions, file))),
    opened,
  };
}

type Passes = Pick<PlateCard, 'passes'>;

/** Names of the passes that were there before. */
function missingPasses(before: Passes, after: Passes): string[] {
  const names = new Set(after.passes.map((pass) => pass.name));
  return before.passes.map((pass) => pass.name).filter((name) => !names.has(name));
}

function tellDifferences(name: string, before: PlateCard | undefined, after: PlateCard): void {
  if (!before) return;
  const missing = missingPasses(before, after);
  const lacks = missing.length ? ` the new render lacks ${missing.join(', ')}.` : '';
  const size =
    before.width === after.width && before.height === after.height
      ? ''
      : ` Its size is ${after.width} x ${after.height} now, it was ${before.width} x ${before.height}.`;
  const kept = keptPasses(after);
  if (lacks || size || kept)
    notify(`${name}:${lacks}${size}${kept && ` the new render has only some passes; ${kept}`}`, 'warning');
  else notify(`${name}: the new render is on the bench; all passes are there`, 'success');
}

/** Which passes are still those of older versions. */
function keptPasses({ passes }: PlateCard): string {
  const byRender = new Map<string, string[]>();
  for (const { name, older } of passes)
    if (older !== undefined) byRender.set(older, [...(byRender.get(older) ?? []), name]);
  const parts = [...byRender].map(
    ([render, names]) => `${names.join(', ')} ${names.length === 1 ? 'is' : 'are'} still of ${render}`,
  );
  return parts.join('; ');
}

/** Says which frames a render of some frames brought. */
function tellFrames(plate: PlateEntry, next: PlateEntry, { frames }: PlateVersion): void {
  const all = next.versions[next.version]!.frames.length;
  if (frames.length === all) return;
  const numbers = frames.map(({ frame }) => frame);
  const named =
    numbers.length === 1 ? `frame ${numbers[0]} is` : `frames ${numbers[0]} to ${numbers.at(-1)} are`;
  notify(
    `${plate.name}: ${named} new; the other ${all - frames.length} are those of version ${plate.version + 1}`,
    'warning',
  );
}

/** Leaves out of the version on the bench what stands in from older ones, as one step. */
export async function dropOlder(plateId: string): Promise<void> {
  const plate = useShot.getState().plates.find(({ id }) => id === plateId);
  if (!plate) return;
  const lean = keepOlder(plate, () => false);
  // Another version for the engine, which has the one with all passes open.
  const versions = lean.versions.map((version, index) =>
    index === lean.version ? { ...version, id: crypto.randomUUID() } : version,
  );
  useShot.getState().editPlate(plateId, { versions });
  await syncEngine();
}

/** Brings photographs in to stand beside the picture. */
export async function bringInReferences(incoming: readonly File[]): Promise<void> {
  for (const file of incoming) {
    usePlates.getState().set({ opening: file.name });
    const one = { id: crypto.randomUUID(), name: file.name };
    const reference: Reference = {
      id: crypto.randomUUID(),
      name: file.name,
      file: one,
      exposure: 0,
      white: [1, 1, 1],
    };
    const blob = await holdFile(one.id, file);
    const opened = await openAndKeep([{ ...one, blob }], () => openReference(reference));
    showReference(reference.id, opened);
    const { references, setReferences } = useShot.getState();
    setReferences([...references, reference]);
    useDesk.getState().set({ against: { kind: 'reference', id: reference.id }, compare: 'beside' });
  }
}

/** Brings an image in for the setting at a path, as one step. Looks know it by its name, which is made one of its own. */
export async function bringInImage(file: File, path: string): Promise<void> {
  // Names that undo can bring back are taken, too.
  const taken = new Set(reachableShots().flatMap(({ images }) => images.map((image) => image.name)));
  let { name } = file;
  for (let k = 2; taken.has(name); k++) name = file.name.replace(/(\.[^.]*)?$/, ` ${k}$1`);
  const image = { id: crypto.randomUUID(), name };
  const blob = await holdFile(image.id, file);
  const opened = await openAndKeep([{ ...image, blob }], () => openImage(image));
  showImage(image.id, opened);
  useShot.getState().addImage(image, path);
}

/**
 * Opens all of a shot under ids that nothing else has, and gives what shows it. Fails whole: what was opened of it is closed
 * again.
 */
export async function openWhole({
  plates,
  references,
  images,
}: Pick<Shot, 'plates' | 'references' | 'images'>): Promise<() => void> {
  const undoing: (() => void)[] = [];
  const showing: (() => void)[] = [];
  try {
    for (const plate of plates) {
      usePlates.getState().set({ opening: plate.name });
      const held = await openEntry(plate);
      undoing.push(held.release);
      showing.push(() => void showCard(plate, held));
    }
    for (const image of images) {
      const opened = await openImage(image);
      undoing.push(() => void benchEngine().closeImage(image.id));
      showing.push(() => showImage(image.id, opened));
    }
    for (const reference of references) {
      const held = await openReference(reference);
      undoing.push(held.release);
      showing.push(() => showReference(reference.id, held));
    }
  } catch (error) {
    undoing.forEach((close) => close());
    throw error;
  }
  return () => showing.forEach((show) => show());
}
