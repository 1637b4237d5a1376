import { FileError } from '../../core/errors';
import type { Role } from '../../core/image/roles';
import { defaultLook, getSetting, SETTINGS, setSetting, type Look } from '../../core/look/look';
import {
  elementsOfPlate,
  filesOnBench,
  frameAmongElements,
  partsOfPlates,
  plateUnder,
  withPlateUnder,
  type PlateEntry,
  type PlateFile,
  type Reference,
} from '../../core/shot/shot';
import { benchEngine, unwrap } from '../../engine/browser/client';
import type { SourceBlob } from '../../engine/browser/bench.worker';
import { forgetCompared, forgetVersion } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import type { StackPart } from '../../engine/messages';
import { forgetOpenPlates, holdPlate, holdStack, isOpen, type HeldPlate } from './engine-plates';
import { fileBlob } from './files';
import { errorLine, notify, reportError } from './notices';
import { usePlates, without, type PlateCard } from './plates';

/** The engine's id of a plate's version and frame. */
export function engineId({
  versions,
  version,
  frame,
}: Pick<PlateEntry, 'versions' | 'version' | 'frame'>): string {
  const { id, frames } = versions[version]!;
  return frames.length > 1 ? `${id}@${frame}` : id;
}

async function sources(plate: PlateEntry): Promise<SourceBlob[]> {
  return Promise.all(
    filesOnBench(plate).map(async ({ id, ...named }) => ({ ...named, blob: await blobOf(id, named.name) })),
  );
}

async function blobOf(id: string, name: string): Promise<Blob> {
  const blob = await fileBlob(id);
  if (blob) return blob;
  throw new FileError('this browser no longer has the file', { where: name, todo: 'Bring it in again' });
}

/** Opens what of a plate is on the bench, or counts one more that shows it. */
export function openEntry(plate: PlateEntry): Promise<HeldPlate> {
  const { name, roles, versions, version, frame } = plate;
  const frameNumber = versions[version]!.frames[frame]!.frame ?? undefined;
  return holdPlate({ id: engineId(plate), name, roles, frameNumber, files: () => sources(plate) });
}

let revisions = 0;
/** What lets go of what is shown of each plate and reference, by their ids in the shot. */
const shelf = new Map<string, () => void>();

function putOnShelf(id: string, release: () => void): void {
  shelf.get(id)?.();
  shelf.set(id, release);
}

function takeOffShelf(id: string): void {
  shelf.get(id)?.();
  shelf.delete(id);
}

/** Puts what was opened of a plate on the shelf; what it showed before is let go. */
export function showCard(
  plate: PlateEntry,
  { opened, release }: HeldPlate,
  stack: Pick<PlateCard, 'id' | 'own' | 'parts'> = opened,
): PlateCard {
  const { version, frame, roles } = plate;
  const { id, own, parts } = stack;
  const card: PlateCard = {
    ...opened,
    id,
    ...(own !== undefined && { own }),
    ...(parts !== undefined && { parts }),
    plate: plate.id,
    of: { version, frame, roles },
    revision: ++revisions,
  };
  const { set, cards, failures, thumbnails } = usePlates.getState();
  const before = cards[plate.id] && renderId(cards[plate.id]!);
  set({
    cards: { ...cards, [plate.id]: card },
    failures: without(failures, plate.id),
    ...(before && before !== renderId(card) && { thumbnails: without(thumbnails, before) }),
  });
  putOnShelf(plate.id, release);
  tellOf(plate, card);
  void loadThumbnails(renderId(card));
  return card;
}

/** The engine's id of what a card shows of its own render. */
export const renderId = ({ id, own }: PlateCard): string => own ?? id;

/** What was said of each plate, so that it is not said again with every frame. */
const told = new Set<string>();

function tellOf(plate: PlateEntry, { nan, infinite, warnings }: PlateCard): void {
  const odd =
    nan + infinite > 0
      ? [`${nan} samples are not a number and ${infinite} infinite; they count as 0 and 65504`]
      : [];
  for (const text of [...odd, ...warnings]) {
    const key = `${plate.id} ${plate.version} ${text}`;
    if (!told.has(key)) notify(`${plate.name}: ${text}`, 'warning');
    told.add(key);
  }
}

