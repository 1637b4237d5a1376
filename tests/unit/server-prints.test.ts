/** @jest-environment node */
import { randomUUID } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { printOptionsSchema, patternOf } from '../../src/core/print/print-options';
import { packShot } from '../../src/core/shot/archive';
import { EMPTY_SHOT, NEW_PLATE } from '../../src/core/shot/shot';
import { reelArguments } from '../../src/server/reel-arguments';

const work = mkdtempSync(join(tmpdir(), 'bokelux-server-'));
process.env['BOKELUX_WORK'] = work;
process.env['BOKELUX_MOST_BYTES'] = '200000';

/** Loaded when the settings above are made. */
const server = () => ({
  ...(jest.requireActual('../../src/server/prints') as typeof import('../../src/server/prints')),
  ...(jest.requireActual('../../src/server/requests') as typeof import('../../src/server/requests')),
  ...(jest.requireActual('../../src/server/shot-file') as typeof import('../../src/server/shot-file')),
  ...(jest.requireActual('../../src/server/zip') as typeof import('../../src/server/zip')),
});
afterAll(() => rmSync(work, { recursive: true, force: true }));

const SIZE = 32;
async function shotOf(frames: number): Promise<Uint8Array<ArrayBuffer>> {
  const files = new Map<string, Uint8Array<ArrayBuffer>>();
  const named = [];
  for (let frame = 1; frame <= frames; frame++) {
    const picture = emptyPicture(SIZE, SIZE);
    for (const channel of ['R', 'G', 'B'])
      addChannel(picture, channel, 'float', new Float32Array(SIZE * SIZE).fill(frame));
    files.set(`f${frame}`, new Uint8Array(await writeExr(picture)));
    named.push({ frame, files: [{ id: `f${frame}`, name: `f.${frame}.exr` }] });
  }
  const plate = { ...NEW_PLATE, id: 'p', name: 'f', versions: [{ id: 'v', frames: named }] };
  return packShot({ shot: { ...EMPTY_SHOT, plates: [plate], activePlate: 'p' }, files });
}

const options = printOptionsSchema.parse({ name: 'final', kind: 'exr' });
/** The refusal of a status. */
const refusal = (status: number): unknown => expect.objectContaining({ status });
const until = async (isSo: () => boolean): Promise<void> => {
  while (!isSo()) await new Promise((resolve) => setTimeout(resolve, 30));
};

describe('prints of the server', () => {
  it('are printed, told of, handed over as an archive, and removed', async () => {
    const { ServerPrints, zipStream } = server();
    const prints = new ServerPrints();
    prints.start();
    let changes = 0;
    const stop = prints.subscribe({ onChange: () => changes++, onEnd: () => undefined });
    const { id, file } = prints.prepare();
    writeFileSync(file, await shotOf(3));
    prints.add(id, options);
    await until(() => prints.find(id)?.state === 'done');
    expect(prints.find(id)).toMatchObject({
      frames: [1, 2, 3],
      told: [1, 2, 3].map((frame): unknown => expect.objectContaining({ frame, status: 'printed' })),
    });
    const files = prints.files(id);
    expect(files.names).toEqual(['final.0001.exr', 'final.0002.exr', 'final.0003.exr']);
    let taken = 0;
    const zip = unzipSync(new Uint8Array(await new Response(zipStream(files, () => taken++)).arrayBuffer()));
    expect(Object.keys(zip)).toEqual(files.names);
    expect(
      Buffer.from(zip['final.0002.exr']!).equals(readFileSync(join(files.folder, 'final.0002.exr'))),
    ).toBe(true);
    expect(taken).toBe(1);
    await until(() => changes > 1);
    stop();
    prints.remove(id);
    expect([prints.find(id), existsSync(file)]).toEqual([undefined, false]);
  }, 60_000);

  it('go on after the server was ended in the midst of them, and leave what is whole', async () => {
    const { ServerPrints } = server();
    const id = randomUUID();
    const folder = join(work, 'prints', id);
    mkdirSync(join(folder, 'frames'), { recursive: true });
    writeFileSync(join(folder, 'shot.bokelux'), await shotOf(3));
    const record = { id, options, state: 'printing', created: 1, begun: 2, ended: null, fetched: null };
    writeFileSync(
      join(folder, 'print.json'),
      JSON.stringify({ ...record, process: 999_999_999, frames: [1, 2, 3], told: [], why: null }),
    );
    // The first frame was printed, the second only in part, and a shot came in only in part.
    const one = new ServerPrints();
    const { id: half } = one.prepare();
    const first = emptyPicture(2, 2);
    for (const channel of ['R', 'G', 'B']) addChannel(first, channel, 'half', new Uint16Array(4));
    writeFileSync(join(folder, 'frames', 'final.0001.exr'), await writeExr(first));
    writeFileSync(join(folder, 'frames', 'final.0002.exr'), (await writeExr(first)).slice(0, 300));
    const prints = new ServerPrints();
    prints.start();
    await until(() => prints.find(id)?.state === 'done');
    expect(prints.find(id)!.told.map(({ status }) => status)).toEqual(['skipped', 'printed', 'printed']);
    expect(readdirSync(join(work, 'prints'))).not.toContain(half);
    prints.remove(id);
  }, 60_000);

  it('go on after the server was stopped, which ends what hears of them', async () => {
    const { ServerPrints } = server();
    const first = new ServerPrints();
    let heard = '';
    first.subscribe({ onChange: () => undefined, onEnd: () => (heard = 'the end') });
    const { id, file } = first.prepare();
    writeFileSync(file, await shotOf(6));
    const record = first.add(id, options);
    first.stop();
    expect(heard).toBe('the end');
    await until(() => !isRunning(record.process!));
    expect(record.state).toBe('printing');
    const next = new ServerPrints();
    next.start();
    await until(() => next.find(id)?.state === 'done');
    expect(next.find(id)!.told).toHaveLength(6);
    next.remove(id);
  }, 60_000);

  it('tell why they failed, and try again what is not there', async () => {
    const { ServerPrints } = server();
    const prints = new ServerPrints();
    const { id, file } = prints.prepare();
    writeFileSync(file, await shotOf(2));
    prints.add(id, { ...options, frames: '1-2,40-39' });
    await until(() => prints.find(id)?.state === 'failed');
    expect(prints.find(id)!.why).toMatch(/40-39/);
    prints.retry(id);
    expect(prints.find(id)!.state).not.toBe('failed');
    await until(() => prints.find(id)?.state === 'failed');
    prints.remove(id);
  }, 60_000);
});

