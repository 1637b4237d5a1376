import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { bokelux } from './command';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-strip-'));
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

const [WIDTH, HEIGHT] = [160, 90];

beforeAll(async () => {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const plane = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    (i % WIDTH) ** 2 + Math.floor(i / WIDTH) ** 2 < 40 ? 200 : 0.1,
  );
  for (const channel of ['R', 'G', 'B']) addChannel(picture, channel, 'float', plane);
  writeFileSync(at('plate.exr'), await writeExr(picture));
});

const sheetOf = (name: string): PNG => PNG.sync.read(readFileSync(at(name)));

describe('bokelux strip', () => {
  it('puts the picture at each value on one sheet, as bokelux render prints it', async () => {
    const set = ['--set', 'veil.halo.amount=0.01'];
    const values = [0, 0.02, 0.08];
    const strip = await bokelux(
      ...['strip', at('plate.exr'), ...set, '--setting', 'veil.bloom.amount'],
      ...['--values', values.join(), '--height', '90', '--out', at('sheet.png')],
    );
    expect(strip).toMatchObject({ code: 0, out: '' });
    const sheet = sheetOf('sheet.png');
    // Three pictures in the first row that has room for them; each is found bit by bit but for the rounding of sums.
    for (const [k, value] of values.entries()) {
      const single = await bokelux(
        ...['render', at('plate.exr'), ...set, '--set', `veil.bloom.amount=${value}`],
        ...['--bits', '8', '--out', at('one.png')],
      );
      expect(single.code).toBe(0);
      const one = sheetOf('one.png');
      const [left, top] = [24 + (k % 2) * (WIDTH + 12), 80 + Math.floor(k / 2) * (HEIGHT + 27 + 12)];
      let largest = 0;
      for (let y = 0; y < HEIGHT; y++)
        for (let i = 0; i < 4 * WIDTH; i++)
          largest = Math.max(
            largest,
            Math.abs(one.data[4 * y * WIDTH + i]! - sheet.data[4 * ((top + y) * sheet.width + left) + i]!),
          );
      expect(largest).toBeLessThanOrEqual(1);
    }
  });

  it('varies two settings as a grid, and starting points as one', async () => {
    const grid = await bokelux(
      ...[
        'strip',
        at('plate.exr'),
        '--setting',
        'veil.bloom.amount',
        '--values',
        '0,0.1',
        '--setting',
        'pupil',
      ],
      ...['--values', 'all', '--height', '32', '--out', at('grid.png')],
    );
    expect(grid).toMatchObject({ code: 0, err: '' });
    const { width, height } = sheetOf('grid.png');
    expect(height).toBeGreaterThan(10 * 32);
    expect(width).toBeLessThan(4 * 32 * (WIDTH / HEIGHT));
  });

  it.each([
    [['--setting', 'veil.bloom.amount', '--values', '0,lots'], /veil\.bloom\.amount: "lots"/],
    [['--setting', 'veil.bloom.amount'], /--values/],
    [['--setting', 'pupil', '--values', 'heart'], /heart is none of the pupils.*round/s],
    [['--setting', 'veil.blom.amount', '--values', '1,2'], /there is no setting veil\.blom\.amount/],
    [
      ['--setting', 'film.exposure', '--values', '0,1', '--setting', 'film.exposure', '--values', '0,1'],
      /two that differ/,
    ],
  ])('tells what is wrong with %j', async (wrong, message) => {
    const { code, err } = await bokelux('strip', at('plate.exr'), ...wrong, '--out', at('no.png'));
    expect(code).toBe(2);
    expect(err).toMatch(message);
  });

  it('writes nothing but PNG', async () => {
    const { code, err } = await bokelux(
      ...[
        'strip',
        at('plate.exr'),
        '--setting',
        'film.exposure',
        '--values',
        '0,1',
        '--out',
        at('sheet.exr'),
      ],
    );
    expect(code).toBe(2);
    expect(err).toMatch(/a sheet is a PNG/);
  });
});
