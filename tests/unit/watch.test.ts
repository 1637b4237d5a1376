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

async function plateOf(value: number): Promise<Uint8Array> {
  const picture = emptyPicture(96, 64);
  for (const name of ['R', 'G', 'B'])
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

it('a watched plate is rendered again when it has been written whole, and never when half of it is there', async () => {
  writeFileSync(plate, await plateOf(0.1));
  const child = spawn(process.execPath, [BIN, 'render', plate, '--out', out, '--watch', '--workers', '1']);
  let said = '';
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
  const hear = async (words: RegExp): Promise<void> => {
    for (const until = Date.now() + 20_000; !words.test(said); await pause(50))
      if (Date.now() > until) throw new Error(`nothing like ${String(words)} was said, but: ${said}`);
  };
  try {
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
    expect(said).not.toMatch(/version 4/);
    expect(readdirSync(folder).sort()).toEqual(['out.exr', 'plate.exr']);
  } finally {
    child.kill('SIGINT');
  }
  expect(await once(child, 'exit')).toEqual([0, null]);
}, 60_000);
