import localforage from 'localforage';
import { filesOf, parseShot, shotDocument, type Shot } from '../core/shot/shot';

/**
 * The shot as it is kept in the browser: its document under one key, each picture file as it came in (packed, as the
 * format packs it) under a key of its own.
 */
const store = localforage.createInstance({ name: 'bokelux', storeName: 'shot' });
const DOCUMENT = 'document';
const fileKey = (id: string): string => `plate ${id}`;

export async function saveDocument(shot: Shot): Promise<void> {
  await store.setItem(DOCUMENT, shotDocument(shot));
}

export async function saveFile(id: string, blob: Blob): Promise<void> {
  await store.setItem(fileKey(id), blob);
}

export async function loadFile(id: string): Promise<Blob | undefined> {
  return (await store.getItem<Blob>(fileKey(id))) ?? undefined;
}

export async function removeFile(id: string): Promise<void> {
  await store.removeItem(fileKey(id));
}

/** The kept shot, or undefined if there is none. Throws if what is kept cannot be read. */
export async function loadDocument(): Promise<Shot | undefined> {
  const document = await store.getItem<unknown>(DOCUMENT);
  return document === null ? undefined : parseShot(document, 'the shot kept in this browser');
}

/** Forgets files that the shot does not name any more. */
export async function pruneFiles(shot: Shot): Promise<void> {
  const wanted = new Set(filesOf(shot).map((file) => fileKey(file.id)));
  for (const key of await store.keys()) {
    if (key !== DOCUMENT && !wanted.has(key)) await store.removeItem(key);
  }
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
