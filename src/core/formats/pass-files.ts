import type { PassFile } from '../image/merge';
import { readFileName } from '../image/file-names';
import { isData } from '../image/roles';
import type { TaskRunner } from '../kernels/runtime/parallel';
import { openPicture } from './open';

export interface UnreadFile {
  name: string;
  /** The older render that it belongs to, for people. */
  older?: string | undefined;
  read: () => Promise<Uint8Array> | Uint8Array;
}

/**
 * Reads the files of one plate, one at a time, on the threads of `runner`, if there is one. What a name says is data is not taken from a display's curve; nor is a
 * grey file that no name explains beside others, which is more likely a depth or a matte than light.
 */
export async function readPassFiles(files: readonly UnreadFile[], runner?: TaskRunner): Promise<PassFile[]> {
  const out: PassFile[] = [];
  for (const { name, older, read } of files) {
    const about = readFileName(name);
    const bytes = await read();
    const { role } = about;
    let picture = await openPicture(bytes, name, { runner, data: role !== undefined && isData(role) });
    if (role === undefined && files.length > 1 && picture.channels.size === 1 && picture.range === 'display')
      picture = await openPicture(bytes, name, { runner, data: true });
    out.push({ name, older, about, picture });
  }
  return out;
}
