import { serialRunner } from '../../src/core/jobs';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { assignSetting, defaultLook } from '../../src/core/look/look';
import { BenchEngine } from '../../src/engine/bench-engine';

const [SIDE, CORE, FALLOFF, LAMP] = [200, 5, 2.5, 1000];

/** A lamp in one pixel, and a glow by the formula about it: a power of the distance about a core. */
async function lampFile(): Promise<Uint8Array> {
  const picture = emptyPicture(SIDE, SIDE);
  const plane = Float32Array.from({ length: SIDE * SIDE }, (_, i) => {
    const [dx, dy] = [(i % SIDE) - 100, Math.floor(i / SIDE) - 100];
    const own = dx === 0 && dy === 0 ? LAMP : 0;
    return own + 0.5 * (1 + (dx * dx + dy * dy) / CORE ** 2) ** (-FALLOFF / 2) + 0.01;
  });
  for (const channel of ['R', 'G', 'B']) addChannel(picture, channel, 'float', plane);
  return writeExr(picture);
}

const circle = { x: 0.5, y: 0.5, radius: 0.4 };
const valueOf = <T>(outcome: { value: T } | { failure: { what: string } }): T => {
  if ('failure' in outcome) throw new Error(outcome.failure.what);
  return outcome.value;
};

describe('the engine about lamps', () => {
  const engine = new BenchEngine(serialRunner);
  beforeAll(async () => {
    const bytes = await lampFile();
    const files = [{ name: 'lamp.exr', read: () => Promise.resolve(bytes) }];
    valueOf(await engine.openPlate('lamp', 'lamp.exr', files));
  });
  const look = assignSetting(defaultLook(), 'veil.bloom.amount=0.2');
  const ask = <Name extends 'lampLight' | 'measureLamp'>(name: Name, input: never) =>
    engine.ask<Name>({ name, look, input, plate: 'lamp' });

  it('tells what a lamp gives before the veil, whatever the veil does', async () => {
    const light = valueOf(await ask('lampLight', { circle } as never));
    expect(light! * SIDE ** 2).toBeGreaterThan(LAMP);
    expect(light! * SIDE ** 2).toBeLessThan(1.02 * LAMP);
    expect(
      valueOf(await ask('lampLight', { circle: { x: 2, y: 2, radius: 0.01 } } as never)),
    ).toBeUndefined();
  });

  it('measures a lamp of a reference', async () => {
    const input = { circle, gains: [2, 2, 2], camera: look.camera } as never;
    const { bloom, height, profile } = valueOf(await ask('measureLamp', input))!;
    expect(height).toBe(SIDE);
    expect(bloom.falloff!.value).toBeCloseTo(FALLOFF, 1);
    // The light far away is the even light behind, twice as bright.
    expect(profile.light.at(-1)!).toBeGreaterThan(0.02);
    expect(profile.light.at(-1)!).toBeLessThan(0.025);
  });

  it('reads the light about a lamp from what was shown last', async () => {
    expect(engine.readLamp(circle)).toBeUndefined();
    const request = { plate: 'lamp', look: defaultLook(), scale: 1, viewExposure: 0 };
    valueOf(await engine.show({ ...request, lane: 'view', subject: { kind: 'final' } }));
    const plain = engine.readLamp(circle)!;
    expect(plain.height).toBe(SIDE);
    expect(plain.source.x).toBeCloseTo(100.5, 1);
    valueOf(await engine.show({ ...request, look, lane: 'view', subject: { kind: 'final' } }));
    const veiled = engine.readLamp(circle)!;
    expect(veiled.profile.light[12]!).toBeGreaterThan(1.5 * plain.profile.light[12]!);
  });
});
