import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { readExr } from '../../src/core/formats/exr/read';
import { writeExr } from '../../src/core/formats/exr/write';
import { openPicture } from '../../src/core/formats/open';
import { floatsToHalves } from '../../src/core/image/half';
import { addChannel, channelFloats, emptyPicture } from '../../src/core/image/picture';
import { bokelux } from './command';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-plates-'));
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

const [WIDTH, HEIGHT] = [48, 32];
const COUNT = WIDTH * HEIGHT;

async function write(
  name: string,
  channels: Record<string, (i: number) => number>,
  type: 'half' | 'float' = 'float',
): Promise<void> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  for (const [channel, value] of Object.entries(channels)) {
    const samples = Float32Array.from({ length: COUNT }, (_, i) => value(i));
    addChannel(picture, channel, type, type === 'half' ? floatsToHalves(samples) : samples);
  }
  writeFileSync(at(name), await writeExr(picture));
}

const same = (value: (i: number) => number) => ({ R: value, G: value, B: value });
const LAMP = 700;
const ground = (i: number): number => (i % 16) / 32;
const lamp = (i: number): number => (i === LAMP ? 64 : 0);

beforeAll(async () => {
  await write(
    'pier_beauty.exr',
    same((i) => ground(i) + lamp(i)),
  );
  await write('pier_diffuse.exr', same(ground));
  await write('pier_emission.exr', same(lamp), 'half');
  await write('pier_depth.exr', { Z: (i) => 1 + i });
  await write('cut.exr', { ...same(() => 0), A: () => 0 });
});

const red = async (name: string): Promise<Float32Array> =>
  channelFloats((await readExr(new Uint8Array(readFileSync(at(name))))).channels.get('R')!);
/** Renders the plate of four files under settings and gives its red. */
async function rendered(...settings: string[]): Promise<Float32Array> {
  const plates = ['beauty', 'diffuse', 'emission', 'depth'].flatMap((pass) => [
    '--plate',
    at(`pier_${pass}.exr`),
  ]);
  const set = settings.flatMap((setting) => ['--set', setting]);
  const ended = await bokelux('render', ...plates, ...set, '--out', at('out.exr'));
  expect(ended).toEqual({ code: 0, out: '', err: '' });
  return await red('out.exr');
}

describe('bokelux inspect --hash', () => {
  interface Hashed {
    parts: { name: string; channels: { name: string; type: string; w: number; sha256_f32: string }[] }[];
    passes: { channels: { name: string; sha256_f32: string }[] }[];
  }
  const inspect = async (path: string): Promise<Hashed> =>
    JSON.parse((await bokelux('inspect', path, '--json', '--hash')).out) as Hashed;

  it('gives the SHA-256 of every channel as little-endian floats', async () => {
    const report = await inspect(at('pier_emission.exr'));
    const floats = Float32Array.from({ length: COUNT }, (_, i) => lamp(i));
    const wanted = createHash('sha256').update(new Uint8Array(floats.buffer)).digest('hex');
    expect(report.passes[0]!.channels.map((channel) => channel.sha256_f32)).toEqual([wanted, wanted, wanted]);
    expect(report.parts[0]!.channels[0]).toMatchObject({ type: 'half', w: WIDTH, sha256_f32: wanted });
  });

  // Source: hashes of what the reference implementation decodes (fixtures/README.md).
  it.each(['multipart_4_mixed', 'subsampled_yc_piz', 'tile_mip_down_zip'])(
    'agrees with the reference on %s',
    async (name) => {
      interface Sample {
        file: string;
        parts: { channels: { name: string; sha256: string }[] }[];
      }
      const manifest = JSON.parse(readFileSync('fixtures/exr/manifest.json', 'utf8')) as Sample[];
      const sample = manifest.find(({ file }) => file === `${name}.exr`)!;
      const report = await inspect(`fixtures/exr/${name}.exr`);
      for (const [index, part] of sample.parts.entries())
        for (const channel of part.channels)
          expect(report.parts[index]!.channels.find((own) => own.name === channel.name)!.sha256_f32).toBe(
            channel.sha256,
          );
    },
  );
});

