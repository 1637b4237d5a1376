import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { encodeSrgb } from '../../src/core/color/srgb';
import { readExr } from '../../src/core/formats/exr/read';
import { writeExr } from '../../src/core/formats/exr/write';
import { floatsToHalves } from '../../src/core/image/half';
import { addChannel, channelFloats, emptyPicture, type Picture } from '../../src/core/image/picture';
import { SETTINGS } from '../../src/core/look/look';
import { bokelux, type Ended } from './command';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-'));
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

const read = (name: string): Promise<Picture> => readExr(new Uint8Array(readFileSync(at(name))));
const floats = async (name: string, channel: string): Promise<Float32Array> =>
  channelFloats((await read(name)).channels.get(channel)!);
const sum = (plane: Float32Array): number => plane.reduce((total, value) => total + value, 0);

const SIDE = 128;

async function writePlate(name: string, type: 'half' | 'float', value: (i: number) => number): Promise<void> {
  const picture = emptyPicture(SIDE, SIDE);
  for (const [c, channel] of ['R', 'G', 'B'].entries()) {
    const samples = Float32Array.from({ length: SIDE * SIDE }, (_, i) => value(i) * (1 + c / 10));
    addChannel(picture, channel, type, type === 'half' ? floatsToHalves(samples) : samples);
  }
  addChannel(picture, 'depth.Z', 'float', new Float32Array(SIDE * SIDE).fill(7));
  writeFileSync(at(name), await writeExr(picture));
}

const MIDDLE = (SIDE / 2) * SIDE + SIDE / 2;

beforeAll(async () => {
  await writePlate('half.exr', 'half', (i) => (i % 500 === 77 ? 300 : ((i * 31) % 101) / 200));
  await writePlate('point.exr', 'float', (i) => (i === MIDDLE ? 1000 : 0));
  await writePlate('odd.exr', 'float', (i) => (i === 0 ? NaN : i === 1 ? Infinity : 0.5));
});

describe('bokelux inspect', () => {
  it('tells passes, types, windows, statistics and what it takes for beauty and depth, as JSON', async () => {
    const { code, out } = await bokelux('inspect', at('half.exr'), '--json');
    const report = JSON.parse(out) as Record<string, unknown> & {
      passes: {
        name: string;
        kind: string;
        channels: { name: string; type: string; min: number; max: number; mean: number }[];
      }[];
    };
    expect(code).toBe(0);
    expect(report).toMatchObject({
      width: SIDE,
      height: SIDE,
      compression: 'zip',
      beauty: 'beauty',
      depth: 'depth',
      dataWindow: { xMin: 0, yMin: 0, xMax: SIDE - 1, yMax: SIDE - 1 },
    });
    expect(report.passes.map(({ name, kind }) => [name, kind])).toEqual([
      ['beauty', 'colour'],
      ['depth', 'depth'],
    ]);
    expect(report.passes[0]!.channels[0]).toMatchObject({ name: 'R', type: 'half', min: 0, max: 300 });
    expect(report.passes[1]!.channels[0]).toMatchObject({ name: 'depth.Z', type: 'float', mean: 7 });
  });

  it('counts what is not finite, and says the same in words', async () => {
    const { out } = await bokelux('inspect', at('odd.exr'));
    expect(out).toMatch(/R +float .* 1 NaN, 1 infinite/);
  });
});

describe('bokelux settings', () => {
  it('lists every setting with unit, range, default, band and help', async () => {
    const { out } = await bokelux('settings', '--json');
    const listed = JSON.parse(out) as { path: string; help: string }[];
    expect(listed.map(({ path }) => path)).toEqual(SETTINGS.map(({ path }) => path));
    expect(listed.find(({ path }) => path === 'veil.bloom.amount')).toMatchObject({
      unit: 'share of the fed light',
      min: 0,
      max: 1,
      default: 0,
      band: { min: 0.005, max: 0.05 },
    });
    expect((await bokelux('settings')).out).toContain('veil.feed.threshold');
  });
});

