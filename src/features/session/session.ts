import { FileError } from '../../core/errors';
import { isCube } from '../../core/formats/cube';
import { READ_EXTENSIONS } from '../../core/formats/extensions';
import { groupFiles } from '../../core/image/file-names';
import { parseLook } from '../../core/look/look';
import { lookAt, parseTracks } from '../../core/look/tracks';
import { parseWholeLook } from '../../core/look/whole-look';
import { withFreshIds } from '../../core/shot/fresh-ids';
import {
  filesOf,
  NEW_PLATE,
  plateOfFile,
  SHOT_EXTENSION,
  type PlateEntry,
  type Shot,
} from '../../core/shot/shot';
import { canShareMemory } from '../../core/kernels/runtime/shared';
import { benchEngine, setEngineEvents, unwrap } from '../../engine/browser/client';
import { takenSeats } from '../../state/seat';
import { EMPTY_SHOT, startShot, useShot } from '../../state/shot-store';
import { askToKeep, collectSeats, loadDocument, type KeptShot } from '../../state/storage';
import { PLATE, useDesk } from '../../state/desk-store';
import {
  bringIn,
  bringInElements,
  bringInImage,
  bringInReferences,
  openWhole,
  replaceRender,
} from './bring-in';
import { DEMOS, type Demo } from './demos';
import { discardFiles, fileBlob, holdFile, keepFiles, refreshQuota, type HeldFile } from './files';
import { currentShot, keepAsEarlier, loadEarlier, makeRoom, saveNow, startKeeping } from './kept';
import { loadLibrary, takeIn } from './looks';
import { errorLine, notify, reportError } from './notices';
import { reopenAll, syncEngine } from './open-plates';
import { usePlates } from './plates';
import { alignFrames } from './playhead';
import { plateOnBench } from '../../state/reel-shown';
import { readJsonFile } from './read-json';
import { findSeat } from './seats';

/** Puts a look file's settings in place of the present ones, as one step; a look with a name joins those that are kept. */
async function openLookFile(file: File): Promise<void> {
  const data = await readJsonFile(file, 'Choose a look that was saved by Bokelux');
  const { name, note, look } = parseWholeLook(data, file.name);
  if (name !== undefined) return takeIn({ name, note, look });
  useShot.getState().setLook(look);
  notify(`the look of ${file.name} is on the bench`, 'success');
}

const leftOut = (count: number): string =>
  count === 1 ? '1 file is no picture and was left out' : `${count} files are no pictures and were left out`;

/** What files are wanted for. */
export type Purpose =
  | { kind: 'plates' }
  | { kind: 'references' }
  | { kind: 'replace'; plate: string }
  /** Renders that lie over a plate. */
  | { kind: 'element'; plate: string }
  /** An image for the setting at a path. */
  | { kind: 'image'; path: string };

/**
 * Takes files that were dropped or chosen: renders become plates (or references, or a plate's new version), a look or a
 * shot file takes the present one's place.
 */
export async function takeFiles(
  files: readonly File[],
  purpose: Purpose = { kind: 'plates' },
): Promise<void> {
  const ending = (file: File, end: string): boolean => file.name.toLowerCase().endsWith(end);
  const shots = files.filter((file) => ending(file, `.${SHOT_EXTENSION}`));
  const looks = files.filter((file) => ending(file, '.json'));
  const others = files.filter(
    (file) => !shots.includes(file) && !looks.includes(file) && !isTable(file, purpose),
  );
  const known = others.filter((file) => READ_EXTENSIONS.some((end) => ending(file, `.${end}`)));
  // A folder brings all sorts of files; one that is chosen by itself is tried whatever it is called.
  const pictures = known.length ? known : others;
  if (pictures.length < others.length) notify(leftOut(others.length - pictures.length), 'warning');
  const work: [string, () => Promise<void>][] = [
    ...shots.map((file): [string, () => Promise<void>] => [file.name, () => openShotFile(file)]),
    ...looks.map((file): [string, () => Promise<void>] => [file.name, () => openLookFile(file)]),
  ];
  const table = files.find((file) => isTable(file, purpose));
  if (table) work.push([table.name, () => bringInImage(table, 'film.lut')]);
  if (pictures.length)
    work.push([
      pictures[0]!.name,
      () => {
        if (purpose.kind === 'references') return bringInReferences(pictures);
        if (purpose.kind === 'image') return bringInImage(pictures[0]!, purpose.path);
        if (purpose.kind === 'replace') return replaceRender(purpose.plate, pictures);
        if (purpose.kind === 'element') return bringInElements(purpose.plate, pictures);
        return bringIn(pictures);
      },
    ]);
  for (const [name, run] of work) {
    usePlates.getState().set({ opening: name });
    try {
      await run();
    } catch (error) {
      reportError(error);
    } finally {
      usePlates.getState().set({ opening: null });
    }
  }
}

