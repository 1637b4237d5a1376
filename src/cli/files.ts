import {
  fstatSync,
  lstatSync,
  openSync,
  readFileSync,
  readSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { hostname } from 'node:os';
import { FileError } from '../core/errors';
import { readPassFiles } from '../core/formats/pass-files';
import { mergePictures } from '../core/image/merge';
import type { Picture } from '../core/image/picture';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import type { Look } from '../core/look/look';
import type { RandomAccess } from '../core/shot/archive';
import { parseWholeLook } from '../core/look/whole-look';

/** Reads a file's bytes. Throws {@link FileError} with the system's reason in plain words. */
export function readBytes(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new FileError(reason(error, 'read'), { where: path });
  }
}

/** A file of which parts are read; it stays open as long as the program runs. */
export function openParts(path: string): RandomAccess {
  try {
    const file = openSync(path, 'r');
    const read = (offset: number, length: number): Promise<Uint8Array> => {
      const bytes = new Uint8Array(length);
      const count = readSync(file, bytes, 0, length, offset);
      return Promise.resolve(bytes.subarray(0, count));
    };
    return { size: fstatSync(file).size, read };
  } catch (error) {
    throw new FileError(reason(error, 'read'), { where: path });
  }
}

/** The machine's name as it may stand in a file's. */
const HOST = hostname().replace(/[^\w-]/g, '_');

/** What a file is called while it is written: several machines may share a folder. */
const asideOf = (path: string): string => `${path}.${HOST}.${process.pid}.part`;

/** The file that is being written aside under a name, and by which process of this machine; undefined if it is none of them. */
export function readAside(name: string): { of: string; pid: number } | undefined {
  const part = /^(.*)\.([\w-]+)\.(\d+)\.part$/.exec(name);
  return part && part[2] === HOST ? { of: part[1]!, pid: Number(part[3]) } : undefined;
}

/** Writes a file: aside, and then into its place, so that there is never half of one. */
export function writeBytes(path: string, bytes: Uint8Array | string): void {
  const isPlain = lstatSync(path, { throwIfNoEntry: false })?.isFile() ?? true;
  // Nothing can be moved into the place of a pipe or a device, and a link would be lost.
  const aside = isPlain ? asideOf(path) : path;
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
