import { FileError } from '../../core/errors';
import { READ_EXTENSIONS } from '../../core/formats/extensions';
import { parseLook } from '../../core/look/look';
import { filesOf, plateOfFile, SHOT_EXTENSION, type Shot } from '../../core/shot/shot';
import { canShareMemory } from '../../core/kernels/runtime/shared';
import { benchEngine, setEngineEvents, unwrap } from '../../engine/browser/client';
import { askToKeep, loadDocument, pruneFiles, saveDocument } from '../../state/autosave';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { fileBlob, keepFile, refreshQuota } from './files';
import { errorLine, notify, reportError } from './notices';
import { bringInImage, openImage } from './images';
import {
  bringIn,
  bringInReferences,
  closePlate,
  openPlate,
  openReference,
  replaceRender,
} from './open-plates';
import { usePlates } from './plates';

const DEMO_PLATE = { url: '/demo/quay.exr', name: 'quay.exr' };
const DEMO_LOOK = '/demo/quay.look.json';
const DEMO_NAME = 'Quay at night';
const SAVE_AFTER_MS = 350;

function currentShot(): Shot {
  const { name, plates, references, images, activePlate, look } = useShot.getState();
  return { name, plates, references, images, activePlate, look };
}

/** Puts a look file's settings in place of the present ones: one step, which can be undone. */
async function openLookFile(file: File): Promise<void> {
  let data: unknown;
  try {
    data = JSON.parse(await file.text());
  } catch {
    throw new FileError('this is not JSON', {
      where: file.name,
      todo: 'Choose a look that was saved by Bokelux',
    });
  }
  useShot.getState().setLook(parseLook(data, file.name));
  notify(`the look of ${file.name} is on the bench`, 'success');
}

