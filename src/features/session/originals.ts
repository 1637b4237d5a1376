/** A file as it lay on disk when it was brought in. */
interface Original {
  file: File;
  /** Reads it anew; only of files that were dropped, in browsers that can. */
  handle: FileSystemFileHandle | undefined;
}

/** What files of the shot were read from, by their ids, while the page is open. */
const originals = new Map<string, Original>();

type WithHandle = File & { handle?: FileSystemFileHandle };

export function rememberOriginal(id: string, file: File, handle = (file as WithHandle).handle): void {
  originals.set(id, { file, handle });
}

export const hasOriginals = (): boolean => originals.size > 0;

/**
 * What a file is on disk by now: undefined if it is as it was, or gone; null if it is another, which only the person can hand over.
 */
export async function changedOriginal(id: string): Promise<WithHandle | null | undefined> {
  const original = originals.get(id);
  if (!original) return undefined;
  const { file, handle } = original;
  try {
    if (!handle) {
      await file.slice(0, 1).arrayBuffer();
      return undefined;
    }
    const now = await handle.getFile();
    if (now.size === 0 || (now.lastModified === file.lastModified && now.size === file.size))
      return undefined;
    return Object.assign(now, { handle });
  } catch (error) {
    // So browsers refuse to read a file that was written since it was chosen.
    return !handle && (error as Error).name === 'NotReadableError' ? null : undefined;
  }
}
