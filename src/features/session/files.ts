import { askQuota, loadFile, removeFile, saveFile } from '../../state/autosave';
import { errorLine, notify } from './notices';
import { usePlates, without } from './plates';

/** Files for which the browser had no room: kept in memory, so that the shot can still be saved to a file. */
const unkept = new Map<string, Blob>();

/** Keeps a file in the browser; if there is no room, in memory, and says so. Nothing is lost either way. */
export async function keepFile(id: string, name: string, blob: Blob): Promise<void> {
  const { set, fileBytes } = usePlates.getState();
  set({ fileBytes: { ...fileBytes, [id]: blob.size } });
  unkept.set(id, blob);
  try {
    await saveFile(id, blob);
    unkept.delete(id);
  } catch (error) {
    notify(
      `${name} is open, but this browser has no room to keep it: save the shot to a file before you leave (${errorLine(error)})`,
      'warning',
    );
  }
  await refreshQuota();
}

export async function fileBlob(id: string): Promise<Blob | undefined> {
  const blob = unkept.get(id) ?? (await loadFile(id));
  const { set, fileBytes } = usePlates.getState();
  if (blob && fileBytes[id] === undefined) set({ fileBytes: { ...fileBytes, [id]: blob.size } });
  return blob;
}

export async function forgetFile(id: string): Promise<void> {
  unkept.delete(id);
  const { set, fileBytes } = usePlates.getState();
  set({ fileBytes: without(fileBytes, id) });
  await removeFile(id);
  await refreshQuota();
}

export async function refreshQuota(): Promise<void> {
  usePlates.getState().set({ quota: await askQuota() });
}
