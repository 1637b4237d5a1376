import { readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { makePlate, type Plate } from '../core/bench/plate';
import { FileError } from '../core/errors';
import { openPicture } from '../core/formats/open';
import { assignSetting, defaultLook, parseLook, type Look } from '../core/look/look';

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

export function openPlate(path: string): Plate {
  return makePlate('plate', basename(path), openPicture(readBytes(path), path));
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
