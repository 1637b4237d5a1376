import { create } from 'zustand';
import type { PlateEntry } from '../../core/shot/shot';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { takeNewer } from './bring-in';
import { errorLine, notify } from './notices';
import { changedOriginal, hasOriginals } from './originals';
import { usePlates } from './plates';

/** How often files are looked after while the page is seen. */
const LOOK_MS = 10_000;

/** Ids of files of plates that were written anew on disk since they were brought in, by their plates. */
export const useChangedFiles = create<Readonly<Record<string, readonly string[]>>>()(() => ({}));

const filesOfBench = ({ versions, version }: PlateEntry): string[] =>
  versions[version]!.frames.flatMap(({ files }) => files.map(({ id }) => id));

/** Looks which files were written anew. */
async function lookAfterFiles(): Promise<void> {
  const changed: Record<string, string[]> = {};
  for (const plate of useShot.getState().plates) {
    const ids: string[] = [];
    for (const id of filesOfBench(plate)) if ((await changedOriginal(id)) !== undefined) ids.push(id);
    if (ids.length > 0) changed[plate.id] = ids;
  }
  if (JSON.stringify(changed) !== JSON.stringify(useChangedFiles.getState()))
    useChangedFiles.setState(changed, true);
}

/** Looks after the files whenever the person comes back to the page, and now and then. */
export function lookAfterOriginals(): void {
  let isLooking = false;
  const look = async (): Promise<void> => {
    const { playing, dragging } = useDesk.getState();
    if (isLooking || playing || dragging || document.hidden || !hasOriginals()) return;
    isLooking = true;
    try {
      await lookAfterFiles();
    } finally {
      isLooking = false;
    }
  };
  window.addEventListener('focus', () => void look());
  document.addEventListener('visibilitychange', () => void look());
  setInterval(() => void look(), LOOK_MS);
}

/**
 * Takes what was written anew as a newer version of a plate: frames that were not stay. False if the browser may not read it by itself,
 * and the files have to be chosen again.
 */
export async function readAnew(plateId: string): Promise<boolean> {
  const plate = useShot.getState().plates.find(({ id }) => id === plateId);
  if (!plate) return true;
  const incoming: { frame: number | undefined; files: { file: File }[] }[] = [];
  for (const { frame, files } of plate.versions[plate.version]!.frames) {
    const anew: { file: File }[] = [];
    for (const { id } of files) {
      const now = await changedOriginal(id);
      if (now === null) return false;
      if (now) anew.push({ file: now });
    }
    if (anew.length > 0) incoming.push({ frame: frame ?? undefined, files: anew });
  }
  if (incoming.length === 0) return true;
  usePlates.getState().set({ opening: plate.name });
  try {
    await takeNewer(plate, incoming);
    await lookAfterFiles();
  } catch (error) {
    notify(`${errorLine(error)}. What was there stays`, 'error');
  } finally {
    usePlates.getState().set({ opening: null });
  }
  return true;
}
