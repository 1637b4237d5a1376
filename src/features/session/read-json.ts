import { FileError } from '../../core/errors';

/** What a file of JSON holds; `todo` says what to choose instead. Throws {@link FileError} if it is none. */
export async function readJsonFile(file: File, todo: string): Promise<unknown> {
  try {
    return JSON.parse(await file.text());
  } catch {
    throw new FileError('this is not JSON', { where: file.name, todo });
  }
}
