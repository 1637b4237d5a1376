import * as Comlink from 'comlink';
import { FileError } from '../../core/errors';
import { parseLook } from '../../core/look/look';
import { SHOT_EXTENSION, type Shot } from '../../core/shot/shot';
import { benchEngine, EngineError, unwrap } from '../../engine/browser/client';
import {
  loadDocument,
  loadPlate,
  prunePlates,
  removePlate as forgetPlate,
  saveDocument,
  savePlate,
} from '../../state/autosave';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { usePlates } from './plates';

const DEMO_PLATE = { url: '/demo/quay.exr', name: 'quay.exr' };
const DEMO_LOOK = '/demo/quay.look.json';
const DEMO_NAME = 'Quay at night';
const SAVE_AFTER_MS = 350;

/** Says something to the person; given by the shell. */
export type Notify = (text: string, kind: 'error' | 'warning' | 'success') => void;

/** Files of plates for which the browser had no room, so that the shot can still be saved to a file. */
const unkept = new Map<string, Uint8Array<ArrayBuffer>>();

let notify: Notify = () => undefined;

export function setNotify(next: Notify): void {
  notify = next;
}

/** An error as one line: where, what, and what to do. */
export function errorLine(error: unknown): string {
  if (error instanceof EngineError) {
    const { where, what, todo } = error.failure;
    return `${where ? `${where}: ` : ''}${what}${todo ? `. ${todo}` : ''}`;
  }
  const { line, message } = error as { line?: string; message?: string };
  return line ?? message ?? String(error);
}

export function reportError(error: unknown): void {
  notify(errorLine(error), 'error');
}

function currentShot(): Shot {
  const { name, plates, activePlate, look } = useShot.getState();
  return { name, plates, activePlate, look };
}

async function openInEngine(id: string, name: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
  const card = unwrap(await benchEngine().openPlate(id, name, bytes));
  usePlates.getState().put(card);
  const odd = card.nan + card.infinite;
  if (odd > 0)
    notify(
      `${name}: ${card.nan} samples are not a number and ${card.infinite} infinite; they count as 0 and 65504`,
      'warning',
    );
  for (const warning of card.warnings) notify(`${name}: ${warning}`, 'warning');
}

/** Brings a render in as a new plate. On failure nothing changes. */
async function bringIn(file: File): Promise<void> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const id = crypto.randomUUID();
  await openInEngine(id, file.name, bytes);
  useShot.getState().addPlate({ id, name: file.name });
  useDesk.getState().set({ subject: { kind: 'final' }, zoom: null, centre: null });
  try {
    await savePlate(id, bytes);
  } catch (error) {
    unkept.set(id, bytes);
    notify(
      `${file.name} is open, but this browser has no room to keep it: save the shot to a file before you leave (${errorLine(error)})`,
      'warning',
    );
  }
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

/** Takes files that were dropped or chosen: renders become plates, a look or a shot file takes the present one's place. */
export async function takeFiles(files: readonly File[]): Promise<void> {
  for (const file of files) {
    const { setOpening } = usePlates.getState();
    setOpening(file.name);
    try {
      const name = file.name.toLowerCase();
      if (name.endsWith(`.${SHOT_EXTENSION}`)) await openShotFile(file);
      else if (name.endsWith('.json')) await openLookFile(file);
      else await bringIn(file);
    } catch (error) {
      reportError(error);
    } finally {
      setOpening(null);
    }
  }
}

export function removePlate(id: string): void {
  useShot.getState().removePlate(id);
  usePlates.getState().drop(id);
  void benchEngine().closePlate(id);
  unkept.delete(id);
  forgetPlate(id).catch(reportError);
}