describe('a plate of several files', () => {
  it('is told as one', async () => {
    const { out } = await bokelux(
      'inspect',
      '--plate',
      at('pier_beauty.exr'),
      '--plate',
      at('pier_depth.exr'),
      '--json',
    );
    const report = JSON.parse(out) as { depth: string; passes: { name: string; role: string }[] };
    expect(report.depth).toBe('depth');
    expect(report.passes.map(({ name, role }) => [name, role])).toEqual([
      ['beauty', 'beauty'],
      ['depth', 'depth'],
    ]);
  });

  it('adds up to its beauty, and each pass can be turned down', async () => {
    const beauty = await rendered();
    expect(await rendered('plate.source=sum')).toEqual(beauty);
    const dark = await rendered('plate.source=sum', 'plate.passes.emission.on=false');
    expect(dark).toEqual(Float32Array.from({ length: COUNT }, (_, i) => ground(i)));
    const bright = await rendered('plate.source=sum', 'plate.passes.emission.gain=1');
    expect(bright[LAMP]).toBe(ground(LAMP) + 128);
    const tinted = await rendered('plate.source=sum', 'plate.passes.emission.tint=#000000');
    expect(tinted).toEqual(dark);
    const screened = await rendered('plate.source=sum', 'plate.passes.emission.mode=screen');
    expect(screened[LAMP]).toBe(1);
  });

  it('is cleaned, prepared and held to masks', async () => {
    expect((await rendered('plate.clamp=25'))[LAMP]).toBe(25);
    // The lamp is in the emission pass, so that it is no spike.
    expect((await rendered('plate.despike=4'))[LAMP]).toBe(ground(LAMP) + 64);
    expect((await rendered('plate.contrast=2', 'plate.pivot=0.25'))[8]).toBeCloseTo(0.25, 5);
    expect((await rendered('plate.curve=0:1'))[8]).toBeCloseTo(0.5, 5);
    const mask = { id: 'top', name: 'Top', shapes: [{ kind: 'gradient', from: [0, 0.49], to: [0, 0.51] }] };
    const held = await rendered('plate.exposure=1', 'plate.mask=top', `masks=${JSON.stringify([mask])}`);
    expect([held[8], held[COUNT - 8]]).toEqual([0.5, 0.25]);
  });

  it('lies over a colour or another file', async () => {
    const over = (background: string) =>
      bokelux('render', at('cut.exr'), '--set', `plate.background=${background}`, '--out', at('over.exr'));
    expect((await over('#ffffff')).code).toBe(0);
    expect((await red('over.exr'))[5]).toBe(1);
    expect((await over(`plate:${at('pier_diffuse.exr')}`)).code).toBe(0);
    expect((await red('over.exr'))[8]).toBeCloseTo(0.25, 5);
  });

  it('reports what clean-up touched', async () => {
    const set = ['--set', 'plate.clamp=25', '--out', at('c.exr'), '--json'];
    const { out } = await bokelux('render', at('pier_beauty.exr'), ...set);
    expect(JSON.parse(out)).toMatchObject({ touched: { clamped: 1, despiked: 0 } });
  });

  it.each([
    [
      'different sizes',
      3,
      /16 x 16 pixels, but .* is 48 x 32/,
      ['--plate', at('pier_beauty.exr'), '--plate', at('small_depth.exr')],
    ],
    ['no picture at all', 2, /a picture is wanted/, []],
    ['no beauty', 3, /holds no colour/, ['--plate', at('pier_depth.exr')]],
  ] as const)('of %s is refused', async (_, code, message, args) => {
    const small = emptyPicture(16, 16);
    addChannel(small, 'Z', 'float', new Float32Array(256));
    writeFileSync(at('small_depth.exr'), await writeExr(small));
    const ended = await bokelux('render', ...args, '--out', at('x.exr'));
    expect(ended.code).toBe(code);
    expect(ended.err).toMatch(message);
  });
});