/** What files are wanted for. */
export type Purpose =
  | { kind: 'plates' }
  | { kind: 'references' }
  | { kind: 'replace'; plate: string }
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
  const others = files.filter((file) => !shots.includes(file) && !looks.includes(file));
  const known = others.filter((file) => READ_EXTENSIONS.some((end) => ending(file, `.${end}`)));
  // A folder brings all sorts of files; one that is chosen by itself is tried whatever it is called.
  const pictures = known.length ? known : others;
  if (pictures.length < others.length)
    notify(`${others.length - pictures.length} files are no pictures and were left out`, 'warning');
  const work: [string, () => Promise<void>][] = [
    ...shots.map((file): [string, () => Promise<void>] => [file.name, () => openShotFile(file)]),
    ...looks.map((file): [string, () => Promise<void>] => [file.name, () => openLookFile(file)]),
  ];
  if (pictures.length)
    work.push([
      pictures[0]!.name,
      () => {
        if (purpose.kind === 'references') return bringInReferences(pictures);
        if (purpose.kind === 'image') return bringInImage(pictures[0]!, purpose.path);
        if (purpose.kind === 'replace') return replaceRender(purpose.plate, pictures);
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

/** Puts a shot in place of the present one once all its plates are open; if one fails, nothing changes. */
async function install(shot: Shot, files: ReadonlyMap<string, Blob> | null): Promise<void> {
  const before = useShot.getState().plates;
  if (files) for (const { id, name } of filesOf(shot)) await keepFile(id, name, files.get(id)!);
  const opened: string[] = [];
  try {
    for (const plate of shot.plates) {
      await openPlate(plate);
      opened.push(plate.id);
    }
    for (const reference of shot.references) await openReference(reference);
    for (const image of shot.images) await openImage(image);
  } catch (error) {
    opened.filter((id) => !before.some((plate) => plate.id === id)).forEach(closePlate);
    throw error;
  }
  useShot.getState().replaceShot(shot);
  useDesk.getState().set({
    subject: { kind: 'final' },
    zoom: null,
    centre: null,
    wipe: null,
    wipeVersion: null,
    viewExposure: 0,
    reference: null,
    mask: null,
    pen: null,
    region: null,
    drawingRegion: false,
    feedShift: null,
  });
  for (const { id } of before) if (!shot.plates.some((plate) => plate.id === id)) closePlate(id);
  if (!files) return;
  try {
    await saveDocument(shot);
    await pruneFiles(shot);
  } catch (error) {
    notify(
      `this browser has no room to keep the shot: save it to a file before you leave (${errorLine(error)})`,
      'warning',
    );
  }
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
  const { plates, references, images } = currentShot();
  const work = [
    ...images.map((image) => () => openImage(image)),
    ...plates.map((plate) => () => openPlate(plate)),
    ...references.map((reference) => () => openReference(reference)),
  ];
  for (const open of work) await open().catch(reportError);
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
  await install(shot, files);
  notify(`${shot.name} opened`, 'success');
}

/** Packs the shot with its plates into one file. */
export async function packCurrentShot(): Promise<{ blob: Blob; name: string }> {
  const shot = currentShot();
  const files = new Map<string, Blob>();
  for (const { id } of filesOf(shot)) {
    const blob = await fileBlob(id);
    if (blob) files.set(id, blob);
  }
  return { blob: unwrap(await benchEngine().packShot({ shot, files })), name: shot.name };
}

async function fetchBlob(url: string): Promise<Blob> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error(`${url} cannot be had (${answer.status}). Is the application complete?`);
  return answer.blob();
}

/** Puts the demo shot in place of the present one. */
export async function openDemo(): Promise<void> {
  const { set } = usePlates.getState();
  set({ opening: DEMO_PLATE.name });
  try {
    const [picture, lookFile] = await Promise.all([fetchBlob(DEMO_PLATE.url), fetchBlob(DEMO_LOOK)]);
    const look = parseLook(JSON.parse(await lookFile.text()), DEMO_LOOK);
    const id = crypto.randomUUID();
    const plates = [plateOfFile(id, DEMO_PLATE.name)];
    await install(
      { name: DEMO_NAME, plates, references: [], images: [], activePlate: id, look },
      new Map([[id, picture]]),
    );
  } finally {
    set({ opening: null });
  }
}

/** Brings back the shot that is kept in this browser; without one, opens the demo shot. */
export async function startSession(): Promise<void> {
  useDesk.getState().set({ phase: 'opening' });
  watchEngine();
  try {
    void askToKeep();
    const kept = await loadDocument();
    if (!kept) return await openDemo();
    const lost: string[] = [];
    const missing = new Set<string>();
    for (const { id, name } of filesOf(kept)) {
      if (await fileBlob(id)) continue;
      lost.push(name);
      missing.add(id);
    }
    // A plate stays as long as what of it is on the bench is there.
    const plates = kept.plates.filter(
      ({ versions, version, frame }) =>
        !versions[version]!.frames[frame]!.files.some(({ id }) => missing.has(id)),
    );
    const references = kept.references.filter(({ file }) => !missing.has(file.id));
    const images = kept.images.filter(({ id }) => !missing.has(id));
    const activePlate = plates.some(({ id }) => id === kept.activePlate)
      ? kept.activePlate
      : (plates[0]?.id ?? null);
    usePlates.getState().set({ opening: plates.map(({ name }) => name).join(', ') || null });
    await install({ ...kept, plates, references, images, activePlate }, null);
    if (lost.length) notify(`this browser no longer has ${lost.join(', ')}: bring it in again`, 'warning');
  } catch (error) {
    reportError(error);
    useDesk.getState().set({ phase: 'failed' });
  } finally {
    usePlates.getState().set({ opening: null });
    void refreshQuota();
    startAutosave();
  }
}

let saving: ReturnType<typeof setTimeout> | undefined;
let autosaveStarted = false;

function startAutosave(): void {
  if (autosaveStarted) return;
  autosaveStarted = true;
  useShot.subscribe(() => {
    clearTimeout(saving);
    saving = setTimeout(() => {
      saveDocument(currentShot()).catch((error: unknown) =>
        notify(
          `the shot could not be kept in this browser: save it to a file (${errorLine(error)})`,
          'warning',
        ),
      );
    }, SAVE_AFTER_MS);
  });
}