describe('bokelux render', () => {
  it('gives the beauty back bit for bit under the default look, in the type of the plate', async () => {
    for (const plate of ['half.exr', 'point.exr']) {
      expect(await bokelux('render', at(plate), '--out', at('same.exr'))).toEqual({
        code: 0,
        out: '',
        err: '',
      });
      for (const channel of ['R', 'G', 'B']) {
        const [before, after] = [await read(plate), await read('same.exr')].map((picture) =>
          picture.channels.get(channel)!,
        );
        expect(after!.type).toBe(before!.type);
        expect(after!.samples).toEqual(before!.samples);
      }
    }
  });

  it('gives the same bytes with any number of threads', async () => {
    const render = (workers: number): Promise<Ended> =>
      bokelux(
        'render',
        at('half.exr'),
        '--set',
        'veil.bloom.amount=0.1',
        '--workers',
        String(workers),
        '--out',
        at(`w${workers}.exr`),
      );
    await Promise.all([1, 2, 3].map(render));
    for (const workers of [2, 3])
      expect(readFileSync(at(`w${workers}.exr`)).equals(readFileSync(at('w1.exr')))).toBe(true);
  });

  it('writes one part of the kernel, and the pupil that makes it', async () => {
    const look = ['--set', 'pupil.blades=6', '--set', 'veil.spikes.size=40'];
    await bokelux('kernel', ...look, '--part', 'spikes', '--size', '65', '--out', at('spikes.exr'));
    const spikes = await floats('spikes.exr', 'G');
    expect(sum(spikes)).toBeGreaterThan(0.5);
    expect(sum(spikes)).toBeLessThan(1);
    // The same turned half way round.
    spikes.forEach((value, i) => expect(value).toBeCloseTo(spikes[spikes.length - 1 - i]!, 7));
    expect((await bokelux('kernel', '--part', 'rain', '--out', at('no.exr'))).code).toBe(2);

    const { out } = await bokelux('pupil', ...look, '--size', '128', '--out', at('pupil.png'));
    // Source: area of a regular hexagon in its circle, 3 sqrt(3) / (2 pi).
    expect(out).toContain('82.7 % of the disc is open');
    expect((await bokelux('pupil', '--out', at('pupil.gif'))).code).toBe(2);
  });

  it.each(['halo', 'streak', 'diffusion', 'dirt', 'stack[0]'])(
    'writes the kernel of the part %s',
    async (part) => {
      const sets = ['--set', 'veil.stack[0].radius=0.03', '--set', 'veil.halo.radius=0.2'];
      const { code, out } = await bokelux(
        'kernel',
        ...sets,
        '--part',
        part,
        '--size',
        '65',
        '--out',
        at('k.exr'),
      );
      expect(code).toBe(0);
      const outside = Number(/([\d.e-]+) % of the scattered light falls outside/.exec(out)![1]) / 100;
      expect(sum(await floats('k.exr', 'G')) + outside).toBeCloseTo(1, 2);
    },
  );

  it('prints every part of the veil as a layer, and their sum is the final to the bit', async () => {
    const veil = ['bloom', 'halo', 'streak', 'diffusion', 'dirt', 'stack[0]', 'stack[1]'].flatMap((part) => [
      '--set',
      `veil.${part}.amount=0.02`,
    ]);
    const more = ['--set', 'veil.stack[1].threshold=50', '--set', 'veil.feed.threshold=2'];
    const render = (...args: string[]): Promise<Ended> =>
      bokelux('render', at('half.exr'), ...veil, ...more, '--type', 'float', ...args);
    expect((await render('--separations', '--out', at('parts.exr'))).code).toBe(0);
    expect((await render('--out', at('once.exr'))).code).toBe(0);
    const layers = ['plate', 'veil.bloom', 'veil.stack[0]', 'veil.stack[1]'];
    layers.push(...['halo', 'streaks[0]', 'diffusion', 'dirt'].map((name) => `veil.${name}`));
    const planes = await Promise.all(layers.map((layer) => floats('parts.exr', `${layer}.G`)));
    const final = await floats('parts.exr', 'G');
    const total = new Float32Array(final.length);
    for (const plane of planes) for (let i = 0; i < total.length; i++) total[i]! += plane[i]!;
    expect(total).toEqual(final);
    // Computed at once it is the same but for the last bits.
    (await floats('once.exr', 'G')).forEach((value, i) =>
      expect(Math.abs(value - final[i]!)).toBeLessThan(1e-5 * (1 + final[i]!)),
    );
  });

  it('takes images by their files, and says which are missing or none', async () => {
    const { code, out } = await bokelux(
      ...[
        'pupil',
        '--set',
        'pupil.blades=5',
        '--set',
        `pupil.mask=${at('half.exr')}`,
        '--out',
        at('masked.png'),
      ],
    );
    expect(code).toBe(0);
    expect(Number(/([\d.]+) % of the disc is open/.exec(out)![1])).toBeLessThan(40);
    const missing = await bokelux('pupil', '--set', 'pupil.mask=leaf.png', '--out', at('no.png'));
    expect(missing.code).toBe(3);
    expect(missing.err).toContain('leaf.png: there is no such file');
    const dirty = ['--set', 'veil.dirt.amount=0.1', '--set', `veil.dirt.image=${at('masked.png')}`];
    expect((await bokelux('render', at('half.exr'), ...dirty, '--out', at('dirty.exr'))).code).toBe(0);
  });

  it('says of a list which place comes next', async () => {
    const { code, err } = await bokelux(
      ...['render', at('half.exr'), '--set', 'veil.stack[4].amount=0.1', '--out', at('no.exr')],
    );
    expect(code).toBe(2);
    expect(err).toContain(
      'veil.stack[4].amount: there is no [4]: the list holds 0. The next place in it is [0]',
    );
  });

  it('spreads a point into the kernel that `kernel` writes', async () => {
    const look = [
      '--set',
      'veil.bloom.amount=0.3',
      '--set',
      'veil.bloom.radius=0.02',
      '--set',
      'veil.feed.threshold=0',
    ];
    await bokelux('render', at('point.exr'), ...look, '--out', at('spread.exr'));
    const { out } = await bokelux('kernel', ...look, '--size', String(SIDE), '--out', at('k.exr'));
    const [spread, kernel] = [await floats('spread.exr', 'R'), await floats('k.exr', 'R')];
    kernel.forEach((value, i) =>
      expect(Math.abs(spread[i]! / 1000 - value)).toBeLessThan(1e-6 + 1e-5 * value),
    );
    const outside = Number(/([\d.]+) % of the scattered light/.exec(out)![1]) / 100;
    expect(sum(kernel) + 0.3 * outside).toBeCloseTo(1, 3);
  });

  it('writes separations that add up to the final exactly', async () => {
    await bokelux(
      'render',
      at('half.exr'),
      '--set',
      'veil.bloom.amount=0.1',
      '--separations',
      '--type',
      'float',
      '--out',
      at('parts.exr'),
    );
    const [final, plate, bloom] = (await Promise.all(
      ['G', 'plate.G', 'veil.bloom.G'].map((name) => floats('parts.exr', name)),
    )) as [Float32Array, Float32Array, Float32Array];
    expect(plate.map((value, i) => value + bloom[i]!)).toEqual(final);
  });

  it('writes a region as it is in the whole, and a reduced size', async () => {
    const look = ['--set', 'veil.bloom.amount=0.1'];
    await Promise.all([
      bokelux('render', at('half.exr'), ...look, '--out', at('whole.exr')),
      bokelux('render', at('half.exr'), ...look, '--region', '10,20,30,15', '--out', at('region.exr')),
      bokelux('render', at('half.exr'), ...look, '--scale', '0.5', '--out', at('half-size.exr')),
    ]);
    const [whole, region] = [await floats('whole.exr', 'B'), await floats('region.exr', 'B')];
    expect(region).toHaveLength(30 * 15);
    region.forEach((value, i) => expect(value).toBe(whole[(20 + Math.floor(i / 30)) * SIDE + 10 + (i % 30)]));
    expect((await read('region.exr')).dataWindow).toEqual({ xMin: 10, yMin: 20, xMax: 39, yMax: 34 });
    expect((await read('half-size.exr')).width).toBe(SIDE / 2);
  });

  // Source: IEC 61966-2-1 for the sRGB curve.
  it('prints PNG through the view', async () => {
    await bokelux('render', at('half.exr'), '--out', at('view.png'));
    const { data } = PNG.sync.read(readFileSync(at('view.png')));
    (await floats('half.exr', 'R')).forEach((value, i) =>
      expect(data[i * 4]).toBe(Math.round(encodeSrgb(Math.min(1, value)) * 255)),
    );
    await bokelux('render', at('half.exr'), '--bits', '16', '--out', at('deep.png'));
    expect(readFileSync(at('deep.png'))[24]).toBe(16);
  });

  it('takes a look file, changed by settings in order', async () => {
    writeFileSync(at('look.json'), JSON.stringify({ version: 1, film: { exposure: 1 } }));
    await bokelux('render', at('point.exr'), '--look', at('look.json'), '--out', at('a.exr'));
    await bokelux(
      'render',
      at('point.exr'),
      '--look',
      at('look.json'),
      '--set',
      'film.exposure=5',
      '--set',
      'film.exposure=2',
      '--out',
      at('b.exr'),
    );
    expect([(await floats('a.exr', 'R'))[MIDDLE], (await floats('b.exr', 'R'))[MIDDLE]]).toEqual([
      2000, 4000,
    ]);
  });

  it('reports where the energy went', async () => {
    const { out } = await bokelux(
      'render',
      at('point.exr'),
      '--set',
      'veil.bloom.amount=0.2',
      '--out',
      at('e.exr'),
      '--json',
    );
    const { accounts } = JSON.parse(out) as {
      accounts: { veil: { moved: number; left: number; gain: number } };
    };
    expect(accounts.veil.moved).toBeCloseTo(0.2, 6);
    expect(accounts.veil.gain + accounts.veil.left).toBeCloseTo(1, 9);
  });
});

