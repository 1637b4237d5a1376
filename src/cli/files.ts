import { readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { makePlate, type Plate } from '../core/light/plate';
import { FileError } from '../core/errors';
import { readPassFiles } from '../core/formats/pass-files';
import { greyImage, type GreyImage } from '../core/image/grey-image';
import { mergePictures } from '../core/image/merge';
import type { Picture } from '../core/image/picture';
import { assignSetting, defaultLook, getSetting, parseLook, SETTINGS, type Look } from '../core/look/look';
import { NO_IMAGE } from '../core/settings/setting';

/** Reads a file's bytes. Throws {@link FileError} with the system's reason in plain words. */
export function readBytes(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new FileError(reason(error, 'read'), { where: path });
  }
}

export function writeBytes(path: string, bytes: Uint8Array | string): void {
  try {
    writeFileSync(path, bytes);
  } catch (error) {
    throw new FileError(reason(error, 'written'), { where: path });
  }
}

function reason(error: unknown, verb: string): string {
  const { code } = error as NodeJS.ErrnoException;
  if (code === 'ENOENT') return verb === 'read' ? 'there is no such file' : 'its folder does not exist';
  if (code === 'EISDIR') return 'this is a folder';
  if (code === 'EACCES' || code === 'EPERM') return `it may not be ${verb}`;
  if (code === 'ENOSPC') return 'the disk is full';
  return `it cannot be ${verb} (${code ?? String(error)})`;
}

/** Reads one file or several passes as one picture. */
export async function readPicture(paths: readonly string[]): Promise<Picture> {
  const files = paths.map((path) => ({ name: path, read: () => readBytes(path) }));
  return mergePictures(await readPassFiles(files));
}

/** Reads one file or several passes as one plate. */
export async function openPlate(paths: readonly string[], id = 'plate'): Promise<Plate> {
  return makePlate(id, basename(paths[0]!), await readPicture(paths));
}

/** The plate that a look lays under the picture, if it names a file: `plate:FILE`. */
export async function openBackdrop(look: Look): Promise<((id: string) => Plate | undefined) | undefined> {
  const { background } = look.plate;
  if (!background.startsWith('plate:')) return undefined;
  const path = background.slice('plate:'.length);
  const plate = await openPlate([path], `backdrop ${path}`);
  return (id) => (id === path ? plate : undefined);
}

/** The images that a look names: files on their own here. */
export async function openImages(look: Look): Promise<(name: string) => GreyImage | undefined> {
  const names = SETTINGS.filter(({ kind }) => kind === 'image')
    .map(({ path }) => getSetting(look, path) as string)
    .filter((name) => name !== NO_IMAGE);
  const images = new Map<string, GreyImage>();
  for (const name of names) images.set(name, greyImage(name, name, await readPicture([name])));
  return (name) => images.get(name);
}

/** The look of a file (or the default one) with assignments from the command line applied in order. */
export function openLook(path: string | undefined, assignments: readonly string[]): Look {
  const start = path === undefined ? defaultLook() : parseLook(parseJson(path), path);
  return assignments.reduce(assignSetting, start);
}

function parseJson(path: string): unknown {
  const text = new TextDecoder().decode(readBytes(path));
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new FileError(`this is not JSON: ${(error as Error).message}`, { where: path });
  }
}
