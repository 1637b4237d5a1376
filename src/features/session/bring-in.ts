import { groupFiles } from '../../core/image/file-names';
import { defaultLook } from '../../core/look/look';
import {
  elementsOfPlate,
  NEW_PLATE,
  type PlateEntry,
  type PlateVersion,
  type Reference,
  type Shot,
} from '../../core/shot/shot';
import { benchEngine } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { reachableShots, useShot } from '../../state/shot-store';
import { askChoice } from './choices';
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

/** Files of a group, held under new ids, as one version of a plate. */
async function versionOf(frames: { frame: number | undefined; files: { file: File }[] }[]): Promise<{
  version: PlateVersion;
  files: HeldFile[];
}> {
  const held: HeldFile[] = [];
  const isSequence = frames.length > 1;
  const hold = async (file: File): Promise<{ id: string; name: string }> => {
    const one = { id: crypto.randomUUID(), name: file.name };
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

/** Opens what comes in while its files are kept. What cannot be opened leaves no trace. */
async function openAndKeep<T>(files: readonly HeldFile[], open: () => Promise<T>): Promise<T> {
  const keeping = keepFiles(files, makeRoom);
  try {
    const opened = await open();
    // A tile on the shelf is a promise that the render is still there after a reload.
    await keeping;
    return opened;
  } catch (error) {
    await keeping;
    await discardFiles(files.map(({ id }) => id));
    throw error;
  }
}

/** Brings renders in: files of one base are passes, or frames, of one plate. A group that fails leaves no trace. */
export async function bringIn(incoming: readonly File[]): Promise<void> {
  for (const group of groupFiles(incoming, folderOf)) {
    usePlates.getState().set({ opening: group.name });
    const { version, files } = await versionOf(group.frames);
    const id = crypto.randomUUID();
    const plate: PlateEntry = { ...NEW_PLATE, id, name: group.name, versions: [version] };
    const opened = await openAndKeep(files, () => openEntry(plate));
    showCard(plate, opened);
    useShot.getState().addPlate(plate);
    takeUntouchedCamera(plate);
    useDesk.getState().set({ subject: { kind: 'final' }, zoom: null, centre: null, wipeVersion: null });
  }
}

/** Brings renders in as elements that lie over a plate, each group of files as one. */
export async function bringInElements(whole: string, incoming: readonly File[]): Promise<void> {
  for (const group of groupFiles(incoming, folderOf)) {
    usePlates.getState().set({ opening: group.name });
    const { version, files } = await versionOf(group.frames);
    const plate: PlateEntry = {
      ...NEW_PLATE,
      id: crypto.randomUUID(),
      name: nameAmong(whole, group.name),
      versions: [version],
    };
    const opened = await openAndKeep(files, () => openEntry(plate));
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

/** Takes a newer render in the place of a plate's present one. Settings stay; passes that are missing are told. */
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
  if (!group) return;
  const before = usePlates.getState().cards[plateId];
  const { version, files } = await versionOf(group.frames);
  const versions = [...plate.versions, version];
  const frame = Math.min(plate.frame, version.frames.length - 1);
  const next = { ...plate, versions, version: versions.length - 1, frame };
  const opened = await openAndKeep(files, () => openEntry(next));
  const after = showCard(next, opened);
  useShot.getState().editPlate(plateId, { versions, version: next.version, frame });
  useDesk.getState().set({ wipeVersion: null });
  tellDifferences(plate.name, before, after);
}

function tellDifferences(name: string, before: PlateCard | undefined, after: PlateCard): void {
  if (!before) return;
  const names = new Set(after.passes.map((pass) => pass.name));
  const missing = before.passes.map((pass) => pass.name).filter((pass) => !names.has(pass));
  const size =
    before.width === after.width && before.height === after.height
      ? ''
      : ` Its size is ${after.width} x ${after.height} now, it was ${before.width} x ${before.height}.`;
  if (missing.length || size)
    notify(
      `${name}: ${missing.length ? `the new render lacks ${missing.join(', ')}.` : ''}${size}`,
      'warning',
    );
  else notify(`${name}: the new render is on the bench; all passes are there`, 'success');
}

/** Brings photographs in to stand beside the picture. */
export async function bringInReferences(incoming: readonly File[]): Promise<void> {
  for (const file of incoming) {
    usePlates.getState().set({ opening: file.name });
    const one = { id: crypto.randomUUID(), name: file.name };
    const reference: Reference = { id: crypto.randomUUID(), name: file.name, file: one, exposure: 0 };
    const blob = await holdFile(one.id, file);
    const opened = await openAndKeep([{ ...one, blob }], () => openReference(reference));
    showReference(reference.id, opened);
    const { references, setReferences } = useShot.getState();
    setReferences([...references, reference]);
    useDesk.getState().set({ reference: reference.id });
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
