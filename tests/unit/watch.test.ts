import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readExr } from '../../src/core/formats/exr/read';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, channelFloats, emptyPicture } from '../../src/core/image/picture';
import { BIN } from './command';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-watch-'));
const [plate, out] = [join(folder, 'plate.exr'), join(folder, 'out.exr')];
afterAll(() => rmSync(folder, { recursive: true }));

async function plateOf(value: number, passes: readonly string[] = ['']): Promise<Uint8Array> {
  const picture = emptyPicture(96, 64);
  for (const name of passes.flatMap((pass) => ['R', 'G', 'B'].map((channel) => `${pass}${channel}`)))
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: 96 * 64 }, (_, i) => value + (i % 7) / 1000),
    );
  return writeExr(picture);
}
const printed = async (): Promise<number> =>
  channelFloats((await readExr(new Uint8Array(readFileSync(out)))).channels.get('R')!)[0]!;

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Runs the command on the plate, and ends it when `work` is done. `hear` waits for what it says. */
async function watched(
  options: readonly string[],
  work: (hear: (words: RegExp) => Promise<void>, said: () => string) => Promise<void>,
): Promise<void> {
  const args = [BIN, 'render', plate, '--out', out, '--watch', '--workers', '1', ...options];
  const child = spawn(process.execPath, args);
  let said = '';
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
  const hear = async (words: RegExp): Promise<void> => {
    for (const until = Date.now() + 20_000; !words.test(said); await pause(50))
      if (Date.now() > until) throw new Error(`nothing like ${String(words)} was said, but: ${said}`);
  };
  try {
    await work(hear, () => said);
  } finally {
    child.kill('SIGINT');
  }
  expect(await once(child, 'exit')).toEqual([0, null]);
}

it('a watched plate is rendered again when it has been written whole, and never when half of it is there', async () => {
  writeFileSync(plate, await plateOf(0.1));
  await watched([], async (hear, said) => {
    await hear(/version 1, as the files are/);
    expect(await printed()).toBeCloseTo(0.1, 6);
    // Written slowly, in two parts.
    const next = await plateOf(0.2);
    writeFileSync(plate, next.subarray(0, next.length >> 1));
    await pause(300);
    writeFileSync(plate, next);
    await hear(/version 2, .*plate\.exr was written/);
    expect(await printed()).toBeCloseTo(0.2, 6);
    // Half a file that rests is told, and what was made before stays.
    writeFileSync(plate, next.subarray(0, next.length >> 1));
    await hear(/plate\.exr was written, but .*Version 2 stays/);
    expect(await printed()).toBeCloseTo(0.2, 6);
    writeFileSync(plate, await plateOf(0.3));
    await hear(/version 3/);
    expect(await printed()).toBeCloseTo(0.3, 6);
    expect(said()).not.toMatch(/version 4/);
    expect(readdirSync(folder).sort()).toEqual(['out.exr', 'plate.exr']);
  });
}, 60_000);

it('a watched plate keeps passes that are not written anew, and it is said which', async () => {
  writeFileSync(plate, await plateOf(0.1, ['', 'diffuse.']));
  await watched(['--set', 'plate.source=sum'], async (hear) => {
    await hear(/version 1, as the files are$/m);
    writeFileSync(plate, await plateOf(0.2));
    await hear(/version 2, .*plate\.exr was written; diffuse of version 1$/m);
    expect(await printed()).toBeCloseTo(0.1, 6);
    writeFileSync(plate, await plateOf(0.3, ['diffuse.']));
    await hear(/version 3, .*; beauty of version 2$/m);
    expect(await printed()).toBeCloseTo(0.3, 6);
    writeFileSync(plate, await plateOf(0.4, ['', 'diffuse.']));
    await hear(/version 4, .*plate\.exr was written$/m);
    expect(await printed()).toBeCloseTo(0.4, 6);
  });
}, 60_000);
