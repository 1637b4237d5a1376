import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

type Compare = (name: string, own: () => unknown, reference: string, other: () => unknown) => Promise<void>;

const FRAMES = 8;
const PLATE = 'public/demo/quay.exr';

/** A reel of the quay, 1280 x 720, with a bloom that grows: two frames at a time against one, and keyed against unkeyed. */
export async function compareReel(compare: Compare): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bokelux-reel-'));
  for (let frame = 1; frame <= FRAMES; frame++) copyFileSync(PLATE, join(folder, `quay.${frame}.exr`));
  const key = (value: number): object => ({ frame: 1, value });
  const still = { version: 1, tracks: { 'veil.bloom.amount': [key(0.02)] } };
  const grown = { version: 1, tracks: { 'veil.bloom.amount': [key(0.01), { frame: FRAMES, value: 0.04 }] } };
  writeFileSync(join(folder, 'still.json'), JSON.stringify(still));
  writeFileSync(join(folder, 'grown.json'), JSON.stringify(grown));
  const reel =
    (jobs: number, ...more: string[]) =>
    (): unknown =>
      execFileSync(process.execPath, [
        ...['bin/bokelux.mjs', 'reel', join(folder, 'quay.#.exr'), '--jobs', String(jobs)],
        ...[
          '--out',
          join(folder, 'out.#.exr'),
          '--set',
          'pupil.blades=7',
          '--set',
          'veil.spikes.amount=0.02',
        ],
        ...more,
      ]);
  const grownTracks = ['--tracks', join(folder, 'grown.json')];
  await compare(
    `reel, ${FRAMES} frames, two at a time`,
    reel(2, ...grownTracks),
    'one at a time',
    reel(1, ...grownTracks),
  );
  await compare(
    `reel, ${FRAMES} frames, a key that stays`,
    reel(2, '--tracks', join(folder, 'still.json')),
    'the same without keys',
    reel(2, '--set', 'veil.bloom.amount=0.02'),
  );
  rmSync(folder, { recursive: true });
}
