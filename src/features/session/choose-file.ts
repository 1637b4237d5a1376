import { filesOf } from '../../core/shot/shot';
import { currentShot } from './kept';
import { usePlates } from './plates';

/** Larger shots go straight into a file of the person's choice, where the browser can do so; others are downloaded. */
const LARGE = 512 * 1024 ** 2;

type SaveWindow = Window & {
  showSaveFilePicker?: (options: { suggestedName: string }) => Promise<FileSystemFileHandle>;
};

/** What a person chose; null if they thought better of it. */
export async function unlessGivenUp<T>(choice: Promise<T>): Promise<T | null> {
  try {
    return await choice;
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') return null;
    throw error;
  }
}

/** A file to write into; undefined where the browser can only download, null if the person thought better of it. */
export async function chooseFile(name: string): Promise<FileSystemFileHandle | null | undefined> {
  const choice = (window as SaveWindow).showSaveFilePicker?.({ suggestedName: name });
  return choice && unlessGivenUp(choice);
}

/** The same for the shot, if it is large; a small one is downloaded. */
export async function chooseFileForLarge(name: string): Promise<FileSystemFileHandle | null | undefined> {
  const { fileBytes } = usePlates.getState();
  const size = filesOf(currentShot()).reduce((sum, { id }) => sum + (fileBytes[id] ?? 0), 0);
  return size < LARGE ? undefined : chooseFile(name);
}
