import { FileError, atFile } from '../errors';
import type { Picture } from '../image/picture';
import { readExr, type ReadOptions } from './exr/read';

/** Reads a picture file of any kind that is understood, by its first bytes. Errors name the file. */
export function openPicture(bytes: Uint8Array, name: string, options: ReadOptions = {}): Picture {
  try {
    if (bytes.length === 0) throw new FileError('the file is empty');
    return readExr(bytes, options);
  } catch (error) {
    throw atFile(error, name);
  }
}
