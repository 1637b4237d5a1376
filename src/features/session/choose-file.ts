import { filesOf } from '../../core/shot/shot';
import { currentShot } from './kept';
import { usePlates } from './plates';

/** Larger shots go straight into a file of the person's choice, where the browser can do so; others are downloaded. */
const LARGE = 512 * 1024 ** 2;

type SaveWindow = Window & {
  showSaveFilePicker?: (options: { suggestedName: string }) => Promise<FileSystemFileHandle>;
};

/** A file that a large shot is to be saved into; undefined if it is to be downloaded, null if the person thought better of it. */
export async function chooseFileForLarge(name: string): Promise<FileSystemFileHandle | null | undefined> {
  const { fileBytes } = usePlates.getState();
  const size = filesOf(currentShot()).reduce((sum, { id }) => sum + (fileBytes[id] ?? 0), 0);
  const pick = (window as SaveWindow).showSaveFilePicker?.bind(window);
  if (size < LARGE || !pick) return undefined;
  try {
    return await pick({ suggestedName: name });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') return null;
    throw error;
  }
}
