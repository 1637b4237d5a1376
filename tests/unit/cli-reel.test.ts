import { packShot } from '../../src/core/shot/archive';
import { spawn } from 'node:child_process';
import {
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeExr } from '../../src/core/formats/exr/write';
import { readExr } from '../../src/core/formats/exr/read';
import { addChannel, channelFloats, emptyPicture } from '../../src/core/image/picture';
import { defaultLook } from '../../src/core/look/look';
import { EMPTY_SHOT, NEW_PLATE } from '../../src/core/shot/shot';
import { BIN, bokelux } from './command';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-reel-'));
/** The name of this machine as it stands in files that are being written. */
const HOST = hostname().replace(/[^\w-]/g, '_');
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

/** A lamp that goes a pixel to the right from frame to frame. */
async function frameFile(frame: number, size = 48): Promise<Uint8Array<ArrayBuffer>> {
  const picture = emptyPicture(size, size);
  const plane = new Float32Array(size * size).fill(0.05);
  plane[12 * size + 10 + (frame % 30)] = 300;
  for (const channel of ['R', 'G', 'B']) addChannel(picture, channel, 'float', plane);
  return writeExr(picture);
}

interface Report {
  frames: { frame: number; out: string; status: string; why?: string }[];
}
const statuses = ({ out }: { out: string }): string[] =>
  (JSON.parse(out) as Report).frames.map(({ frame, status }) => `${frame} ${status}`);
const printed = (prefix: string): string[] =>
  readdirSync(folder)
    .filter((name) => name.startsWith(prefix))
    .sort();

const tracks = {
  version: 1,
  tracks: {
    'veil.bloom.amount': [
      { frame: 1, value: 0 },
      { frame: 5, value: 0.2 },
    ],
    'film.exposure': { life: { kind: 'blink', low: 0, high: 1, on: 1, off: 2 } },
  },
};

beforeAll(async () => {
  for (const frame of [1, 2, 3, 5]) writeFileSync(at(`lamp.000${frame}.exr`), await frameFile(frame));
  writeFileSync(at('t.json'), JSON.stringify(tracks));
});

