import { BokeluxError } from '../../src/core/errors';
import { openPicture } from '../../src/core/formats/open';
import { bytesSource, openArchive } from '../../src/core/shot/archive';
import { filesOf } from '../../src/core/shot/shot';
import { corpus } from './corpus';
import { damagedFile } from './mutate';

/** Reads damaged files one after the other and tells its parent of each. A death or a hang ends this process alone. */
const [fixtures, seed, first, count] = process.argv.slice(2) as [string, string, string, string];
console.warn = () => undefined;

export interface ChildReport {
  /** About to read, or done with, file `index`. */
  index: number;
  name: string;
  state: 'reading' | 'read' | 'refused' | 'untyped';
  error?: string;
  /** Peak resident memory of this process, bytes. */
  peak: number;
}

const report = (about: ChildReport): void => void process.send!(about);

/** Opens a shot and reads all that it holds. */
async function readShot(bytes: Uint8Array, name: string): Promise<void> {
  const { shot, read } = await openArchive(bytesSource(bytes), name);
  for (const { id } of filesOf(shot)) await read(id);
}

const files = await corpus(fixtures);
for (let index = Number(first); index < Number(first) + Number(count); index++) {
  const { name, bytes } = damagedFile(files, Number(seed), index);
  const peak = (): number => process.resourceUsage().maxRSS * 1024;
  report({ index, name, state: 'reading', peak: peak() });
  try {
    if (name.endsWith('.bokelux')) await readShot(bytes, name);
    else await openPicture(bytes, name);
    report({ index, name, state: 'read', peak: peak() });
  } catch (error) {
    const typed = error instanceof BokeluxError;
    const text = (error as Error).stack ?? String(error);
    report({ index, name, state: typed ? 'refused' : 'untyped', error: text, peak: peak() });
  }
}
process.exit(0);
