import { packShot } from '../../src/core/shot/archive';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readExr } from '../../src/core/formats/exr/read';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, channelFloats, emptyPicture } from '../../src/core/image/picture';
import { defaultLook, parseLook } from '../../src/core/look/look';
import { EMPTY_SHOT, plateOfFile } from '../../src/core/shot/shot';
import { bokelux } from './command';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-elements-'));
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

const [WIDTH, HEIGHT] = [32, 16];
type Value = (x: number) => number;

async function write(name: string, channels: Readonly<Record<string, Value>>): Promise<void> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  for (const [channel, value] of Object.entries(channels))
    addChannel(
      picture,
      channel,
      'float',
      Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i % WIDTH)),
    );
  writeFileSync(at(name), await writeExr(picture));
}
const colour = (value: Value): Record<string, Value> => ({ R: value, G: value, B: value });

beforeAll(async () => {
  await write('set.exr', { ...colour(() => 0.5), Z: () => 9 });
  await write('hero.exr', { ...colour((x) => (x < 16 ? 0.2 : 0)), A: (x) => (x < 16 ? 0.5 : 0) });
  await write('far.exr', { Y: () => 4 });
  await write('small.exr', { Z: () => 4 });
});

const red = async (name = 'out.exr'): Promise<Float32Array> =>
  channelFloats((await readExr(new Uint8Array(readFileSync(at(name))))).channels.get('R')!);
const render = (...args: string[]) => bokelux('render', ...args, '--out', at('out.exr'));

describe('bokelux render --element', () => {
  it('lays renders over each other, back to front, under their settings', async () => {
    expect(await render(at('set.exr'), '--element', at('hero.exr'))).toMatchObject({ code: 0, err: '' });
    expect([(await red())[3], (await red())[20]]).toEqual([Math.fround(0.2) + 0.25, 0.5].map(Math.fround));
    await render(at('set.exr'), '--element', `${at('hero.exr')},mode=add,opacity=0.5`);
    expect((await red())[3]).toBeCloseTo(0.6, 6);
    await render('--element', at('set.exr'), '--element', at('hero.exr'), '--set', 'elements[1].exposure=1');
    expect((await red())[3]).toBeCloseTo(0.65, 6);
  });

  it('takes the depth of another file, and a typed distance', async () => {
    const focus = ['--set', 'focus.on=true', '--set', 'camera.focusDistance=9', '--set', 'camera.fStop=1'];
    const sharp = await render(at('set.exr'), '--element', `${at('hero.exr')},distance=9`, ...focus);
    expect(sharp.code).toBe(0);
    const edge = await red();
    expect(edge[15]).toBeCloseTo(0.45, 5);
    await render(
      at('set.exr'),
      '--element',
      `${at('hero.exr')},depth=${at('far.exr')}`,
      ...focus,
      '--set',
      'camera.focalLength=200',
    );
    const blurred = await red();
    expect(blurred[15]).toBeGreaterThan(0.46);
  });

  it('says what is wrong with an element', async () => {
    const missing = await render(at('set.exr'), '--element', at('nobody.exr'));
    expect([missing.code, missing.err]).toEqual([
      3,
      expect.stringContaining('nobody.exr: there is no such file'),
    ]);
    const setting = await render(at('set.exr'), '--element', `${at('hero.exr')},mood=good`);
    expect([setting.code, setting.err]).toEqual([
      2,
      expect.stringContaining('there is no setting elements[1].mood'),
    ]);
    const range = await render(at('set.exr'), '--element', `${at('hero.exr')},opacity=2`);
    expect([range.code, range.err]).toEqual([2, expect.stringContaining('a number from 0 to 1')]);
  });

  it('renders the elements of a shot as its bench has them', async () => {
    const [set, hero] = [plateOfFile('s', 'set.exr'), plateOfFile('h', 'hero.exr')];
    const files = new Map(
      [set, hero].map(({ id, name }) => [id, new Uint8Array(readFileSync(at(name)))] as const),
    );
    const shot = {
      name: 'S',
      plates: [{ ...set, elements: ['s', 'h'] }, hero],
      references: [],
      images: [],
      proofs: [],
      follows: null,
      tracks: EMPTY_SHOT.tracks,
      reel: EMPTY_SHOT.reel,
      activePlate: 's',
      look: parseLook({ ...defaultLook(), elements: [{}, { mode: 'add' }] }),
    };
    writeFileSync(at('both.bokelux'), await packShot({ shot, files }));
    expect(await render(at('both.bokelux'))).toMatchObject({ code: 0, err: '' });
    expect((await red())[3]).toBeCloseTo(0.7, 6);
    const broken = { ...shot, plates: [{ ...set, elements: ['s', 'gone'] }] };
    writeFileSync(at('broken.bokelux'), await packShot({ shot: broken, files }));
    const refused = await render(at('broken.bokelux'));
    expect([refused.code, refused.err]).toEqual([
      3,
      expect.stringContaining('names elements that are not there'),
    ]);
  });
});