describe('bokelux reel', () => {
  const reel = (out: string, ...more: string[]) =>
    bokelux('reel', at('lamp.####.exr'), '--tracks', at('t.json'), '--out', at(out), '--json', ...more);

  it('prints all frames that there are, each under its own look, as render would', async () => {
    const ended = await reel('a.###.exr', '--jobs', '2');
    expect([ended.code, ended.err]).toEqual([0, '']);
    expect(statuses(ended)).toEqual(['1 printed', '2 printed', '3 printed', '5 printed']);
    expect(printed('a.')).toEqual(['a.001.exr', 'a.002.exr', 'a.003.exr', 'a.005.exr']);
    const set = ['--set', 'veil.bloom.amount=0.1', '--set', 'film.exposure=1', '--frame', '3'];
    await bokelux('render', at('lamp.0003.exr'), ...set, '--out', at('one.exr'));
    expect(readFileSync(at('a.003.exr')).equals(readFileSync(at('one.exr')))).toBe(true);
    expect(readFileSync(at('a.001.exr')).equals(readFileSync(at('a.005.exr')))).toBe(false);
  });

  it('prints the same bytes with any number of frames at a time', async () => {
    await reel('b.###.exr', '--jobs', '1');
    for (const name of printed('b.'))
      expect(readFileSync(at(name)).equals(readFileSync(at(name.replace('b.', 'a.'))))).toBe(true);
  });

  it('tells, holds or skips frames of which files are missing', async () => {
    const failed = await reel('c.###.exr', '--frames', '3-5');
    expect(failed.code).toBe(3);
    expect(statuses(failed)).toEqual(['3 printed', '4 failed', '5 printed']);
    expect(failed.err).toMatch(/frame 4: a file of this frame is missing/);
    const skipped = await reel('d.###.exr', '--frames', '3-5', '--gaps', 'skip');
    expect([skipped.code, statuses(skipped)]).toEqual([0, ['3 printed', '5 printed']]);
    const held = await reel('e.###.exr', '--frames', '4', '--gaps', 'hold');
    expect([held.code, statuses(held)]).toEqual([0, ['4 printed']]);
    // The lamp of frame 3 under the look of frame 4.
    const set = ['--set', 'veil.bloom.amount=0.15', '--set', 'film.exposure=0', '--frame', '4'];
    await bokelux('render', at('lamp.0003.exr'), ...set, '--out', at('four.exr'));
    expect(readFileSync(at('e.004.exr')).equals(readFileSync(at('four.exr')))).toBe(true);
  });

  it('goes on where it stopped: what is whole stays, what is not is printed again', async () => {
    const before = statSync(at('a.001.exr')).mtimeMs;
    truncateSync(at('a.002.exr'), 200);
    rmSync(at('a.003.exr'));
    // What a process that is gone was writing.
    writeFileSync(at(`a.003.exr.${HOST}.999999.part`), 'half');
    const ended = await reel('a.###.exr', '--resume');
    expect(statuses(ended)).toEqual(['1 skipped', '2 printed', '3 printed', '5 skipped']);
    expect(statSync(at('a.001.exr')).mtimeMs).toBe(before);
    for (const name of printed('b.'))
      expect(readFileSync(at(name)).equals(readFileSync(at(name.replace('b.', 'a.'))))).toBe(true);
    expect(existsSync(at(`a.003.exr.${HOST}.999999.part`))).toBe(false);
  });

  it('prints the frames that it can, and tells why of the others', async () => {
    for (const frame of [1, 2, 3]) writeFileSync(at(`torn.${frame}.exr`), await frameFile(frame));
    truncateSync(at('torn.2.exr'), 300);
    const ended = await bokelux('reel', at('torn.#.exr'), '--out', at('f.#.exr'), '--json');
    expect(ended.code).toBe(3);
    expect(statuses(ended)).toEqual(['1 printed', '2 failed', '3 printed']);
    expect(ended.err).toMatch(/frame 2: .*torn\.2\.exr/);
    expect(ended.err).toMatch(/frame 2 could not be printed/);
  });

  it('takes a still as one long frame, over the frames that are keyed', async () => {
    const still = await bokelux(
      'reel',
      at('lamp.0001.exr'),
      '--tracks',
      at('t.json'),
      '--out',
      at('g.#.exr'),
    );
    expect([still.code, printed('g.').length]).toEqual([0, 5]);
    expect(still.out).toMatch(/^5 printed, 0 were there, 0 failed, in [\d.]+ s/);
  });

  it('takes a shot with the frames of its plate', async () => {
    const files = new Map([1, 2].map((frame) => [`f${frame}`, frame]));
    const frames = [...files].map(([id, frame]) => ({
      frame,
      files: [{ id, name: `lamp.000${frame}.exr` }],
    }));
    const bytes = new Map<string, Uint8Array<ArrayBuffer>>();
    for (const [id, frame] of files) bytes.set(id, await frameFile(frame));
    const plate = { ...NEW_PLATE, id: 'p', name: 'lamp', versions: [{ id: 'v', frames }] };
    const shot = { ...EMPTY_SHOT, name: 'Lamp', plates: [plate], activePlate: 'p', look: defaultLook() };
    writeFileSync(at('lamp.bokelux'), await packShot({ shot, files: bytes }));
    const ended = await bokelux('reel', at('lamp.bokelux'), '--out', at('h.####.exr'), '--json');
    expect([ended.code, statuses(ended)]).toEqual([0, ['1 printed', '2 printed']]);
    await bokelux('render', at('lamp.0002.exr'), '--frame', '2', '--out', at('two.exr'));
    expect(readFileSync(at('h.0002.exr')).equals(readFileSync(at('two.exr')))).toBe(true);
    expect(readFileSync(at('h.0001.exr')).equals(readFileSync(at('two.exr')))).toBe(false);
  });

  it('ends cleanly when it is told to, and goes on afterwards', async () => {
    writeFileSync(at('big.exr'), await frameFile(1, 700));
    const args = [
      'reel',
      at('big.exr'),
      '--frames',
      '1-12',
      '--set',
      'veil.bloom.amount=0.1',
      '--out',
      at('i.##.exr'),
    ];
    const child = spawn(process.execPath, [BIN, ...args, '--jobs', '2'], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let err = '';
    child.stderr.on('data', (text) => (err += String(text)));
    const code = await new Promise((resolve) => {
      const watch = setInterval(() => {
        if (printed('i.').filter((name) => name.endsWith('.exr')).length === 0) return;
        clearInterval(watch);
        child.kill('SIGINT');
      }, 20);
      child.on('exit', resolve);
    });
    expect(code).toBe(3);
    expect(err).toMatch(/ended before all frames were printed/);
    const whole = printed('i.');
    expect(whole.length).toBeLessThan(12);
    expect(whole.every((name) => name.endsWith('.exr'))).toBe(true);
    const ended = await bokelux(...args, '--resume', '--json');
    const told = statuses(ended);
    expect([ended.code, told.length]).toEqual([0, 12]);
    expect(told.filter((line) => line.endsWith('skipped'))).toHaveLength(whole.length);
  }, 120_000);

  it.each([
    [['lamp.####.exr', '--out', 'final.exr'], /written over each other/],
    [['none.####.exr', '--out', 'x.#.exr'], /there is no frame of this name/],
    [['lamp.0001.exr', '--out', 'x.#.exr'], /a still has no frames of its own/],
    [['lamp.####.exr', '--out', 'x.#.exr', '--frames', '5-1'], /no range of frames/],
    [['lamp.####.exr', '--out', 'x.#.doc'], /ends in none of/],
    [['lamp.####.exr', '--out', 'x.#.exr', '--tracks', 'lamp.0001.exr'], /not JSON/],
  ])('says what is wrong before it begins: %j', async (args, why) => {
    const { code, err } = await bokelux(
      'reel',
      ...args.map((arg) => (/\.(exr|doc)$/.test(arg) ? at(arg) : arg)),
    );
    expect(code).toBeGreaterThan(1);
    expect(err).toMatch(why);
    expect(printed('x.')).toEqual([]);
  });
});

describe('a lamp that is found, and hidden for a frame', () => {
  const FRAMES = 9;
  const HIDDEN = 5;
  const SIZE = 64;
  const find = ['ghosts.on=true', 'ghosts.find.on=true', 'ghosts.amount=20', 'ghosts.count=2'];
  const set = find.flatMap((setting) => ['--set', setting]);

  beforeAll(async () => {
    for (let frame = 1; frame <= FRAMES; frame++) {
      const picture = emptyPicture(SIZE, SIZE);
      const plane = new Float32Array(SIZE * SIZE).fill(0.05);
      const lamp = 20 * SIZE + 12 + frame;
      if (frame !== HIDDEN) for (const i of [0, 1, SIZE, SIZE + 1]) plane[lamp + i] = 400;
      for (const channel of ['R', 'G', 'B']) addChannel(picture, channel, 'float', plane);
      writeFileSync(at(`hid.${frame}.exr`), await writeExr(picture));
    }
  });
  const reel = (out: string, ...more: string[]) =>
    bokelux('reel', at('hid.#.exr'), ...set, '--out', at(out), ...more);

  /** Light of a frame but for the lamp's row, which ghosts add to. */
  async function lightOf(name: string): Promise<number> {
    const { channels } = await readExr(readFileSync(at(name)));
    const plane = channelFloats(channels.get('G')!);
    return plane.reduce((sum, value, i) => sum + (Math.abs(Math.floor(i / SIZE) - 20.5) < 2 ? 0 : value), 0);
  }

  it('keeps its ghosts, and every frame is the same whichever others are printed', async () => {
    expect((await reel('all.#.exr', '--jobs', '2')).code).toBe(0);
    expect((await reel('some.#.exr', '--frames', '4-6', '--jobs', '1')).code).toBe(0);
    for (const frame of [4, 5, 6])
      expect(readFileSync(at(`some.${frame}.exr`)).equals(readFileSync(at(`all.${frame}.exr`)))).toBe(true);
    expect((await reel('pop.#.exr', '--set', 'ghosts.steady=0')).code).toBe(0);
    const bare = SIZE * SIZE * 0.05 * ((SIZE - 4) / SIZE);
    const added = async (prefix: string, frame: number): Promise<number> =>
      (await lightOf(`${prefix}.${frame}.exr`)) - bare;
    expect(Math.abs(await added('pop', HIDDEN))).toBeLessThan(0.2);
    // Four of the five frames about it have the lamp.
    expect((await added('all', HIDDEN)) / (await added('pop', HIDDEN + 1))).toBeCloseTo(0.8, 1);
  }, 60_000);

  it('is read from frames that are there: a damaged one does not keep others from being printed', async () => {
    truncateSync(at('hid.8.exr'), 100);
    const ended = await reel('bad.#.exr', '--json');
    expect(ended.code).toBe(3);
    expect(statuses(ended)).toEqual(
      Array.from({ length: FRAMES }, (_, k) => `${k + 1} ${k === 7 ? 'failed' : 'printed'}`),
    );
    expect(readFileSync(at('bad.2.exr')).equals(readFileSync(at('all.2.exr')))).toBe(true);
  }, 60_000);
});