async function loadThumbnails(id: string): Promise<void> {
  try {
    const made = unwrap(await benchEngine().thumbnails(id));
    const { set, thumbnails, cards } = usePlates.getState();
    // It may have left the bench since.
    if (Object.values(cards).some((card) => renderId(card) === id))
      set({ thumbnails: { ...thumbnails, [id]: made } });
  } catch (error) {
    if (isOpen(id)) reportError(error);
  }
}

/** The engine's id of a reference. */
export const referenceId = (id: string): string => `reference ${id}`;

export function openReference({ id, name, file }: Reference): Promise<HeldPlate> {
  const files = async (): Promise<SourceBlob[]> => [
    { name: file.name, blob: await blobOf(file.id, file.name) },
  ];
  return holdPlate({ id: referenceId(id), name, files, roles: {} });
}

export function showReference(id: string, { opened, release }: HeldPlate): void {
  const { width, height, thumbnail } = opened;
  const { set, references } = usePlates.getState();
  set({ references: { ...references, [id]: { width, height, thumbnail } } });
  putOnShelf(id, release);
}

/** Opens one of the shot's images in the engine, where it goes by its id; gives it small. */
export async function openImage({ id, name }: PlateFile): Promise<ImageBitmap> {
  return unwrap(await benchEngine().openImage(id, name, await blobOf(id, name)));
}

export function showImage(id: string, thumbnail: ImageBitmap): void {
  const { set, images } = usePlates.getState();
  set({ images: { ...images, [id]: thumbnail } });
}

let pass: Promise<void> | undefined;
let again = false;

/**
 * Brings the engine to what the shot names: opens what is there, closes what is not. Called whenever the shot changes, by a
 * hand or by undo; a change while it works is seen at its next step, so that of many quick ones only the last is opened.
 */
export function syncEngine(): Promise<void> {
  again = true;
  pass ??= syncWhileAsked();
  return pass;
}

async function syncWhileAsked(): Promise<void> {
  try {
    while (again) {
      again = false;
      await syncOnce();
    }
  } finally {
    // In the same turn as the last look at what was asked for, so that nothing is asked for in between.
    pass = undefined;
  }
}

async function syncOnce(): Promise<void> {
  closeAbsent();
  const { plates, references, images, activePlate } = useShot.getState();
  for (const image of images) {
    if (usePlates.getState().images[image.id]) continue;
    await attempt(image.id, image.name, async () => showImage(image.id, await openImage(image)));
  }
  // What is on the bench comes first.
  const wholes = partsOfPlates(plates);
  const rank = ({ id, elements }: PlateEntry): number => {
    const isOnBench = (wholes.get(id) ?? id) === activePlate;
    // What a plate is made of is opened before it is put together.
    return (isOnBench ? 0 : 2) + (elements.length > 0 ? 1 : 0);
  };
  const order = [...plates].sort((a, b) => rank(a) - rank(b));
  for (const { id } of order) await syncPlate(id);
  for (const reference of references) {
    const { id, name } = reference;
    if (usePlates.getState().references[id]) continue;
    await attempt(id, name, async () => showReference(id, await openReference(reference)));
  }
}

