import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { mapPaths, onThisMachine, parseRoot } from '../../src/cli/queue/paths';
import { connectionOf } from '../../src/cli/queue/connection';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { BIN, bokelux } from './command';
import { startRedis } from './redis';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-queue-'));
const at = (name: string): string => join(folder, name);
const FRAMES = 24;
const SIZE = 240;
const LOOK = ['--set', 'veil.bloom.amount=0.1', '--set', 'veil.halo.amount=0.02'];

let url = '';
let server: ChildProcess;
const workers: ChildProcess[] = [];

function startWorker(...args: string[]): { child: ChildProcess; said: () => string } {
  const child = spawn(
    process.execPath,
    [BIN, 'worker', '--queue', url, '--jobs', '1', '--lock', '3', ...args],
    {
      stdio: ['ignore', 'ignore', 'pipe'],
    },
  );
  workers.push(child);
  let text = '';
  child.stderr!.on('data', (more) => (text += String(more)));
  return { child, said: () => text };
}

async function until(isSo: () => boolean): Promise<void> {
  while (!isSo()) await new Promise((resolve) => setTimeout(resolve, 20));
}

beforeAll(async () => {
  ({ url, server } = await startRedis(folder));
  for (let frame = 1; frame <= FRAMES; frame++) {
    const picture = emptyPicture(SIZE, SIZE);
    const plane = new Float32Array(SIZE * SIZE).fill(0.05);
    plane[100 * SIZE + 40 + 5 * frame] = 3000;
    for (const channel of ['R', 'G', 'B']) addChannel(picture, channel, 'float', plane);
    writeFileSync(at(`lamp.${String(frame).padStart(4, '0')}.exr`), await writeExr(picture));
  }
  writeFileSync(
    at('t.json'),
    JSON.stringify({
      version: 1,
      tracks: {
        'film.exposure': [
          { frame: 1, value: 0 },
          { frame: 24, value: 1 },
        ],
      },
    }),
  );
});
afterAll(() => {
  workers.forEach((child) => child.kill('SIGKILL'));
  server.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

const reel = (out: string, ...args: string[]) =>
  bokelux(
    'reel',
    at('lamp.####.exr'),
    '--tracks',
    at('t.json'),
    ...LOOK,
    '--out',
    at(out),
    '--json',
    ...args,
  );
const statuses = (text: string): string[] =>
  (JSON.parse(text) as { frames: { status: string }[] }).frames.map(({ status }) => status);

describe('a queue of frames', () => {
  it('is printed by two workers of which one is killed in the midst of a frame, bit for bit as without it', async () => {
    const [first, second] = [startWorker(), startWorker()];
    await until(() => /waiting for frames/.test(first.said()) && /waiting for frames/.test(second.said()));
    const printing = reel('q.####.exr', '--queue', url, '--chunk', '4');
    // It has printed one and is at the next.
    await until(() => /printed in/.test(first.said()));
    first.child.kill('SIGKILL');
    const local = await reel('l.####.exr');
    const ended = await printing;
    expect([ended.code, local.code]).toEqual([0, 0]);
    expect(statuses(ended.out)).toEqual(Array.from({ length: FRAMES }, () => 'printed'));
    for (let frame = 1; frame <= FRAMES; frame++) {
      const name = `${String(frame).padStart(4, '0')}.exr`;
      expect(readFileSync(at(`q.${name}`)).equals(readFileSync(at(`l.${name}`)))).toBe(true);
    }
    expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
    const told = await bokelux('queue', url, '--json');
    const { prints, workers: count } = JSON.parse(told.out) as {
      prints: { frames: number; printed: number; failed: number }[];
      workers: number;
    };
    expect(prints).toEqual([expect.objectContaining({ frames: FRAMES, printed: FRAMES, failed: 0 })]);
    expect(count).toBe(1);
    second.child.kill('SIGTERM');
    await until(() => second.child.exitCode !== null);
    expect(second.child.exitCode).toBe(0);
  }, 180_000);

  it('tells what could not be printed, and why, after it was tried again', async () => {
    mkdirSync(at('shared'));
    writeFileSync(at('shared/lamp.0001.exr'), readFileSync(at('lamp.0001.exr')));
    writeFileSync(at('shared/lamp.0002.exr'), 'no picture');
    // The same folder has another name for the worker.
    const { said } = startWorker('--root', `/elsewhere/shared=${at('shared')}`);
    const ended = await bokelux(
      ...['reel', at('shared/lamp.####.exr'), '--out', at('shared/f.####.exr'), '--queue', url, '--json'],
    );
    expect(ended.code).toBe(3);
    expect(statuses(ended.out)).toEqual(['printed', 'failed']);
    expect(ended.err).toMatch(/frame 2: .*lamp\.0002\.exr/);
    expect(said().match(/frame 1 of/g)).toHaveLength(1);
    expect(said().match(/frame 2 of/g)!.length).toBeGreaterThan(1);
  }, 120_000);

  it('may be paused, goes on, and a print of it can be given up', async () => {
    expect((await bokelux('queue', url, '--pause')).out).toMatch(/paused/);
    const printing = reel('c.####.exr', '--queue', url);
    const report = async () =>
      JSON.parse((await bokelux('queue', url, '--json')).out) as {
        paused: boolean;
        prints: { print: string; name: string; waiting: number }[];
      };
    let waiting = await report();
    while (!waiting.prints.some(({ name, waiting: count }) => name.startsWith('c.') && count === FRAMES))
      waiting = await report();
    const { print } = waiting.prints.find(({ name }) => name.startsWith('c.'))!;
    await bokelux('queue', url, '--cancel', print);
    const ended = await printing;
    expect(ended.code).toBe(3);
    expect(new Set(statuses(ended.out))).toEqual(new Set(['failed']));
    expect(ended.err).toMatch(/taken out of the queue/);
    expect((await bokelux('queue', url, '--resume')).out).not.toMatch(/paused/);
    expect(readdirSync(folder).filter((name) => name.startsWith('c.'))).toEqual([]);
  }, 60_000);

  it('must be there, and be one', async () => {
    const none = await reel('n.####.exr', '--queue', 'redis://127.0.0.1:1');
    expect([none.code, none.err]).toEqual([
      2,
      expect.stringMatching(/no queue answers at redis:.*Start a Redis/),
    ]);
    const wrong = await bokelux('worker', '--queue', 'http://somewhere');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringMatching(/is no address of a queue/)]);
  });
});