describe('bokelux render with ghosts', () => {
  const lens = {
    id: 'two-surfaces',
    focalLength: 50,
    fNumber: 4,
    semiFieldDeg: 20,
    surfaces: [
      { radius: 40, thickness: 4, nd: 1.5168, vd: 64.2, semiAperture: 8 },
      { radius: null, thickness: 5, nd: 1, vd: null, semiAperture: 8 },
      { radius: null, thickness: 70, nd: 1, vd: null, semiAperture: 6, stop: true },
    ],
  };

  it('takes a lens and lights in space from files, and prints the ghosts of each light', async () => {
    writeFileSync(at('lens.json'), JSON.stringify(lens));
    writeFileSync(at('lights.csv'), 'frame,name,x,y,z,gain\n1,Sun,-1,0.5,-5,100000\n3,Sun,1,0.5,-5,100000\n');
    const out = async (frame: string): Promise<Picture> => {
      const args = ['--lens', at('lens.json'), '--lights', at('lights.csv'), '--frame', frame];
      const sets = ['ghosts.on=true', 'ghosts.perLight=true', 'ghosts.coating=bare'].flatMap((set) => [
        '--set',
        set,
      ]);
      await bokelux('render', at('half.exr'), ...args, ...sets, '--separations', '--out', at('sun.exr'));
      return read('sun.exr');
    };
    const middle = (picture: Picture): number => {
      const plane = channelFloats(picture.channels.get('ghosts.lights[0].G')!);
      return plane.reduce((all, value, i) => all + value * (i % SIDE), 0) / sum(plane);
    };
    const [left, right] = [middle(await out('1')), middle(await out('3'))];
    // The same light on the other side: mirrored, whichever side its only ghost takes.
    expect(left + right).toBeCloseTo(SIDE - 1, 0);
    expect(Math.abs(left - right)).toBeGreaterThan(2);
  });

  it('refuses a lens with its surface named, and a table with its column', async () => {
    const bad = {
      ...lens,
      surfaces: lens.surfaces.map((surface, k) => (k === 1 ? { ...surface, nd: 0.2 } : surface)),
    };
    writeFileSync(at('bad.json'), JSON.stringify(bad));
    const refused = await bokelux('render', at('half.exr'), '--lens', at('bad.json'), '--out', at('no.exr'));
    expect(refused.code).toBe(3);
    expect(refused.err).toMatch(/surface 1, nd/);
    writeFileSync(at('bad.csv'), 'name,x,y\nA,1,2\n');
    const table = await bokelux('render', at('half.exr'), '--lights', at('bad.csv'), '--out', at('no.exr'));
    expect(table.code).toBe(3);
    expect(table.err).toMatch(/no column z/);
    expect(existsSync(at('no.exr'))).toBe(false);
  });
});