describe('bokelux convert', () => {
  const convert = async (from: string, to: string, ...more: string[]): Promise<void> =>
    expect(await bokelux('convert', at(from), at(to), ...more)).toEqual({ code: 0, out: '', err: '' });
  const open = (name: string) => openPicture(new Uint8Array(readFileSync(at(name))), name);

  it.each(['tiff', 'pfm', 'exr'])('goes to %s and back without losing a bit', async (ending) => {
    await convert('pier_beauty.exr', `there.${ending}`);
    await convert(`there.${ending}`, 'back.exr');
    expect(await red('back.exr')).toEqual(await red('pier_beauty.exr'));
  });

  // Source: sharp (libvips, libtiff, libspng) reads what is written.
  it.each([
    ['a.png', [], 8],
    ['b.png', ['--bits', '16'], 16],
    ['c.tiff', ['--bits', '8'], 8],
    ['d.tif', ['--bits', '16'], 16],
  ] as const)('writes %s that other libraries read', async (name, more, bits) => {
    await convert('pier_diffuse.exr', name, ...more);
    const { width, height, depth } = await sharp(at(name)).metadata();
    expect([width, height, depth]).toEqual([WIDTH, HEIGHT, bits === 8 ? 'uchar' : 'ushort']);
  });

  it('keeps every channel in OpenEXR, in the type that is asked for', async () => {
    await convert('pier_depth.exr', 'half.exr', '--type', 'half');
    const channel = (await open('half.exr')).channels.get('Z')!;
    expect(channel.type).toBe('half');
    expect(channelFloats(channel)[100]).toBe(101);
  });

  it('brings display pictures to scene light and back to the same values', async () => {
    const levels = Uint8Array.from({ length: COUNT * 3 }, (_, i) => (i * 41) % 256);
    await sharp(levels, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .png()
      .toFile(at('display.png'));
    await convert('display.png', 'light.exr');
    await convert('light.exr', 'again.png');
    expect(Uint8Array.from(await sharp(at('again.png')).removeAlpha().raw().toBuffer())).toEqual(levels);
  });

  it.each([
    [2, /ends in none of/, ['pier_beauty.exr', 'x.gif']],
    [2, /8 or 16 bits, not float/, ['pier_beauty.exr', 'x.png', '--bits', 'float']],
    [3, /there is no such file/, ['gone.exr', 'x.png']],
  ] as const)('ends with code %d for what it cannot do', async (code, message, [from, to, ...more]) => {
    const ended = await bokelux('convert', at(from), at(to), ...more);
    expect(ended.code).toBe(code);
    expect(ended.err).toMatch(message);
  });
});

describe('bokelux optics', () => {
  interface Report {
    hyperfocal: number;
    far: number | null;
    blur: { distance: number | null; millimetres: number; pixels: number; fStop?: number | null }[];
  }
  const optics = async (...args: string[]): Promise<Report> =>
    JSON.parse((await bokelux('optics', '--json', ...args)).out) as Report;

  // Source: thin-lens geometry, f^2 / (N (s - f)): 50 mm at f/1.4 focused at 1.5 m blurs infinity to 1.2315 mm.
  it('gives blur discs on the sensor and in pixels', async () => {
    const camera = ['focalLength=50', 'fStop=1.4', 'focusDistance=1.5'].flatMap((one) => [
      '--set',
      `camera.${one}`,
    ]);
    const report = await optics(
      ...camera,
      '--set',
      'focus.breathing=true',
      '--at',
      '1.5,inf',
      '--width',
      '3600',
    );
    expect(report.blur[0]).toEqual({ distance: 1.5, millimetres: 0, pixels: 0 });
    expect(report.blur[1]!.distance).toBeNull();
    expect(report.blur[1]!.millimetres).toBeCloseTo(1.231527, 5);
    expect(report.blur[1]!.pixels).toBeCloseTo(123.1527, 3);
  });

  // The same formula, solved for N.
  it('gives the f-stop of a wished disc', async () => {
    const camera = ['focalLength=50', 'focusDistance=1.5'].flatMap((one) => ['--set', `camera.${one}`]);
    const wish = ['--at', '1.5,inf', '--width', '3600', '--disc', '123.1527'];
    const { blur } = await optics(...camera, '--set', 'focus.breathing=true', ...wish);
    expect(blur[0]!.fStop).toBeNull();
    expect(blur[1]!.fStop).toBeCloseTo(1.4, 5);
    const words = await bokelux('optics', ...camera, '--set', 'focus.breathing=true', ...wish);
    expect(words.out).toMatch(/in the focus: no f-stop blurs it[^]*as wished at f\/1\.4/);
  });

  it('says the same in words, and what is no distance', async () => {
    const within = await bokelux(
      'optics',
      '--set',
      'camera.focalLength=35',
      '--set',
      'camera.focusDistance=0.03',
    );
    expect(within.out).toMatch(/sharp nowhere.*\n[^]*no blur discs: focus beyond 0.035 m/);
    expect((await bokelux('optics')).out).toMatch(/sharp from .* hyperfocal distance/);
    const wrong = await bokelux('optics', '--at', '1,near');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringMatching(/"near" is no distance/)]);
  });

  it('blurs a plate by its depth pass from the command line', async () => {
    await write(
      'lamp_beauty.exr',
      same((i) => (i === LAMP ? 900 : 0)),
    );
    await write('lamp_depth.exr', { Z: () => 1e9 });
    const set = ['focus.on=true', 'camera.focusDistance=1', 'camera.fStop=0.5'].flatMap((one) => [
      '--set',
      one,
    ]);
    const plates = ['--plate', at('lamp_beauty.exr'), '--plate', at('lamp_depth.exr')];
    expect((await bokelux('render', ...plates, ...set, '--out', at('disc.exr'))).code).toBe(0);
    const disc = await red('disc.exr');
    expect(disc[LAMP]!).toBeLessThan(300);
    expect(disc.reduce((sum, value) => sum + value, 0)).toBeCloseTo(900, 0);
  });
});