/** Puts a shot in place of the present one once all its plates are open; if one fails, nothing changes. */
async function install(
  shot: Shot,
  files: ReadonlyMap<string, Uint8Array<ArrayBuffer>>,
  keep = true,
): Promise<void> {
  const before = useShot.getState().plates;
  const opened: string[] = [];
  try {
    for (const { id, name } of shot.plates) {
      await openInEngine(id, name, files.get(id)!);
      opened.push(id);
    }
  } catch (error) {
    for (const id of opened.filter((one) => !before.some((plate) => plate.id === one))) {
      usePlates.getState().drop(id);
      void benchEngine().closePlate(id);
    }
    throw error;
  }
  useShot.getState().replaceShot(shot);
  useDesk
    .getState()
    .set({ subject: { kind: 'final' }, zoom: null, centre: null, wipe: null, viewExposure: 0 });
  for (const { id } of before) {
    if (shot.plates.some((plate) => plate.id === id)) continue;
    usePlates.getState().drop(id);
    void benchEngine().closePlate(id);
  }
  if (!keep) return;
  try {
    for (const [id, bytes] of files) {
      unkept.set(id, bytes);
      await savePlate(id, bytes);
      unkept.delete(id);
    }
    await saveDocument(shot);
    await prunePlates(shot);
  } catch (error) {
    notify(
      `this browser has no room to keep the shot: save it to a file before you leave (${errorLine(error)})`,
      'warning',
    );
  }
}

async function openShotFile(file: File): Promise<void> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const { shot, files } = unwrap(
    await benchEngine().unpackShot(Comlink.transfer(bytes, [bytes.buffer]), file.name),
  );
  await install(shot, files);
  notify(`${shot.name} opened`, 'success');
}

/** Packs the shot with its plates into one file. */
export async function packCurrentShot(): Promise<{ bytes: Uint8Array<ArrayBuffer>; name: string }> {
  const shot = currentShot();
  const files = new Map<string, Uint8Array<ArrayBuffer>>();
  for (const plate of shot.plates) {
    const bytes = unkept.get(plate.id) ?? (await loadPlate(plate.id));
    if (bytes) files.set(plate.id, bytes);
  }
  return { bytes: unwrap(await benchEngine().packShot({ shot, files })), name: shot.name };
}

async function fetchBytes(url: string): Promise<Uint8Array<ArrayBuffer>> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error(`${url} cannot be had (${answer.status}). Is the application complete?`);
  return new Uint8Array(await answer.arrayBuffer());
}

/** Puts the demo shot in place of the present one. */
export async function openDemo(): Promise<void> {
  const { setOpening } = usePlates.getState();
  setOpening(DEMO_PLATE.name);
  try {
    const [bytes, lookBytes] = await Promise.all([fetchBytes(DEMO_PLATE.url), fetchBytes(DEMO_LOOK)]);
    const look = parseLook(JSON.parse(new TextDecoder().decode(lookBytes)), DEMO_LOOK);
    const id = crypto.randomUUID();
    const shot: Shot = { name: DEMO_NAME, plates: [{ id, name: DEMO_PLATE.name }], activePlate: id, look };
    await install(shot, new Map([[id, bytes]]));
  } finally {
    setOpening(null);
  }
}

/** Brings back the shot that is kept in this browser; without one, opens the demo shot. */
export async function startSession(): Promise<void> {
  useDesk.getState().set({ phase: 'opening' });
  try {
    const kept = await loadDocument();
    if (!kept) return await openDemo();
    const files = new Map<string, Uint8Array<ArrayBuffer>>();
    const lost: string[] = [];
    for (const { id, name } of kept.plates) {
      const bytes = await loadPlate(id);
      if (bytes) files.set(id, bytes);
      else lost.push(name);
    }
    const plates = kept.plates.filter(({ id }) => files.has(id));
    const activePlate = plates.some(({ id }) => id === kept.activePlate)
      ? kept.activePlate
      : (plates[0]?.id ?? null);
    usePlates.getState().setOpening(plates.map(({ name }) => name).join(', ') || null);
    await install({ ...kept, plates, activePlate }, files, false);
    if (lost.length) notify(`this browser no longer has ${lost.join(', ')}: bring it in again`, 'warning');
  } catch (error) {
    reportError(error);
    useDesk.getState().set({ phase: 'failed' });
  } finally {
    usePlates.getState().setOpening(null);
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
