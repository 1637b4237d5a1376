import { lstatSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { FileError } from '../core/errors';
import { readPassFiles } from '../core/formats/pass-files';
import { mergePictures } from '../core/image/merge';
import type { Picture } from '../core/image/picture';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import type { Look } from '../core/look/look';
import { parseWholeLook } from '../core/look/whole-look';

/** Reads a file's bytes. Throws {@link FileError} with the system's reason in plain words. */
export function readBytes(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new FileError(reason(error, 'read'), { where: path });
  }
}

/** Writes a file: aside, and then into its place, so that there is never half of one. */
export function writeBytes(path: string, bytes: Uint8Array | string): void {
  const isPlain = lstatSync(path, { throwIfNoEntry: false })?.isFile() ?? true;
  // Nothing can be moved into the place of a pipe or a device, and a link would be lost.
  const aside = isPlain ? `${path}.${process.pid}.part` : path;
  try {
    writeFileSync(aside, bytes);
    if (isPlain) renameSync(aside, path);
  } catch (error) {
    if (isPlain) rmSync(aside, { force: true });
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

/** Reads one file or several passes as one picture, on the threads of `runner`, if there is one. */
export async function readPicture(paths: readonly string[], runner?: TaskRunner): Promise<Picture> {
  const files = paths.map((path) => ({ name: path, read: () => readBytes(path) }));
  return mergePictures(await readPassFiles(files, runner));
}

/** Reads a look file. */
export function readLook(path: string): Look {
  return parseWholeLook(readJson(path), path).look;
}

/** Reads a file of JSON. */
export function readJson(path: string): unknown {
  const text = new TextDecoder().decode(readBytes(path));
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new FileError(`this is not JSON: ${(error as Error).message}`, { where: path });
  }
}