describe('bokelux feed', () => {
  const told = async (...args: string[]): Promise<Record<string, unknown>> => {
    const { code, out, err } = await bokelux('feed', at('point.exr'), ...args, '--json');
    expect({ code, err }).toEqual({ code: 0, err: '' });
    return JSON.parse(out) as Record<string, unknown>;
  };

  it('tells what feeds, and the threshold for a share', async () => {
    const one = { sources: 1, kind: 'lamps', lone: { count: 1, light: 1 }, light: 1 };
    expect(await told('--threshold', '4')).toMatchObject({ ...one, threshold: 4 });
    const { threshold, sources } = await told('--share', '0.000001', '--set', 'veil.feed.knee=0');
    expect(sources).toBe(0);
    // Its brightest channel.
    expect((threshold as number) / 1200).toBeCloseTo(1, 3);
    expect(await told('--threshold', '2000')).toMatchObject({ sources: 0, pixels: 0 });
    const words = await bokelux('feed', at('point.exr'), '--threshold', '4');
    expect(words.out).toMatch(/sources +1, the largest with 100 %[^]*it is +lamps/);
    const both = await bokelux('feed', at('point.exr'), '--threshold', '4', '--share', '0.1');
    expect(both).toMatchObject({ code: 2, err: expect.stringMatching(/either a share/) as string });
  });
});