/** Whether a file that is not asked for in particular is a look-up table, which the film's view takes. */
const isTable = ({ name }: File, { kind }: Purpose): boolean => kind !== 'image' && isCube(name);

/** What the person looked at and with belongs to the shot that was open. */
function resetDesk(): void {
  useDesk.getState().set({
    subject: { kind: 'final' },
    zoom: null,
    centre: null,
    compare: null,
    against: PLATE,
    shownProof: null,
    patches: null,
    circles: null,
    looks: false,
    viewExposure: 0,
    mask: null,
    element: null,
    pen: null,
    region: null,
    drawingRegion: false,
    feedShift: null,
    strip: null,
    pulls: [],
    lifeOf: null,
    reel: null,
    passing: false,
    playing: false,
  });
}

/**
 * Puts a shot with its files in place of the present one, as one step. It is opened whole under ids of its own beside what is
 * there, and its files are kept; only then does it take the place. If anything fails, nothing has changed.
 */
async function install(incoming: Shot, blobs: ReadonlyMap<string, Blob>): Promise<void> {
  const { shot, files } = withFreshIds(incoming, () => crypto.randomUUID());
  const held: HeldFile[] = [];
  for (const [old, { id, name }] of files) held.push({ id, name, blob: await holdFile(id, blobs.get(old)!) });
  const ids = held.map(({ id }) => id);
  let show: () => void;
  try {
    show = await openWhole(shot);
  } catch (error) {
    await discardFiles(ids);
    throw error;
  }
  await keepFiles(held, makeRoom);
  await keepAsEarlier();
  show();
  useShot.getState().replaceShot(shot);
  resetDesk();
  await syncEngine();
  await saveNow();
}

/** Puts an earlier shot in place of the present one, as one step. */
export async function openEarlier({ shot }: KeptShot): Promise<void> {
  await keepAsEarlier();
  useShot.getState().replaceShot(shot);
  resetDesk();
  await syncEngine();
}

/** A shot that ends the engine so often may do it again. */
const MAX_ENDS = 3;

/** Opens everything of the shot in a new engine. What fails is named; the rest is there. */
async function reopenShot(ends: number): Promise<void> {
  if (ends > MAX_ENDS) {
    notify(
      'the engine ended again and again: take the last plate off the shelf, or reload the page. The shot is kept',
      'error',
    );
    return;
  }
  notify(
    'the engine ended and was started again; no edit is lost. The plates are being opened anew',
    'warning',
  );
  await reopenAll();
  useDesk.getState().set({ engineStarts: useDesk.getState().engineStarts + 1 });
}

/** Hears of the engine: what it has to say, and that it was replaced. */
function watchEngine(): void {
  setEngineEvents({
    notice: (text) => notify(text, 'warning'),
    replaced: (ends) => void reopenShot(ends),
  });
  if (!canShareMemory)
    notify(
      'threads may not share memory at this address, so everything is computed on one thread, slowly. Open the address that npm start prints',
      'warning',
    );
}

async function openShotFile(file: File): Promise<void> {
  const { shot, files } = unwrap(await benchEngine().unpackShot(file, file.name));
  const before = useShot.getState();
  await install(shot, files);
  const back = before.plates.length > 0 ? `; undo brings ${before.name} back` : '';
  notify(`${shot.name} opened${back}`, 'success');
}

