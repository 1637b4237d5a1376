import { askQuota, keptFiles, loadFile, removeFiles, saveFile } from '../../state/storage';
import { errorLine, notify } from './notices';
import { usePlates } from './plates';

/**
 * The files of this session by id, held as the browser's own copies: a file on disk may be rendered over, and what is kept
 * may be cleared, while it is open here. The browser lays large ones on disk by itself.
 */
const held = new Map<string, Blob>();
/** Every file that this session brought in or opened. */
const cameIn = new Set<string>();
/** Of these, those that lie on disk and are not copied. */
const referred = new Set<string>();
/** Files for which the browser had no room. */
const unkept = new Set<string>();

/** A file that comes in: its bytes are taken at once, so that whatever becomes of it on disk changes nothing here. */
export async function holdFile(id: string, file: Blob): Promise<Blob> {
  cameIn.add(id);
  return remember(id, new Blob([await file.arrayBuffer()]));
}

/** A file of a long sequence: its bytes stay where they are until they are kept. */
export function referToFile(id: string, file: Blob): Blob {
  cameIn.add(id);
  referred.add(id);
  return remember(id, file);
}

function remember(id: string, blob: Blob): Blob {
  held.set(id, blob);
  const { set, fileBytes } = usePlates.getState();
  set({ fileBytes: { ...fileBytes, [id]: blob.size } });
  return blob;
}

export interface HeldFile {
  id: string;
  name: string;
  blob: Blob;
}

/** Keeps files in the browser; for what there is no room it says so, and they stay in memory. Nothing is lost either way. */
export async function keepFiles(files: readonly HeldFile[], makeRoom: () => Promise<void>): Promise<void> {
  for (const { id, name, blob } of files) {
    if (await save(id, blob, makeRoom)) {
      // From here on the kept one counts, whatever becomes of the other on disk.
      if (referred.delete(id)) held.delete(id);
      continue;
    }
    unkept.add(id);
    notify(
      `${name} is open, but this browser has no room to keep it: save the shot to a file before you leave`,
      'warning',
    );
  }
  await refreshQuota();
}

async function save(id: string, blob: Blob, makeRoom: () => Promise<void>): Promise<boolean> {
  try {
    await saveFile(id, blob);
    return true;
  } catch {
    await makeRoom().catch(() => undefined);
  }
  try {
    await saveFile(id, blob);
    return true;
  } catch {
    return false;
  }
}

/** A file's bytes: from this session, or as they are kept. From then on they are held. */
export async function fileBlob(id: string): Promise<Blob | undefined> {
  const own = held.get(id);
  if (own) return own;
  const kept = await loadFile(id);
  return kept && holdFile(id, kept);
}

/** Forgets files that came in but were not taken. */
export async function discardFiles(ids: readonly string[]): Promise<void> {
  forget(ids);
  await removeFiles(ids).catch(() => undefined);
}

function forget(ids: Iterable<string>): void {
  const { set, fileBytes } = usePlates.getState();
  const left = { ...fileBytes };
  for (const id of ids) {
    held.delete(id);
    referred.delete(id);
    unkept.delete(id);
    delete left[id];
  }
  set({ fileBytes: left });
}

/** Removes what is kept but not in use. What came in during this session may be on its way to a step, and stays. */
export async function forgetUnused(inUse: ReadonlySet<string>): Promise<void> {
  const unused = [...(await keptFiles())].filter((id) => !inUse.has(id) && !cameIn.has(id));
  await removeFiles(unused);
  forget(unused);
  if (unused.length > 0) await refreshQuota();
}

/** Keeps files anew that were kept and are gone: the browser's store was cleared. Gives how many. */
export async function keepAgain(wanted: Iterable<{ id: string; name: string }>): Promise<number> {
  const kept = await keptFiles();
  let count = 0;
  for (const { id, name } of wanted) {
    const blob = held.get(id);
    if (!blob || kept.has(id) || unkept.has(id)) continue;
    try {
      await saveFile(id, blob);
      count++;
    } catch (error) {
      unkept.add(id);
      notify(
        `${name} cannot be kept in this browser any more: save the shot to a file (${errorLine(error)})`,
        'warning',
      );
    }
  }
  return count;
}

export async function refreshQuota(): Promise<void> {
  usePlates.getState().set({ quota: await askQuota() });
}