describe('bokelux demo', () => {
  it('writes the demo shot, and its look fits', async () => {
    const { code } = await bokelux('demo', at('demo'));
    expect(code).toBe(0);
    expect(existsSync(at('demo/quay.exr'))).toBe(true);
    expect(
      (await bokelux('render', at('point.exr'), '--look', at('demo/quay.look.json'), '--out', at('d.exr')))
        .code,
    ).toBe(0);
    // And the reel, with the focus that is pulled in it.
    const reel = ['reel', at('demo/quay-reel.####.exr'), '--look', at('demo/quay-reel.look.json')];
    const timed = ['--tracks', at('demo/quay-reel.tracks.json'), '--frames', '3,17', '--scale', '0.25'];
    expect((await bokelux(...reel, ...timed, '--out', at('r.####.exr'))).code).toBe(0);
    expect([3, 17].map((frame) => existsSync(at(`r.${String(frame).padStart(4, '0')}.exr`)))).toEqual([
      true,
      true,
    ]);
  });
});

describe('what goes wrong', () => {
  const wrong: [string, number, RegExp, string[]][] = [
    ['no command', 2, /Usage/, []],
    ['an unknown command', 2, /unknown command/, ['polish']],
    ['no output', 2, /--out/, ['render', at('half.exr')]],
    [
      'an output of no known kind',
      2,
      /ends in none of \.exr, \.png/,
      ['render', at('half.exr'), '--out', at('x.jpg')],
    ],
    [
      'separations in PNG',
      2,
      /only OpenEXR can hold separations/,
      ['render', at('half.exr'), '--separations', '--out', at('x.png')],
    ],
    [
      'an unknown setting',
      2,
      /no setting veil\.blom/,
      ['render', at('half.exr'), '--set', 'veil.blom=1', '--out', at('x.exr')],
    ],
    [
      'a value out of range',
      2,
      /from 0 to 1/,
      ['render', at('half.exr'), '--set', 'veil.bloom.amount=5', '--out', at('x.exr')],
    ],
    [
      'a pass that is not there',
      2,
      /no pass sheen.*It has beauty/,
      ['render', at('half.exr'), '--set', 'plate.pass=sheen', '--out', at('x.exr')],
    ],
    [
      'a region outside',
      2,
      /does not lie in/,
      ['render', at('half.exr'), '--region', '100,0,100,10', '--out', at('x.exr')],
    ],
    [
      'a scale of nothing',
      2,
      /over 0 and up to 1/,
      ['render', at('half.exr'), '--scale', '0', '--out', at('x.exr')],
    ],
    [
      'a file that is not there',
      3,
      /nowhere\.exr: there is no such file/,
      ['render', at('nowhere.exr'), '--out', at('x.exr')],
    ],
    [
      'a file that is no picture',
      3,
      /look\.json: this is not a picture that is understood/,
      ['inspect', at('look.json')],
    ],
    [
      'a look that is not JSON',
      3,
      /not JSON/,
      ['render', at('half.exr'), '--look', at('half.exr'), '--out', at('x.exr')],
    ],
    [
      'a folder that is not there',
      3,
      /its folder does not exist/,
      ['render', at('half.exr'), '--out', at('no/where/x.exr')],
    ],
  ];

  it.each(wrong)('%s ends with code %d and says so', async (_, code, message, args) => {
    writeFileSync(at('look.json'), '{"version":1}');
    const ended = await bokelux(...args);
    expect({ code: ended.code, err: ended.err }).toEqual({
      code,
      err: expect.stringMatching(message) as string,
    });
    expect(ended.out).toBe('');
  });

  it('nothing: help ends with code 0', async () => {
    expect((await bokelux('--help')).code).toBe(0);
    expect((await bokelux('render', '--help')).code).toBe(0);
  });
});