describe('bokelux lens', () => {
  it('tells a design and its ghosts, and takes one from a file', async () => {
    const { out } = await bokelux(
      'lens',
      'double-gauss-f2',
      '--focal-length',
      '35',
      '--f-stop',
      '8',
      '--json',
    );
    const report = JSON.parse(out) as { focalLength: number; fNumber: number; ghosts: { name: string }[] };
    expect(report.focalLength).toBeCloseTo(35, 3);
    expect(report.fNumber).toBeCloseTo(8, 2);
    expect(report.ghosts).toHaveLength(45);
    const file = join(tmpdir(), `bokelux-lens-${process.pid}.json`);
    await bokelux('lens', 'triplet-f5', '--write', file);
    expect((await bokelux('lens', '--lens', file)).out).toMatch(/triplet-f5: 50\.00 mm f\/5/);
    writeFileSync(file, readFileSync(file, 'utf8').replace('"nd": 1.62004', '"nd": 0.2'));
    const wrong = await bokelux('lens', '--lens', file);
    expect([wrong.code, wrong.err]).toEqual([3, expect.stringMatching(/surface 2, nd/)]);
    rmSync(file);
    expect((await bokelux('lens', 'nothing')).err).toContain('It may be double-gauss-f2');
  });
});

describe('bokelux lights', () => {
  it('tells where lights are, how strong and how far, the strongest first', async () => {
    const picture = emptyPicture(40, 20);
    const lamps = (strong: number, weak: number): Float32Array =>
      Float32Array.from({ length: 800 }, (_, i) =>
        i === 10 * 40 + 30 ? strong : i === 5 * 40 + 8 ? weak : 0.1,
      );
    addChannel(picture, 'R', 'float', lamps(500, 80));
    addChannel(picture, 'G', 'float', lamps(250, 80));
    addChannel(picture, 'B', 'float', lamps(0, 80));
    addChannel(picture, 'Z', 'float', new Float32Array(800).fill(6));
    writeFileSync(at('lamps.exr'), await writeExr(picture));
    const { out } = await bokelux('lights', at('lamps.exr'), '--json');
    const { count, lights } = JSON.parse(out) as { count: number; lights: Record<string, unknown>[] };
    expect(count).toBe(2);
    expect(lights[0]).toMatchObject({ flux: [500, 250, 0], pixels: 1, distance: 6 });
    expect(lights[0]!.x).toBeCloseTo(30.5 / 40, 9);
    expect(lights[0]!.y).toBeCloseTo(10.5 / 20, 9);
    expect(lights[1]).toMatchObject({ flux: [80, 80, 80] });
    const fewer = await bokelux(
      'lights',
      at('lamps.exr'),
      '--threshold',
      '100',
      '--set',
      'plate.exposure=-2',
    );
    expect(fewer.out).toContain('nothing is brighter than 100');
  });
});

