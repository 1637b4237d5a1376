import { create } from 'zustand';
import { READ_EXTENSIONS } from '../../core/formats/extensions';
import { groupFiles, type FileGroup } from '../../core/image/file-names';
import type { PlateEntry } from '../../core/shot/shot';
import { useShot } from '../../state/shot-store';
import { bringInBeside, takeNewer } from './bring-in';
import { fileBlob } from './files';
import { errorLine, notify } from './notices';
import { usePlates } from './plates';

/** How often the folder is looked at, at least; folders of many files take their time. */
const LOOK_MS = 700;
/** Files that have not changed between so many looks have been written. */
const RESTED_LOOKS = 2;
/** Folders below the chosen one that are looked into, and files in all. */
const [MOST_DEPTH, MOST_FILES] = [4, 5000];

/** The folder that is watched, if there is one. */
export const useWatchedFolder = create<{ name: string | null }>()(() => ({ name: null }));

declare global {
  interface Window {
    /** The File System Access draft of the Web Incubator Community Group; not in every browser. */
    showDirectoryPicker?: (options?: { id?: string; mode?: 'read' }) => Promise<FileSystemDirectoryHandle>;
  }
}

/** A picture file as it lay in the folder. */
interface Seen {
  path: string;
  file: File;
  /** When it was written and how long it is. */
  state: string;
  /** Looks since it changed. */
  rested: number;
}

let watching: AbortController | undefined;

export function stopWatching(): void {
  watching?.abort();
  watching = undefined;
  useWatchedFolder.setState({ name: null });
}

/**
 * Asks for a folder, brings in the renders that lie in it, and from then on takes every file that was written whole as a newer version
 * of its plate, or as a new plate.
 */
export async function watchFolder(): Promise<void> {
  if (!window.showDirectoryPicker) {
    notify(
      'this browser cannot watch folders. Bring renders in by hand, or let bokelux render --watch print them',
      'warning',
    );
    return;
  }
  let folder: FileSystemDirectoryHandle;
  try {
    folder = await window.showDirectoryPicker({ id: 'renders', mode: 'read' });
  } catch (error) {
    if ((error as Error).name === 'AbortError') return;
    throw error;
  }
  stopWatching();
  const own = new AbortController();
  watching = own;
  useWatchedFolder.setState({ name: folder.name });
  const watch = new FolderWatch(folder);
  while (!own.signal.aborted) {
    const started = performance.now();
    try {
      await watch.look(own.signal);
    } catch (error) {
      if (own.signal.aborted) return;
      stopWatching();
      notify(
        `${folder.name} can no longer be watched: ${(error as Error).message}. Choose it again`,
        'warning',
      );
      return;
    }
    const spent = performance.now() - started;
    await new Promise((resolve) => setTimeout(resolve, Math.max(LOOK_MS, 3 * spent)));
  }
}

/** What is known of a folder's files, from look to look. */
class FolderWatch {
  private seen = new Map<string, Seen>();
  /** States that were taken, or tried, by path. */
  private readonly taken = new Map<string, string>();
  /** Plates by the names of their groups. */
  private readonly plates = new Map<string, string>();

  constructor(private readonly folder: FileSystemDirectoryHandle) {}

  /** Looks once, and takes what has been written since. */
  async look(signal: AbortSignal): Promise<void> {
    this.seen = await this.list();
    const groups = groupFiles(
      [...this.seen.values()].map((one) => ({ ...one, name: one.file.name })),
      ({ path }) => path.split('/').slice(0, -1).join('/'),
    );
    for (const group of groups) {
      if (signal.aborted) return;
      await this.takeGroup(group);
    }
  }

  private async list(): Promise<Map<string, Seen>> {
    const found = new Map<string, Seen>();
    for await (const { path, handle } of filesIn(this.folder)) {
      const file = await handle.getFile().catch(() => undefined);
      // It may have gone since it was listed.
      if (!file || file.size === 0) continue;
      const state = `${file.lastModified} ${file.size}`;
      const before = this.seen.get(path);
      const rested = before?.state === state ? before.rested + 1 : 0;
      found.set(path, { path, file, state, rested });
    }
    return found;
  }

  private async takeGroup({ name, frames }: FileGroup<Seen & { name: string }>): Promise<void> {
    const members = frames.flatMap(({ files }) => files.map(({ file }) => file));
    const changed = members.filter(({ path, state }) => this.taken.get(path) !== state);
    // Passes that are written one after the other come as one version.
    if (changed.length === 0 || members.some(({ rested }) => rested < RESTED_LOOKS)) return;
    for (const { path, state } of changed) this.taken.set(path, state);
    const isChanged = new Set(changed);
    const incoming = frames
      .map(({ frame, files }) => ({ frame, files: files.filter(({ file }) => isChanged.has(file)) }))
      .filter(({ files }) => files.length > 0)
      .map(({ frame, files }) => ({ frame, files: files.map(({ file: { file } }) => ({ file })) }));
    const known = this.plates.get(name);
    const { plates } = useShot.getState();
    const plate = plates.find(({ id }) => id === known) ?? plates.find((one) => one.name === name);
    // Who took it off the shelf does not want it back.
    if (known && !plate) return;
    usePlates.getState().set({ opening: name });
    try {
      if (!plate) this.plates.set(name, await bringInBeside(name, incoming));
      else {
        this.plates.set(name, plate.id);
        if (!(await isAsHeld(plate, changed))) await takeNewer(plate, incoming, true);
      }
    } catch (error) {
      notify(`${errorLine(error)}. It is tried again when the file changes`, 'warning');
    } finally {
      usePlates.getState().set({ opening: null });
    }
  }
}

/** All pictures of a folder and of those in it, by their paths. */
async function* filesIn(
  folder: FileSystemDirectoryHandle,
  path = '',
  depth = 0,
  count = { files: 0 },
): AsyncGenerator<{ path: string; handle: FileSystemFileHandle }> {
  for await (const handle of folder.values()) {
    const own = `${path}${handle.name}`;
    if (handle.kind === 'directory') {
      if (depth < MOST_DEPTH && !handle.name.startsWith('.'))
        yield* filesIn(handle, `${own}/`, depth + 1, count);
    } else if (isPicture(handle.name) && count.files++ < MOST_FILES) yield { path: own, handle };
  }
}

const isPicture = (name: string): boolean =>
  READ_EXTENSIONS.some((end) => name.toLowerCase().endsWith(`.${end}`));

/** Whether a plate already holds just these files: the folder was watched before, or brought in by hand. */
async function isAsHeld(plate: PlateEntry, files: readonly Seen[]): Promise<boolean> {
  const own = plate.versions[plate.version]!.frames.flatMap((frame) => frame.files);
  for (const { file } of files) {
    const named = own.find(({ name }) => name === file.name);
    const held = named && (await fileBlob(named.id).catch(() => undefined));
    if (!held || held.size !== file.size || !(await isSameContent(held, file))) return false;
  }
  return true;
}

async function isSameContent(a: Blob, b: Blob): Promise<boolean> {
  const [x, y] = await Promise.all([a, b].map(async (blob) => new Uint8Array(await blob.arrayBuffer())));
  return x!.every((byte, index) => byte === y![index]);
}
