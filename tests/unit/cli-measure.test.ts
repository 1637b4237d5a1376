import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { bokelux } from './command';

const folder = mkdtempSync(join(tmpdir(), 'bokelux-measure-'));
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

const [SIDE, CORE, FALLOFF] = [200, 5, 2.5];

interface Value {
  value: number;
  low: number;
  high: number;
}
interface Measured {
  source: { isClipped: boolean };
  bloom: { falloff: Value; radius: Value; amount: Value };
  spikes: Record<string, Value | null>;
  halo: Record<string, Value | null>;
  tint: Value;
}

beforeAll(async () => {
  const picture = emptyPicture(SIDE, SIDE);
  // A lamp of 1000 in one pixel, and a glow by the formula: a power of the distance about a core.
  const plane = Float32Array.from({ length: SIDE * SIDE }, (_, i) => {
    const [dx, dy] = [(i % SIDE) - 100, Math.floor(i / SIDE) - 100];
    return (
      (dx === 0 && dy === 0 ? 1000 : 0) + 0.5 * (1 + (dx * dx + dy * dy) / CORE ** 2) ** (-FALLOFF / 2) + 0.01
    );
  });
  for (const channel of ['R', 'G', 'B']) addChannel(picture, channel, 'float', plane);
  writeFileSync(at('lamp.exr'), await writeExr(picture));
});

describe('bokelux measure', () => {
  it('prints what fits the light about a lamp, with intervals, and a look of it', async () => {
    const { code, out, err } = await bokelux(
      ...[
        'measure',
        at('lamp.exr'),
        '--at',
        '102,99',
        '--radius',
        '90',
        '--json',
        '--look-out',
        at('fitted.look.json'),
      ],
    );
    expect({ code, err }).toEqual({ code: 0, err: '' });
    const { source, bloom, spikes, halo, tint } = JSON.parse(out) as Measured;
    expect(source.isClipped).toBe(false);
    expect(bloom.falloff.value).toBeCloseTo(FALLOFF, 1);
    expect(bloom.falloff.low).toBeLessThanOrEqual(FALLOFF);
    expect(bloom.falloff.high).toBeGreaterThanOrEqual(FALLOFF);
    expect((bloom.radius.value * SIDE) / CORE).toBeCloseTo(1, 1);
    expect([spikes['count'], spikes['blades'], halo['radius']]).toEqual([null, null, null]);
    expect(tint.value).toBeCloseTo(6500, -2);
    const look = JSON.parse(readFileSync(at('fitted.look.json'), 'utf8')) as {
      veil: { bloom: { falloff: number; radius: number } };
    };
    expect(look.veil.bloom.falloff).toBeCloseTo(bloom.falloff.value, 3);
    expect(look.veil.bloom.radius).toBeCloseTo(bloom.radius.value, 4);
  });

  it('says it in words', async () => {
    const { code, out } = await bokelux('measure', at('lamp.exr'), '--at', '100,100', '--radius', '90');
    expect(code).toBe(0);
    expect(out).toMatch(/bloom falloff +2\.[45]/);
    expect(out).toMatch(/blades +too little evidence/);
  });

  it.each([
    [['--at', '500,1'], 3, /500,1 lies outside the picture, which is 200 x 200/],
    [['--at', 'there'], 2, /two numbers x,y are wanted/],
    [[], 2, /--at/],
  ])('tells what is wrong with %j', async (wrong, status, message) => {
    const { code, err } = await bokelux('measure', at('lamp.exr'), ...wrong);
    expect(code).toBe(status);
    expect(err).toMatch(message);
  });
});
