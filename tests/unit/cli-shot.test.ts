import { packShot, type PackedShot } from '../../src/core/shot/archive';
import { execFile } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { assignSetting, defaultLook } from '../../src/core/look/look';
import { EMPTY_SHOT, plateOfFile, type Shot } from '../../src/core/shot/shot';
import { bokelux } from './command';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-'));
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

async function flatPicture(value: number): Promise<Uint8Array<ArrayBuffer>> {
  const picture = emptyPicture(32, 24);
  for (const name of ['R', 'G', 'B'])
    addChannel(picture, name, 'float', new Float32Array(32 * 24).fill(value));
  return new Uint8Array(await writeExr(picture));
}

beforeAll(async () => {
  const settings = ['film.exposure=1', 'pupil.blades=5', 'pupil.mask=leaf.exr', 'camera.focalLength=85'];
  const shot: Shot = {
    name: 'Two walls',
    plates: [plateOfFile('a', 'dim.exr'), plateOfFile('b', 'bright.exr')],
    references: [],
    images: [{ id: 'i', name: 'leaf.exr' }],
    proofs: [],
    follows: null,
    tracks: EMPTY_SHOT.tracks,
    reel: EMPTY_SHOT.reel,
    activePlate: 'b',
    look: settings.reduce(assignSetting, defaultLook()),
  };
  const files: PackedShot['files'] = new Map([
    ['a', await flatPicture(0.1)],
    ['b', await flatPicture(0.5)],
    ['i', await flatPicture(0.25)],
  ]);
  writeFileSync(at('walls.bokelux'), await packShot({ shot, files }));
  writeFileSync(at('dim.exr'), await flatPicture(0.1));
});

describe('a shot on the command line', () => {
  it('is rendered as it stands: its active plate under its look', async () => {
    const { code, err } = await bokelux('render', at('walls.bokelux'), '--out', at('out.pfm'));
    expect([code, err]).toEqual([0, '']);
    const bytes = readFileSync(at('out.pfm'));
    expect(bytes.readFloatLE(bytes.length - 4)).toBe(1);
  });

  it('yields to a look and to settings that are named', async () => {
    const set = ['--set', 'film.exposure=2', '--set', 'plate.background=plate:a'];
    await bokelux('render', at('walls.bokelux'), ...set, '--out', at('out.pfm'));
    const bytes = readFileSync(at('out.pfm'));
    expect(bytes.readFloatLE(bytes.length - 4)).toBe(2);
    writeFileSync(at('plain.json'), '{"version":1}');
    await bokelux('render', at('walls.bokelux'), '--look', at('plain.json'), '--out', at('out.pfm'));
    const plain = readFileSync(at('out.pfm'));
    expect(plain.readFloatLE(plain.length - 4)).toBe(0.5);
    const named = { kind: 'bokelux look', name: 'Bright', note: '', look: { film: { exposure: 3 } } };
    writeFileSync(at('bright.look.json'), JSON.stringify(named));
    await bokelux('render', at('walls.bokelux'), '--look', at('bright.look.json'), '--out', at('out.pfm'));
    const bright = readFileSync(at('out.pfm'));
    expect(bright.readFloatLE(bright.length - 4)).toBe(4);
  });

  it('gives its pupil, its kernel and its camera', async () => {
    const pupil = await bokelux('pupil', at('walls.bokelux'), '--size', '64', '--out', at('p.png'));
    expect(pupil.code).toBe(0);
    // A pentagon covers 5 sin(72 deg) / (2 pi) = 75.7 % of its disc; the image lets 25 % of that through.
    const open = Number(/([\d.]+) % of the disc/.exec(pupil.out)![1]);
    expect(Math.abs(open - 100 * 0.25 * ((5 * Math.sin((2 * Math.PI) / 5)) / (2 * Math.PI)))).toBeLessThan(
      0.3,
    );
    const kernel = await bokelux('kernel', at('walls.bokelux'), '--size', '32', '--out', at('k.exr'));
    expect([kernel.code, existsSync(at('k.exr'))]).toEqual([0, true]);
    const optics = await bokelux('optics', at('walls.bokelux'), '--json');
    expect(JSON.parse(optics.out)).toMatchObject({ camera: { focalLength: 85 } });
  });

  it('is refused beside pictures, when damaged, and when it is none', async () => {
    const beside = await bokelux(
      'render',
      at('walls.bokelux'),
      '--plate',
      at('dim.exr'),
      '--out',
      at('o.exr'),
    );
    expect([beside.code, beside.err]).toEqual([2, expect.stringContaining('has its own plates')]);
    writeFileSync(at('bad.bokelux'), readFileSync(at('walls.bokelux')).subarray(0, 900));
    expect((await bokelux('optics', at('bad.bokelux'))).code).toBe(3);
    expect((await bokelux('optics', at('dim.exr'))).err).toContain('is not a shot');
  });
});

describe('the command itself', () => {
  it('tells its version', async () => {
    const { version } = JSON.parse(readFileSync(join(__dirname, '../../package.json'), 'utf8')) as {
      version: string;
    };
    expect(await bokelux('--version')).toEqual({ code: 0, out: `${version}\n`, err: '' });
  });

  it('builds what is missing after a bare install, without a word', async () => {
    const root = join(__dirname, '../..');
    const bare = at('bare');
    for (const part of ['bin', 'scripts', 'src', 'package.json', 'package-lock.json', 'tsconfig.json'])
      cpSync(join(root, part), join(bare, part), { recursive: true });
    rmSync(join(bare, 'src/core/kernels/generated'), { recursive: true });
    symlinkSync(join(root, 'node_modules'), join(bare, 'node_modules'));
    const bin = join(bare, 'bin/bokelux.mjs');
    const { stdout, stderr } = await promisify(execFile)(process.execPath, [bin, 'inspect', at('dim.exr')]);
    expect(stdout).toContain('32 x 24');
    expect(stderr).toBe('');
  });
});