describe('bokelux compare', () => {
  const compare = async (...args: string[]) => bokelux('compare', ...args);

  it('tells how far two pictures are apart, and writes the difference', async () => {
    await write(
      'one.exr',
      same(() => 0.5),
    );
    await write('two.exr', { R: () => 0.5, G: (i) => (i === 100 ? 0.75 : 0.5), B: () => 0.5 });
    const { out } = await compare(at('one.exr'), at('two.exr'), '--json', '--out', at('apart.exr'));
    const report = JSON.parse(out) as Record<string, number>;
    expect(report).toMatchObject({ largest: 0.25, x: 100 % WIDTH, y: Math.floor(100 / WIDTH) });
    expect(report['mean']).toBeCloseTo(0.25 / (3 * COUNT), 9);
    expect(report['psnr']).toBeGreaterThan(50);
    const apart = await readExr(readFileSync(at('apart.exr')));
    expect(channelFloats(apart.channels.get('G')!)[100]).toBe(0.25);
    expect((await compare(at('one.exr'), at('one.exr'))).out).toContain('no difference');
  });

  it('tells in which settings two looks differ, and refuses what cannot be compared', async () => {
    writeFileSync(at('a.json'), JSON.stringify({ veil: { bloom: { amount: 0.02 } } }));
    writeFileSync(at('b.json'), JSON.stringify({ veil: { streaks: [{ angle: 30 }] } }));
    const { settings } = JSON.parse((await compare(at('a.json'), at('b.json'), '--json')).out) as {
      settings: { path: string; a: unknown; b: { angle: number } | number | null }[];
    };
    expect(settings.map(({ path }) => path)).toEqual(['veil.bloom.amount', 'veil.streaks[0]']);
    expect(settings[1]).toMatchObject({ a: null, b: { angle: 30 } });
    expect((await compare(at('a.json'), at('a.json'))).out).toContain('they differ in no setting');
    expect(await compare(at('a.json'), at('pier_beauty.exr'))).toMatchObject({ code: 2 });
    expect(await compare(at('a.json'), at('b.json'), '--out', at('d.exr'))).toMatchObject({ code: 2 });
    const picture = emptyPicture(4, 4);
    for (const c of 'RGB') addChannel(picture, c, 'float', new Float32Array(16));
    writeFileSync(at('small.exr'), await writeExr(picture));
    const wrong = await compare(at('one.exr'), at('small.exr'));
    expect([wrong.code, wrong.err]).toEqual([3, expect.stringMatching(/4 x 4, the other 48 x 32/)]);
  });
});
