import localforage from 'localforage';
import { parseWholeLook, type WholeLook } from '../core/look/whole-look';
import { parseShot, shotDocument, type Shot } from '../core/shot/shot';

/**
 * The shot as it is kept in the browser. Each picture file lies as it came in (packed, as its format packs it) under a key of
 * its own and is never written again: another picture has another id. A shot's document is one entry, so that it changes all
 * at once. Every tab that has a shot of its own has a seat, whose number is part of the document's key; files are shared.
 */
const store = localforage.createInstance({ name: 'bokelux', storeName: 'shot' });
const fileKey = (id: string): string => `plate ${id}`;
const FILE_KEY = /^plate (.*)$/;
const documentKey = (seat: number): string => (seat === 1 ? 'document' : `document ${seat}`);
const DOCUMENT_KEY = /^document(?: (\d+))?$/;
const EARLIER = 'earlier';
const UNREADABLE = 'unreadable';
/** Shots that are kept besides the present one. */
const MOST_EARLIER = 3;

/** A shot's document with the time at which it was kept, in milliseconds. */
interface KeptDocument {
  savedAt: number;
  document: unknown;
}

export interface KeptShot {
  savedAt: number;
  shot: Shot;
}

function isKept(value: unknown): value is KeptDocument {
  return typeof value === 'object' && value !== null && 'savedAt' in value && 'document' in value;
}

/** Documents that were kept before their time was stand by themselves. */
const asKept = (value: unknown): KeptDocument => (isKept(value) ? value : { savedAt: 0, document: value });

const keptNow = (shot: Shot): KeptDocument => ({ savedAt: Date.now(), document: shotDocument(shot) });

export async function saveDocument(shot: Shot, seat: number): Promise<void> {
  const kept = keptNow(shot);
  const begun = leavings;
  await store.setItem(documentKey(seat), kept);
  // What was kept at leaving is older now; a clock that is set back must not bring it back.
  if (begun === leavings) localStorage.removeItem(leavingKey(seat));
}

/** How often the document was kept at leaving. */
let leavings = 0;
const leavingKey = (seat: number): string => `bokelux ${documentKey(seat)}`;

/** Keeps the document at once, as the page goes: what is begun later than now may not be done. */
export function saveDocumentNow(shot: Shot, seat: number): void {
  const kept = keptNow(shot);
  leavings++;
  try {
    localStorage.setItem(leavingKey(seat), JSON.stringify(kept));
  } catch {
    // No room there: what the store has is at most one saving older.
  }
}

function documentAtLeaving(seat: number): KeptDocument | undefined {
  try {
    const text = localStorage.getItem(leavingKey(seat));
    const kept: unknown = text === null ? undefined : JSON.parse(text);
    return isKept(kept) ? kept : undefined;
  } catch {
    return undefined;
  }
}

/**
 * The kept shot, or undefined if there is none. What cannot be read is laid aside, so that nothing is written over it, and
 * told by an error.
 */
export async function loadDocument(seat: number): Promise<Shot | undefined> {
  const stored = await store.getItem<unknown>(documentKey(seat));
  const known = [...(stored === null ? [] : [asKept(stored)]), documentAtLeaving(seat)].filter(
    (one) => one !== undefined,
  );
  const [newest] = known.sort((a, b) => b.savedAt - a.savedAt);
  if (!newest) return undefined;
  try {
    return parseShot(newest.document, 'the shot kept in this browser');
  } catch (error) {
    await store.setItem(`${UNREADABLE} ${newest.savedAt}`, newest.document);
    throw error;
  }
}

export async function saveFile(id: string, blob: Blob): Promise<void> {
  await store.setItem(fileKey(id), blob);
}

export async function loadFile(id: string): Promise<Blob | undefined> {
  return (await store.getItem<Blob>(fileKey(id))) ?? undefined;
}

/** Ids of all files that are kept. */
export async function keptFiles(): Promise<Set<string>> {
  const names = (await store.keys()).map((key) => FILE_KEY.exec(key)?.[1]);
  return new Set(names.filter((name) => name !== undefined));
}

/** Whether a seat's document is still there: the browser or the person may have cleared it. */
export async function isDocumentKept(seat: number): Promise<boolean> {
  return (await store.keys()).includes(documentKey(seat));
}

export async function removeFiles(ids: Iterable<string>): Promise<void> {
  for (const id of ids) await store.removeItem(fileKey(id));
}

/** The shots that others took the place of, the latest first; those that cannot be read are left out. */
export async function earlierShots(): Promise<KeptShot[]> {
  const list = (await store.getItem<KeptDocument[]>(EARLIER)) ?? [];
  return list.flatMap(({ savedAt, document }) => {
    try {
      return [{ savedAt, shot: parseShot(document) }];
    } catch {
      return [];
    }
  });
}

/** Keeps a shot that another takes the place of; the last three are kept. */
export async function keepEarlier(shot: Shot, savedAt = Date.now()): Promise<void> {
  const document = shotDocument(shot);
  const list = (await store.getItem<KeptDocument[]>(EARLIER)) ?? [];
  const others = list.filter((one) => JSON.stringify(one.document) !== JSON.stringify(document));
  await store.setItem(EARLIER, [{ savedAt, document }, ...others].slice(0, MOST_EARLIER));
}

/** Documents of seats that nobody sits on any more become earlier shots. */
export async function collectSeats(taken: ReadonlySet<number>): Promise<void> {
  for (const key of await store.keys()) {
    const match = DOCUMENT_KEY.exec(key);
    const seat = match ? Number(match[1] ?? 1) : undefined;
    if (seat === undefined || taken.has(seat)) continue;
    const shot = await loadDocument(seat).catch(() => undefined);
    if (shot && shot.plates.length > 0) await keepEarlier(shot);
    await store.removeItem(key);
    localStorage.removeItem(`bokelux ${key}`);
  }
}

/** A look that is kept for all shots, each under its id. */
export interface KeptLook extends WholeLook {
  id: string;
  /** Milliseconds since 1970. */
  time: number;
  /** The picture that it was saved with; null without one. */
  thumbnail: Blob | null;
}

const looks = localforage.createInstance({ name: 'bokelux', storeName: 'looks' });

/** The looks that are kept, the latest first; those that cannot be read are left out, and stay. */
export async function loadLooks(): Promise<KeptLook[]> {
  const kept: KeptLook[] = [];
  for (const id of await looks.keys()) {
    const one = await looks.getItem<Omit<KeptLook, 'look'> & { look: unknown }>(id);
    try {
      if (one) kept.push({ ...one, look: parseWholeLook(one.look).look });
    } catch {
      continue;
    }
  }
  return kept.sort((a, b) => b.time - a.time);
}

export async function saveLook(look: KeptLook): Promise<void> {
  await looks.setItem(look.id, look);
}

export async function removeLook(id: string): Promise<void> {
  await looks.removeItem(id);
}

/** What the browser grants this application, and what of it is taken, in bytes; undefined where it does not tell. */
export interface Quota {
  used: number;
  granted: number;
}

export async function askQuota(): Promise<Quota | undefined> {
  const { usage, quota } = (await navigator.storage?.estimate?.()) ?? {};
  return usage === undefined || quota === undefined ? undefined : { used: usage, granted: quota };
}

/** Asks the browser not to clear what is kept here of its own accord. */
export async function askToKeep(): Promise<void> {
  await navigator.storage?.persist?.();
}
