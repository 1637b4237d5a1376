import { statSync } from 'node:fs';

/** How often files are looked at, and how long they must rest before they count as written. */
const [LOOK_MS, REST_MS] = [200, 600];

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** When a file was written and how long it is; undefined while it is not there. */
function stateOf(file: string): string | undefined {
  const stat = statSync(file, { throwIfNoEntry: false });
  return stat && `${stat.mtimeMs} ${stat.size}`;
}

/**
 * Works once, and again with the files that were written, until the signal: when none has changed for a while and all are
 * there. Files are looked at, since not every drive tells of changes. What is written while `work` is under way is
 * heard of after it.
 */
export async function watchFiles(
  files: readonly string[],
  work: (written: string[]) => Promise<void>,
  signal: AbortSignal,
): Promise<void> {
  let known = files.map(stateOf);
  await work([]);
  while (!signal.aborted) {
    let now = files.map(stateOf);
    if (isSame(now, known)) {
      await pause(LOOK_MS);
      continue;
    }
    for (let rested = 0; rested < REST_MS && !signal.aborted; rested += LOOK_MS) {
      await pause(LOOK_MS);
      const next = files.map(stateOf);
      if (!isSame(next, now)) rested = -LOOK_MS;
      now = next;
    }
    if (signal.aborted || now.includes(undefined)) continue;
    const written = files.filter((_, index) => now[index] !== known[index]);
    known = now;
    await work(written);
  }
}

const isSame = (a: readonly (string | undefined)[], b: readonly (string | undefined)[]): boolean =>
  a.every((state, index) => state === b[index]);