function isRunning(pid: number): boolean {
  try {
    return process.kill(pid, 0);
  } catch {
    return false;
  }
}

/** What a call throws. */
function thrown(call: () => void): unknown {
  try {
    call();
  } catch (error) {
    return error;
  }
  return undefined;
}

describe('what the server is asked', () => {
  const request = (headers: Record<string, string>): Request =>
    new Request('http://localhost:3000/api/prints', { headers });

  it.each([
    [{ host: 'localhost:3000' }, true],
    [{ host: '127.0.0.1:3000', origin: 'http://127.0.0.1:3000' }, true],
    [{ host: 'localhost:3000', origin: 'http://elsewhere.example' }, false],
    [{ host: 'localhost:3000', origin: 'http://localhost:4000' }, false],
    [{ host: 'localhost:3000', origin: 'null' }, false],
    [{ host: 'localhost:3000', 'sec-fetch-site': 'cross-site' }, false],
    // A foreign name that was made to lead to this machine.
    [{ host: 'elsewhere.example:3000' }, false],
  ])('with %j is allowed: %s', (headers, isAllowed) => {
    const { checkOrigin } = server();
    if (isAllowed) expect(() => checkOrigin(request(headers))).not.toThrow();
    else expect(thrown(() => checkOrigin(request(headers)))).toEqual(refusal(403));
  });

  it('may not be larger than it says, nor than may be', async () => {
    const { saveBody } = server();
    const file = join(work, 'body');
    const body = (size: number): Request =>
      new Request('http://localhost', { method: 'POST', body: new Uint8Array(size) });
    await saveBody(body(1000), file);
    expect(readFileSync(file)).toHaveLength(1000);
    await expect(saveBody(body(200_001), file)).rejects.toMatchObject({ status: 413 });
    await expect(saveBody(new Request('http://localhost'), file)).rejects.toMatchObject({ status: 400 });
  });

  it('must be a shot with a plate', async () => {
    const { checkShot } = server();
    const file = join(work, 'shot');
    const check = async (bytes: Uint8Array): Promise<unknown> => {
      writeFileSync(file, bytes);
      return checkShot(file).then(
        () => 'taken',
        (error: unknown) => error,
      );
    };
    expect(await check(await shotOf(1))).toBe('taken');
    expect(await check(Buffer.from('PK no shot'))).toMatchObject({ status: 400 });
    expect(await check(await packShot({ shot: EMPTY_SHOT, files: new Map() }))).toMatchObject({
      ...{ status: 400, message: 'the shot has no plate' },
    });
  });

  it.each(['../up', 'a/b', '.hidden', '', 'x'.repeat(200), 'a\0b'])('has no name as %j', (name) => {
    expect(printOptionsSchema.safeParse({ name, kind: 'exr' }).success).toBe(false);
  });

  it.each(['1-24; rm', '--out=x', '1-', 'all'])('has no frames as %j', (frames) => {
    expect(printOptionsSchema.safeParse({ name: 'a', kind: 'exr', frames }).success).toBe(false);
  });

  it('becomes arguments of the command line', () => {
    const png = printOptionsSchema.parse({
      name: 'a#1',
      kind: 'png',
      samples: '16',
      frames: '1-3',
      width: 100,
    });
    expect(patternOf(png)).toBe('a_1.####.png');
    expect(reelArguments(png)).toEqual([
      ...['--bits', '16', '--primaries', 'rec709', '--alpha', 'none', '--width', '100', '--frames', '1-3'],
    ]);
  });
});