function closeAbsent(): void {
  const shot = useShot.getState();
  const { set, cards, references, images, failures, thumbnails } = usePlates.getState();
  const names = new Set([...shot.plates, ...shot.references, ...shot.images].map(({ id }) => id));
  const left = <T>(record: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(Object.entries(record).filter(([id]) => names.has(id)));
  const gone = <T>(record: Readonly<Record<string, T>>): [string, T][] =>
    Object.entries(record).filter(([id]) => !names.has(id));
  const absent = { cards: gone(cards), references: gone(references), images: gone(images) };
  if (Object.values(absent).every((list) => list.length === 0)) return;
  const engineIds = absent.cards.map(([, card]) => renderId(card));
  set({
    cards: left(cards),
    references: left(references),
    images: left(images),
    failures: left(failures),
    thumbnails: Object.fromEntries(Object.entries(thumbnails).filter(([id]) => !engineIds.includes(id))),
  });
  for (const [id] of [...absent.cards, ...absent.references]) takeOffShelf(id);
  for (const [id] of absent.images) void benchEngine().closeImage(id);
  forgetCompared(new Set([...names, ...shot.proofs.map(({ id }) => id)]));
}

async function syncPlate(id: string): Promise<void> {
  const plate = useShot.getState().plates.find((one) => one.id === id);
  if (!plate) return;
  const wanted = engineId(plate);
  let card = usePlates.getState().cards[id];
  if (card && isOpen(card.id) && renderId(card) === wanted) {
    if (card.of.roles !== plate.roles) {
      await attempt(id, plate.name, () => readAs(card!, plate));
      card = usePlates.getState().cards[id]!;
    }
    if (card.parts === partsOf(plate)) return;
  }
  const failure = usePlates.getState().failures[id];
  if (failure?.wanted === wanted) return;
  usePlates.getState().set({ opening: plate.name });
  try {
    const held = await openEntry(plate);
    if (useShot.getState().plates.some((one) => one.id === id)) await showStacked(plate, held);
    else held.release();
  } catch (error) {
    reportError(error);
    if (card && isOpen(card.id)) {
      // The render before it stays on the bench.
      const { version, frame } = card.of;
      const { editPlate, setPlayhead, activePlate } = useShot.getState();
      editPlate(id, { version, frame });
      const number = plate.versions[version]?.frames[frame]?.frame;
      if (id === activePlate && typeof number === 'number') setPlayhead(number);
    } else {
      const { set, failures } = usePlates.getState();
      set({ failures: { ...failures, [id]: { wanted, line: errorLine(error) } } });
    }
  } finally {
    usePlates.getState().set({ opening: null });
  }
}

/** Reads a plate's passes as what its entry says that they are. */
async function readAs(card: PlateCard, plate: PlateEntry): Promise<void> {
  const opened = unwrap(await benchEngine().setRoles(renderId(card), plate.roles));
  const { set, cards } = usePlates.getState();
  const of = { ...card.of, roles: plate.roles };
  set({ cards: { ...cards, [plate.id]: { ...card, ...opened, id: card.id, of, revision: ++revisions } } });
  void loadThumbnails(renderId(card));
}

/**
 * The elements of a plate as they are open, back to front. One that could not be opened, or has no such frame, is an empty one: what the
 * look says of the others goes by their place.
 */
function openParts(plate: PlateEntry, own: string): (StackPart & { revision: number })[] {
  const { plates } = useShot.getState();
  const { cards } = usePlates.getState();
  return elementsOfPlate(plate, plates).map((element) => {
    if (element.id === plate.id) return { id: own, revision: 0 };
    const card = cards[element.id];
    const isThere = card && frameAmongElements(element, plate) !== undefined;
    return isThere ? { id: renderId(card), revision: card.revision } : { missing: element.name, revision: 0 };
  });
}

/** What a plate is to be put together of; undefined if it is alone. Its own passes count, too. */
function partsOf(plate: PlateEntry): string | undefined {
  if (plate.elements.length === 0) return undefined;
  return JSON.stringify([openParts(plate, engineId(plate)), plate.roles]);
}

let stacks = 0;

/** Shows a plate with all its elements. */
async function showStacked(plate: PlateEntry, held: HeldPlate): Promise<void> {
  const parts = partsOf(plate);
  if (parts === undefined) return void showCard(plate, held);
  const own = held.opened.id;
  const id = `stack ${++stacks} of ${own}`;
  const release = await holdStack(id, own, openParts(plate, own));
  const both = (): void => {
    release();
    held.release();
  };
  showCard(plate, { opened: held.opened, release: both }, { id, own, parts });
}

/** Opens a reference or an image; what fails is told once and not tried again until the shot is opened anew. */
async function attempt(id: string, name: string, open: () => Promise<void>): Promise<void> {
  const { failures } = usePlates.getState();
  if (failures[id]) return;
  try {
    await open();
  } catch (error) {
    reportError(error);
    const { set, failures: known } = usePlates.getState();
    set({ failures: { ...known, [id]: { wanted: name, line: errorLine(error) } } });
  }
}

/** Tries once more to open what could not be opened. */
export function tryAgain(id: string): void {
  const { set, failures } = usePlates.getState();
  set({ failures: without(failures, id) });
  void syncEngine();
}

/** Opens everything anew: in another engine, or another shot's. */
export function reopenAll(): Promise<void> {
  forgetOpenPlates();
  usePlates.getState().set({ references: {}, images: {}, failures: {} });
  return syncEngine();
}

/** Puts another version or frame of a plate on the bench. Steps go on from the one that was asked for last. */
export function chooseVersion(plateId: string, version: number, frame: number): Promise<void> {
  const { plates, editPlate } = useShot.getState();
  const plate = plates.find(({ id }) => id === plateId);
  if (!plate?.versions[version]) return Promise.resolve();
  const last = plate.versions[version].frames.length - 1;
  const next = { version, frame: Math.min(Math.max(0, frame), last) };
  editPlate(plateId, next);
  for (const element of elementsOfPlate(plate, plates)) {
    const own = frameAmongElements(element, { ...plate, ...next });
    if (element.id !== plateId && own !== undefined && own !== element.frame)
      editPlate(element.id, { frame: own });
  }
  const number = plate.versions[version].frames[next.frame]!.frame;
  if (plateId === useShot.getState().activePlate && number !== null) useShot.getState().setPlayhead(number);
  forgetVersion();
  return syncEngine();
}

/** Says what a pass is; null goes back to what its name tells. One step. */
export function setRole(plateId: string, passName: string, role: Role | null): Promise<void> {
  const { plates, editPlate } = useShot.getState();
  const plate = plates.find(({ id }) => id === plateId);
  if (!plate) return Promise.resolve();
  const roles: Record<string, Role> = {
    ...without(plate.roles, passName),
    ...(role && { [passName]: role }),
  };
  editPlate(plateId, { roles });
  return syncEngine();
}

/** Takes a plate off the shelf, as one step. Its files stay as long as a step names them. */
export function removePlate(plateId: string): void {
  const { plates, look, removePlate: remove } = useShot.getState();
  const name = plates.find(({ id }) => id === plateId)?.name ?? 'the plate';
  remove(plateId);
  const wasUnder = plateUnder(look) === plateId;
  notify(
    `${name} was removed; undo brings it back${wasUnder ? '. It lay under the picture, which has no background now' : ''}`,
    'success',
  );
  void syncEngine();
}

export function removeReference(id: string): void {
  const { references, setReferences } = useShot.getState();
  const name = references.find((one) => one.id === id)?.name ?? 'the reference';
  setReferences(references.filter((one) => one.id !== id));
  notify(`${name} was removed; undo brings it back`, 'success');
  void syncEngine();
}

export function removeImage(id: string): void {
  const { images, removeImage: remove } = useShot.getState();
  const name = images.find((one) => one.id === id)?.name ?? 'the image';
  remove(id);
  notify(`${name} was taken out of the shot; undo brings it back`, 'success');
  void syncEngine();
}

/** Settings whose value is an image's name. */
const IMAGE_PATHS = SETTINGS.filter(({ kind }) => kind === 'image').map(({ path }) => path);

/**
 * The look as the engine knows its plates and images: by the ids under which they are open there. `under` is that of what lies under the
 * picture, if it is not as it is on the shelf.
 */
export function benchLook(look: Look, under?: string): Look {
  const { cards, images: opened } = usePlates.getState();
  const { images } = useShot.getState();
  const plate = plateUnder(look);
  const id = plate === undefined ? undefined : (under ?? cards[plate]?.id);
  const laid = id === undefined ? look : withPlateUnder(look, id);
  return IMAGE_PATHS.reduce((named, path) => {
    const name = getSetting(named, path);
    const image = images.find((one) => one.name === name);
    // One that could not be opened is missed by its name.
    return image && opened[image.id] ? setSetting(named, path, image.id) : named;
  }, laid);
}

/** The look under which a reference is shown: nothing done to it. */
export const REFERENCE_LOOK = defaultLook();
