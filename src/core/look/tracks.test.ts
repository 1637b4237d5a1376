import bezierEasing from 'bezier-easing';
import fc from 'fast-check';
import { easeCurve } from './ease';
import { blinkLevel, smoothNoise } from './life';
import { assignSetting, defaultLook, settingAt } from './look';
import { lookAt, parseTracks, retime, tracksDocument, valueAt, type Tracks } from './tracks';

const PATH = 'veil.bloom.amount';
const tracksOf = (track: unknown, path = PATH): Tracks =>
  parseTracks({ version: 1, tracks: { [path]: track } });
const at = (tracks: Tracks, frame: number, path = PATH): unknown =>
  valueAt(settingAt(path), tracks[path]!, { frame, own: 0.5 });
const keys = fc
  .uniqueArray(fc.integer({ min: -50, max: 200 }), { minLength: 2, maxLength: 8 })
  .chain((frames) =>
    fc.tuple(
      fc.constant([...frames].sort((a, b) => a - b)),
      fc.array(fc.double({ min: 0, max: 1, noNaN: true }), {
        minLength: frames.length,
        maxLength: frames.length,
      }),
    ),
  )
  .map(([frames, values]) => frames.map((frame, k) => ({ frame, value: values[k]! })));

describe('a setting over time', () => {
  it.each([
    [0.25, 0.1, 0.25, 1],
    [0.42, 0, 0.58, 1],
    [0.1, -0.6, 0.2, 1.4],
    [0.9, 0.1, 0.05, 0.95],
  ] as [number, number, number, number][])(
    'eases by handles %p, %p, %p, %p as another library does',
    (...handles) => {
      // bezier-easing 2.1.0 (MIT), by Newton's method on a table.
      const other = bezierEasing(...handles);
      for (let t = 0; t <= 1; t += 0.01)
        expect(Math.abs(easeCurve(handles, t) - other(t))).toBeLessThan(1e-5);
    },
  );

  it('goes evenly, stays, or jumps at its keys', () => {
    const tracks = tracksOf([
      { frame: 10, value: 0.1 },
      { frame: 20, value: 0.3 },
      { frame: 30, value: 0.5, ease: 'hold' },
    ]);
    expect([0, 10, 15, 20, 29.9, 30, 99].map((frame) => at(tracks, frame))).toEqual([
      ...[0.1, 0.1, 0.2, 0.3, 0.3, 0.5, 0.5],
    ]);
  });

  it('repeats, or goes back and forth, before its first key and after its last', () => {
    const track = [
      { frame: 0, value: 0 },
      { frame: 10, value: 1 },
    ];
    const loop = tracksOf({ keys: track, before: 'loop', after: 'loop' });
    expect([-1, 3, 13, 20, 27].map((frame) => at(loop, frame))).toEqual([0.9, 0.3, 0.3, 0, 0.7]);
    const back = tracksOf({ keys: track, before: 'ping-pong', after: 'ping-pong' });
    expect([-3, 3, 13, 20, 27].map((frame) => at(back, frame))).toEqual([0.3, 0.3, 0.7, 0, 0.7]);
  });

  it('is exact at its keys, and never leaves the range of two keys if it is smooth', () => {
    fc.assert(
      fc.property(
        keys,
        fc.constantFrom('linear', 'smooth', 'hold'),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (all, ease, t) => {
          const tracks = tracksOf(all.map((key) => ({ ...key, ease })));
          for (const { frame, value } of all) expect(at(tracks, frame)).toBeCloseTo(value, 12);
          all.slice(1).forEach((to, k) => {
            const from = all[k]!;
            const value = at(tracks, from.frame + t * (to.frame - from.frame)) as number;
            expect(value).toBeGreaterThanOrEqual(Math.min(from.value, to.value) - 1e-12);
            expect(value).toBeLessThanOrEqual(Math.max(from.value, to.value) + 1e-12);
          });
        },
      ),
    );
  });

  it('rises all the way where its keys rise, in every way there is', () => {
    fc.assert(
      fc.property(keys, fc.constantFrom('linear', 'smooth', [0.4, 0, 0.6, 1]), (all, ease) => {
        const values = all.map(({ value }) => value).sort((a, b) => a - b);
        const tracks = tracksOf(all.map(({ frame }, k) => ({ frame, value: values[k]!, ease })));
        let before = -Infinity;
        for (let frame = all[0]!.frame; frame <= all.at(-1)!.frame; frame += 0.25) {
          const value = at(tracks, frame) as number;
          expect(value).toBeGreaterThanOrEqual(before - 1e-9);
          before = value;
        }
      }),
      { numRuns: 40 },
    );
  });

  it('is the same at other frames after it is moved and stretched', () => {
    const life = { kind: 'blink', low: 0, high: 1, on: 3, off: 2, rise: 1, fall: 1, offset: 4 };
    fc.assert(
      fc.property(keys, fc.integer({ min: -20, max: 20 }), fc.constantFrom(0.5, 2, 4), (all, by, factor) => {
        for (const tracks of [tracksOf(all), tracksOf({ keys: [], life })]) {
          const moved = retime(tracks, { by, factor, about: 12 });
          for (let frame = -10; frame < 60; frame += 3.5)
            expect(at(moved, 12 + (frame - 12) * factor + by)).toBeCloseTo(at(tracks, frame) as number, 9);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('goes as light does between colours, and jumps between what has nothing between', () => {
    const tint = 'veil.bloom.tintColour';
    const colours = tracksOf(
      [
        { frame: 0, value: '#000000' },
        { frame: 2, value: '#ffffff' },
      ],
      tint,
    );
    // Half of white's light is sRGB 188 (IEC 61966-2-1).
    expect(at(colours, 1, tint)).toBe('#bcbcbc');
    const law = 'veil.bloom.law';
    const choices = tracksOf(
      [
        { frame: 0, value: 'power' },
        { frame: 2, value: 'eye' },
      ],
      law,
    );
    expect([0, 1.9, 2].map((frame) => at(choices, frame, law))).toEqual(['power', 'power', 'eye']);
  });
});

describe('what moves by itself', () => {
  it('blinks: so many frames on and off, with ramps', () => {
    const times = { on: 2, off: 3, rise: 1, fall: 1 };
    expect(Array.from({ length: 8 }, (_, frame) => blinkLevel(times, frame))).toEqual([
      0, 1, 1, 1, 0, 0, 0, 0,
    ]);
    expect(blinkLevel(times, 0.5)).toBe(0.5);
    expect(blinkLevel(times, -3.5)).toBe(0.5);
    // Ten frames held, one changing.
    const held = tracksOf({ life: { kind: 'blink', low: 0.2, high: 0.8, on: 1, off: 10 } });
    const values = Array.from({ length: 22 }, (_, frame) => at(held, frame));
    expect(values.filter((value) => value === 0.8)).toHaveLength(2);
    expect(values.filter((value) => value === 0.2)).toHaveLength(20);
  });

  it('alternates between any two values, in opposite phase with an offset', () => {
    const life = { kind: 'blink', low: '#ff0000', high: '#ffffff', on: 4, off: 4 };
    const path = 'veil.bloom.tintColour';
    const [one, other] = [tracksOf({ life }, path), tracksOf({ life: { ...life, offset: 4 } }, path)];
    for (let frame = 0; frame < 16; frame++) expect(at(one, frame, path)).not.toBe(at(other, frame, path));
  });

  it('flickers and drifts without jumps, the same for one seed, another for another', () => {
    const flicker = (seed: number): Tracks =>
      tracksOf({ life: { kind: 'flicker', size: 0.4, rate: 0.25, seed } });
    const series = (tracks: Tracks): number[] =>
      Array.from({ length: 400 }, (_, k) => at(tracks, k / 4) as number);
    const values = series(flicker(1));
    expect(series(flicker(1))).toEqual(values);
    expect(series(flicker(2))).not.toEqual(values);
    expect(Math.max(...values)).toBeLessThanOrEqual(0.5 * 1.4);
    expect(Math.min(...values)).toBeGreaterThanOrEqual(0.5 * 0.6);
    // A quintic between two values rises by 15/8 of their distance at most a step.
    const steepest = Math.max(...values.slice(1).map((value, k) => Math.abs(value - values[k]!)));
    expect(steepest).toBeLessThan(0.5 * 0.4 * 2 * (15 / 8) * (0.25 / 4) * 1.01);
    const noise = Array.from({ length: 4000 }, (_, k) => smoothNoise(k * 0.37, 5));
    expect(Math.abs(noise.reduce((sum, value) => sum + value, 0) / noise.length)).toBeLessThan(0.05);
  });

  it('pulses between two values', () => {
    const pulse = tracksOf({ life: { kind: 'pulse', low: 0.2, high: 0.6, period: 8 } });
    expect([0, 2, 4, 6, 8].map((frame) => Number((at(pulse, frame) as number).toFixed(9)))).toEqual([
      ...[0.2, 0.4, 0.6, 0.4, 0.2],
    ]);
  });
});

describe('a look over time', () => {
  const look = assignSetting(defaultLook(), 'veil.stack[0].amount=0.1');

  it('is the plain look without tracks, and changes nothing else', () => {
    expect(lookAt(look, {}, 12)).toBe(look);
    const tracks = parseTracks({
      version: 1,
      tracks: {
        'veil.stack[0].amount': [
          { frame: 1, value: 0 },
          { frame: 3, value: 0.4 },
        ],
        'film.grain.mono': [
          { frame: 1, value: false },
          { frame: 2, value: true },
        ],
      },
    });
    const there = lookAt(look, tracks, 2);
    expect(there.veil.stack[0]!.amount).toBeCloseTo(0.2, 12);
    expect(there.film.grain.mono).toBe(true);
    expect({ ...there, veil: look.veil, film: look.film }).toEqual(look);
    expect(() => lookAt(defaultLook(), tracks, 2)).toThrow(/not in the look/);
  });

  it('is written and read the same', () => {
    const tracks = tracksOf({
      keys: [{ frame: 3, value: 0.1, ease: [0.2, 0, 0.4, 1] }],
      after: 'loop',
      life: { kind: 'drift', size: 0.1, rate: 0.5, seed: 3 },
    });
    expect(parseTracks(JSON.parse(JSON.stringify(tracksDocument(tracks))))).toEqual(tracks);
  });

  it.each([
    [{ version: 2, tracks: {} }, /version 2/],
    [{ version: 1, tracks: { 'veil.blom.amount': [{ frame: 1, value: 0 }] } }, /no setting veil.blom.amount/],
    [{ version: 1, tracks: { [PATH]: [{ frame: 1, value: 7 }] } }, /0 to 1/],
    [{ version: 1, tracks: { [PATH]: [{ frame: 1, value: 'much' }] } }, /much/],
    [{ version: 1, tracks: { [PATH]: [] } }, /tracks/],
    [{ version: 1, tracks: { [PATH]: [{ frame: 1, value: 0, ease: [2, 0, 0, 1] }] } }, /ease/],
    [
      {
        version: 1,
        tracks: {
          [PATH]: [
            { frame: 1, value: 0 },
            { frame: 1, value: 0.1 },
          ],
        },
      },
      /two keys at frame 1/,
    ],
    [{ version: 1, tracks: { masks: [{ frame: 1, value: [] }] } }, /cannot change over time/],
    [
      { version: 1, tracks: { 'veil.on': { life: { kind: 'drift', size: 1, rate: 1 } } } },
      /only numbers drift/,
    ],
    [[], /no tracks/],
  ])('is refused where it does not fit: %j', (document, why) => {
    expect(() => parseTracks(document, 't.json')).toThrow(why);
  });
});