/** Packs the shot with its plates into one file that was chosen, or as a blob. What this browser has lost the files of is left out, and named. */
export async function packCurrentShot(
  into?: FileSystemFileHandle,
): Promise<{ blob: Blob | null; name: string }> {
  const shot = currentShot();
  const files = new Map<string, Blob>();
  const lacking = new Map<string, string>();
  for (const { id, name } of filesOf(shot)) {
    const blob = await fileBlob(id).catch(() => undefined);
    if (blob) files.set(id, blob);
    else lacking.set(id, name);
  }
  const isWhole = (all: readonly { id: string }[]): boolean => all.every(({ id }) => !lacking.has(id));
  const plates = shot.plates.filter(({ versions }) =>
    isWhole(versions.flatMap(({ frames }) => frames.flatMap((one) => one.files))),
  );
  const left = {
    ...shot,
    plates,
    references: shot.references.filter(({ file }) => isWhole([file])),
    proofs: shot.proofs.map((proof) =>
      proof.picture && isWhole([proof.picture]) ? proof : { ...proof, picture: null },
    ),
    images: shot.images.filter((image) => isWhole([image])),
  };
  if (lacking.size > 0)
    notify(
      `${[...lacking.values()].join(', ')} can no longer be read and is not in the saved shot: bring it in again`,
      'warning',
    );
  return { blob: unwrap(await benchEngine().packShot({ shot: left, files }, into)), name: shot.name };
}

async function fetchBlob(url: string): Promise<Blob> {
  const answer = await fetch(url).catch(() => {
    throw new FileError('the server does not answer', {
      where: url,
      todo: 'Start it again, or see to the network; what is open stays as it is',
    });
  });
  if (!answer.ok) throw new Error(`${url} cannot be had (${answer.status}). Is the application complete?`);
  return answer.blob();
}

/** A plate of numbered files, each with an id. */
function sequenceOf(files: readonly string[], ids: readonly string[]): PlateEntry {
  const [group] = groupFiles(
    files.map((name, k) => ({ name, id: ids[k]! })),
    () => '',
  );
  const frames = group!.frames.map(({ frame, files: own }) => ({
    frame: frame ?? null,
    files: own.map(({ file: { id, name } }) => ({ id, name })),
  }));
  return {
    ...NEW_PLATE,
    id: crypto.randomUUID(),
    name: group!.name,
    versions: [{ id: crypto.randomUUID(), frames }],
  };
}

/** Puts a demo shot in place of the present one. Its first file is the plate, which the others lie over. */
export async function openDemo({
  name,
  files,
  isSequence,
  look: lookFile,
  tracks: tracksFile,
}: Demo): Promise<void> {
  const { set } = usePlates.getState();
  set({ opening: files[0] });
  try {
    const blobs = await Promise.all(files.map((file) => fetchBlob(`/demo/${file}`)));
    const json = async (file: string): Promise<unknown> =>
      JSON.parse(await (await fetchBlob(`/demo/${file}`)).text());
    const look = parseLook(await json(lookFile), lookFile);
    const tracks = tracksFile === undefined ? {} : parseTracks(await json(tracksFile), tracksFile);
    const ids = files.map(() => crypto.randomUUID());
    const plates = isSequence
      ? [sequenceOf(files, ids)]
      : files.map((file, k): PlateEntry => plateOfFile(ids[k]!, file));
    if (plates.length > 1) plates[0]!.elements = ids;
    await install(
      { ...EMPTY_SHOT, name, plates, activePlate: plates[0]!.id, look: lookAt(look, tracks, 1), tracks },
      new Map(ids.map((id, index) => [id, blobs[index]!])),
    );
  } finally {
    set({ opening: null });
  }
}

/** Brings back the shot that is kept in this browser; without one, opens the first demo. */
export async function startSession(): Promise<void> {
  useDesk.getState().set({ phase: 'opening' });
  watchEngine();
  void askToKeep();
  const { seat, source } = await findSeat();
  let kept: Shot | undefined;
  let wasReadable = true;
  try {
    kept = await loadDocument(source);
  } catch (error) {
    wasReadable = false;
    notify(`${errorLine(error)}. It was laid aside, and nothing is written over it`, 'error');
  }
  startShot(kept ?? EMPTY_SHOT);
  useShot.subscribe((now, before) => {
    const isSame =
      now.plates === before.plates && now.references === before.references && now.images === before.images;
    if (!isSame) void syncEngine();
    const [plate, old] = [plateOnBench(now), plateOnBench(before)];
    if (plate?.id !== old?.id || plate?.version !== old?.version || plate?.versions !== old?.versions)
      alignFrames();
  });
  try {
    if (kept) await reopenAll();
    else if (wasReadable) await openDemo(DEMOS[0]);
  } catch (error) {
    reportError(error);
  }
  if (!kept) useShot.temporal.getState().clear();
  startKeeping();
  useDesk.getState().set({ isStarted: true });
  if (seat === 1) await collectSeats(await takenSeats()).catch(reportError);
  await loadEarlier().catch(reportError);
  await loadLibrary().catch(reportError);
  await makeRoom().catch(reportError);
  void refreshQuota();
}
