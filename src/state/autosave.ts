import localforage from 'localforage';
import { parseShot, shotDocument, type Shot } from '../core/shot/shot';

/**
 * The shot as it is kept in the browser: its document under one key, each plate's file as it came in under a key of
 * its own.
 */
const store = localforage.createInstance({ name: 'bokelux', storeName: 'shot' });
const DOCUMENT = 'document';
const plateKey = (id: string): string => `plate ${id}`;

export async function saveDocument(shot: Shot): Promise<void> {
  await store.setItem(DOCUMENT, shotDocument(shot));
}

export async function savePlate(id: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
  await store.setItem(plateKey(id), new Blob([bytes]));
}

export async function loadPlate(id: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
  const blob = await store.getItem<Blob>(plateKey(id));
  return blob ? new Uint8Array(await blob.arrayBuffer()) : undefined;
}

export async function removePlate(id: string): Promise<void> {
  await store.removeItem(plateKey(id));
}

/** The kept shot, or undefined if there is none. Throws if what is kept cannot be read. */
export async function loadDocument(): Promise<Shot | undefined> {
  const document = await store.getItem<unknown>(DOCUMENT);
  return document === null ? undefined : parseShot(document, 'the shot kept in this browser');
}

/** Forgets plates that the shot does not name any more. */
export async function prunePlates(shot: Shot): Promise<void> {
  const wanted = new Set(shot.plates.map((plate) => plateKey(plate.id)));
  for (const key of await store.keys()) {
    if (key !== DOCUMENT && !wanted.has(key)) await store.removeItem(key);
  }
}
