import { FileError } from '../../core/errors';
import { groupFiles, type Role } from '../../core/image/roles';
import { defaultLook, type Look } from '../../core/look/look';
import type { PlateEntry, PlateVersion, Reference } from '../../core/shot/shot';
import { benchEngine, unwrap } from '../../engine/browser/client';
import type { SourceBlob } from '../../engine/browser/bench.worker';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { fileBlob, forgetFile, keepFile } from './files';
import { notify, reportError } from './notices';
import { usePlates, without, type PlateCard } from './plates';

/** The engine's id of a plate's version and frame. */
export function engineId({ versions }: PlateEntry, version: number, frame: number): string {
  const { id, frames } = versions[version]!;
  return frames.length > 1 ? `${id}@${frame}` : id;
}

async function sources(plate: PlateEntry, version: number, frame: number): Promise<SourceBlob[]> {
  const out: SourceBlob[] = [];
  for (const { id, name } of plate.versions[version]!.frames[frame]!.files) {
    const blob = await fileBlob(id);
    if (!blob)
      throw new FileError('this browser no longer has the file', { where: name, todo: 'Bring it in again' });
    out.push({ name, blob });
  }
  return out;
}

/** Opens a version and frame of a plate in the engine. */
async function openVersion(plate: PlateEntry, version: number, frame: number): Promise<PlateCard> {
  const id = engineId(plate, version, frame);
  const files = await sources(plate, version, frame);
  const opened = unwrap(await benchEngine().openPlate(id, plate.name, files, plate.roles));
  return { ...opened, plate: plate.id };
}

/** Opens what of a plate is on the bench, and shows it on the shelf. */
export async function openPlate(plate: PlateEntry): Promise<PlateCard> {
  const card = await openVersion(plate, plate.version, plate.frame);
  showCard(card);
  const odd = card.nan + card.infinite;
  if (odd > 0)
    notify(
      `${plate.name}: ${card.nan} samples are not a number and ${card.infinite} infinite; they count as 0 and 65504`,
      'warning',
    );
  for (const warning of card.warnings) notify(`${plate.name}: ${warning}`, 'warning');
  return card;
}

function showCard(card: PlateCard): void {
  const { set, cards } = usePlates.getState();
  const before = cards[card.plate];
  set({ cards: { ...cards, [card.plate]: card } });
  if (before && before.id !== card.id) closeInEngine(before.id);
  void loadThumbnails(card.id);
}

async function loadThumbnails(id: string): Promise<void> {
  try {
    const made = unwrap(await benchEngine().thumbnails(id));
    const { set, thumbnails } = usePlates.getState();
    set({ thumbnails: { ...thumbnails, [id]: made } });
  } catch (error) {
    reportError(error);
  }
}

export function closeInEngine(id: string): void {
  void benchEngine().closePlate(id);
  const { set, thumbnails } = usePlates.getState();
  set({ thumbnails: without(thumbnails, id) });
}

/** Takes a plate off the shelf's record and out of the engine. */
export function closePlate(plate: string): void {
  const { set, cards } = usePlates.getState();
  const card = cards[plate];
  if (card) closeInEngine(card.id);
  set({ cards: without(cards, plate) });
}

/** Files as one version of a plate; each gets an id. Their blobs are given by id. */
function versionOf(frames: { frame: number | undefined; files: { file: File }[] }[]): {
  version: PlateVersion;
  blobs: { id: string; name: string; blob: Blob }[];
} {
  const blobs: { id: string; name: string; blob: Blob }[] = [];
  const version: PlateVersion = {
    id: crypto.randomUUID(),
    frames: frames.map(({ frame, files }) => ({
      frame: frame ?? null,
      files: files.map(({ file }) => {
        const id = crypto.randomUUID();
        blobs.push({ id, name: file.name, blob: file });
        return { id, name: file.name };
      }),
    })),
  };
  return { version, blobs };
}