describe('where a queue and its folders are', () => {
  it('is told by a URL', () => {
    expect(connectionOf('redis://:p%40ss@farm:7000/2')).toMatchObject({
      ...{ host: 'farm', port: 7000, db: 2, password: 'p@ss' },
    });
    expect(connectionOf('redis://farm')).toMatchObject({ port: 6379, db: 0 });
  });

  it('goes by the longest root, and by whole names', () => {
    const roots = ['/srv=/mnt', '/srv/shots/=/fast'].map(parseRoot);
    const here = (path: string): string => onThisMachine(path, roots);
    expect(['/srv/a.exr', '/srv/shots/b.exr', '/srvx/c.exr', '/srv'].map(here)).toEqual([
      ...['/mnt/a.exr', '/fast/b.exr', '/srvx/c.exr', '/mnt'],
    ]);
    expect(() => parseRoot('/srv')).toThrow(/maps no folder/);
    const OVER = { name: 'E', depth: undefined, settings: [] };
    const set = ['pupil.mask=/srv/shots/mask.png', 'pupil.mask=own.png', 'veil.bloom.amount=0.1'];
    const options = { element: [], set, frame: 1, out: '/srv/o.exr', scale: 1, type: 'plate' as const };
    const around = [{ offset: 1, files: ['/srv/b.exr'], element: [{ ...OVER, file: '/srv/e.exr' }] }];
    const mapped = mapPaths({ files: ['/srv/a.exr'], options, around }, (path) => onThisMachine(path, roots));
    expect(mapped.options.set).toEqual(['pupil.mask=/fast/mask.png', ...set.slice(1)]);
    expect([mapped.files[0], mapped.options.out]).toEqual(['/mnt/a.exr', '/mnt/o.exr']);
    expect(mapped.around).toMatchObject([{ files: ['/mnt/b.exr'], element: [{ file: '/mnt/e.exr' }] }]);
  });
});