/** Brings renders in: files of one base are passes, or frames, of one plate. A group that fails leaves no trace. */
export async function bringIn(files: readonly File[]): Promise<void> {
  for (const group of groupFiles(files)) {
    usePlates.getState().set({ opening: group.name });
    const { version, blobs } = versionOf(group.frames);
    const id = crypto.randomUUID();
    const plate: PlateEntry = { id, name: group.name, versions: [version], version: 0, frame: 0, roles: {} };
    await openFresh(plate, blobs);
    useShot.getState().addPlate(plate);
    takeUntouchedCamera(plate);
    useDesk.getState().set({ subject: { kind: 'final' }, zoom: null, centre: null, wipeVersion: null });
    for (const { id: file, name, blob } of blobs) await keepFile(file, name, blob);
  }
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

/** Opens a plate whose files are at hand but not kept yet. */
async function openFresh(
  plate: PlateEntry,
  blobs: readonly { id: string; name: string; blob: Blob }[],
): Promise<void> {
  const wanted = new Set(plate.versions[plate.version]!.frames[plate.frame]!.files.map(({ id }) => id));
  const files = blobs.filter(({ id }) => wanted.has(id)).map(({ name, blob }) => ({ name, blob }));
  const id = engineId(plate, plate.version, plate.frame);
  const opened = unwrap(await benchEngine().openPlate(id, plate.name, files, plate.roles));
  showCard({ ...opened, plate: plate.id });
  for (const warning of opened.warnings) notify(`${plate.name}: ${warning}`, 'warning');
}

/** Takes a newer render in the place of a plate's present one. Settings stay; passes that are missing are told. */
export async function replaceRender(plateId: string, files: readonly File[]): Promise<void> {
  const { plates, editPlate } = useShot.getState();
  const plate = plates.find(({ id }) => id === plateId);
  const [group] = groupFiles(files);
  if (!plate || !group) return;
  const before = usePlates.getState().cards[plateId];
  const { version, blobs } = versionOf(group.frames);
  const versions = [...plate.versions, version];
  const frame = Math.min(plate.frame, version.frames.length - 1);
  const next = { ...plate, versions, version: versions.length - 1, frame };
  await openFresh(next, blobs);
  editPlate(plateId, { versions, version: next.version, frame });
  useDesk.getState().set({ wipeVersion: null });
  for (const { id, name, blob } of blobs) await keepFile(id, name, blob);
  tellDifferences(plate.name, before, usePlates.getState().cards[plateId]);
}

function tellDifferences(name: string, before: PlateCard | undefined, after: PlateCard | undefined): void {
  if (!before || !after) return;
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

/** Puts another version or frame of a plate on the bench. */
export async function chooseVersion(plateId: string, version: number, frame: number): Promise<void> {
  const plate = useShot.getState().plates.find(({ id }) => id === plateId);
  if (!plate || !plate.versions[version]) return;
  const held = Math.min(Math.max(0, frame), plate.versions[version].frames.length - 1);
  usePlates.getState().set({ opening: plate.name });
  try {
    await openPlate({ ...plate, version, frame: held });
    useShot.getState().editPlate(plateId, { version, frame: held });
    useDesk.getState().set({ wipeVersion: null });
  } catch (error) {
    reportError(error);
  } finally {
    usePlates.getState().set({ opening: null });
  }
}

/** Opens another version beside the present one, for the wipe, and gives the engine's id of it. */
export async function openForWipe(plate: PlateEntry, version: number): Promise<string> {
  const frame = Math.min(plate.frame, plate.versions[version]!.frames.length - 1);
  return (await openVersion(plate, version, frame)).id;
}

/** Says what a pass is; null goes back to what its name tells. */
export async function setRole(plateId: string, pass: string, role: Role | null): Promise<void> {
  const plate = useShot.getState().plates.find(({ id }) => id === plateId);
  const card = usePlates.getState().cards[plateId];
  if (!plate || !card) return;
  const roles: Record<string, Role> = { ...without(plate.roles, pass), ...(role && { [pass]: role }) };
  try {
    const opened = unwrap(await benchEngine().setRoles(card.id, roles));
    useShot.getState().editPlate(plateId, { roles });
    showCard({ ...opened, plate: plateId });
  } catch (error) {
    reportError(error);
  }
}

/** Removes a plate with all its versions. */
export function removePlate(plateId: string): void {
  const plate = useShot.getState().plates.find(({ id }) => id === plateId);
  useShot.getState().removePlate(plateId);
  closePlate(plateId);
  for (const { frames } of plate?.versions ?? [])
    for (const { files } of frames) for (const { id } of files) forgetFile(id).catch(reportError);
}

/** The engine's id of a reference. */
export const referenceId = (id: string): string => `reference ${id}`;

export async function openReference({ id, name, file }: Reference, blob?: Blob): Promise<void> {
  const found = blob ?? (await fileBlob(file.id));
  if (!found)
    throw new FileError('this browser no longer has the file', { where: name, todo: 'Bring it in again' });
  const opened = unwrap(
    await benchEngine().openPlate(referenceId(id), name, [{ name: file.name, blob: found }], {}),
  );
  const { set, references } = usePlates.getState();
  const { width, height, thumbnail } = opened;
  set({ references: { ...references, [id]: { width, height, thumbnail } } });
}

/** Brings photographs in to stand beside the picture. */
export async function bringInReferences(files: readonly File[]): Promise<void> {
  for (const file of files) {
    usePlates.getState().set({ opening: file.name });
    const reference: Reference = {
      id: crypto.randomUUID(),
      name: file.name,
      file: { id: crypto.randomUUID(), name: file.name },
      exposure: 0,
    };
    await openReference(reference, file);
    const { references, setReferences } = useShot.getState();
    setReferences([...references, reference]);
    useDesk.getState().set({ reference: reference.id });
    await keepFile(reference.file.id, file.name, file);
  }
}

export function removeReference(id: string): void {
  const { references, setReferences } = useShot.getState();
  const reference = references.find((one) => one.id === id);
  setReferences(references.filter((one) => one.id !== id));
  const plates = usePlates.getState();
  plates.set({ references: without(plates.references, id) });
  void benchEngine().closePlate(referenceId(id));
  if (useDesk.getState().reference === id) useDesk.getState().set({ reference: null });
  if (reference) forgetFile(reference.file.id).catch(reportError);
}

/** The look with the plate that is laid under the picture named as the engine knows it. */
export function benchLook(look: Look): Look {
  const { background } = look.plate;
  if (!background.startsWith('plate:')) return look;
  const card = usePlates.getState().cards[background.slice('plate:'.length)];
  return card ? { ...look, plate: { ...look.plate, background: `plate:${card.id}` } } : look;
}

/** The look under which a reference is shown: nothing done to it. */
export const REFERENCE_LOOK = defaultLook();
