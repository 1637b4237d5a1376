import { deflateSync, inflateSync } from 'node:zlib';
import fc from 'fast-check';
import { deflateZlib, inflatePredicted, inflateZlib, unpredictBytes } from '.';

/** Bytes of many kinds: noise, runs, few values, a repeated phrase, long zeros. */
const samples: [string, Uint8Array][] = [
  ['nothing', new Uint8Array(0)],
  ['one byte', Uint8Array.of(7)],
  ['zeros', new Uint8Array(300_000)],
  ['noise', Uint8Array.from({ length: 100_003 }, (_, i) => (Math.imul(i, 2654435761) >>> 13) & 255)],
  ['few values', Uint8Array.from({ length: 70_001 }, (_, i) => (Math.imul(i, 40503) >>> 7) & 3)],
  ['a phrase', Uint8Array.from({ length: 90_000 }, (_, i) => 'light on water '.charCodeAt(i % 15))],
  [
    'far matches',
    Uint8Array.from({ length: 80_000 }, (_, i) => (Math.imul(i % 32_700, 2654435761) >>> 9) & 255),
  ],
  [
    'ramps and noise',
    Uint8Array.from({ length: 500_000 }, (_, i) => (i < 250_000 ? i >> 9 : Math.imul(i, i) >>> 11) & 255),
  ],
];

/** Equality of bytes; the matchers of the test runner take minutes for it. */
const same = (a: unknown, b: Uint8Array): boolean =>
  typeof a !== 'string' && Buffer.from(a as Uint8Array).equals(b);

// Source: RFC 1950 and RFC 1951 as zlib, their reference implementation, has them (through Node).
describe('deflate', () => {
  it.each(samples)('makes streams that zlib reads: %s', (_, raw) => {
    expect(same(inflateSync(deflateZlib(raw, false)), raw)).toBe(true);
  });

  it('packs about as well as zlib at level 4', () => {
    for (const [name, raw] of samples.slice(2)) {
      const [own, other] = [deflateZlib(raw, false).length, deflateSync(raw, { level: 4 }).length];
      expect({ name, ratio: own / other < 1.2 || own - other < 200 }).toEqual({ name, ratio: true });
    }
  });

  it('takes any bytes', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 3000 }), fc.integer({ min: 1, max: 60 }), (part, times) => {
        const raw = new Uint8Array(part.length * times);
        for (let k = 0; k < times; k++) raw.set(part, k * part.length);
        expect(same(inflateSync(deflateZlib(raw, false)), raw)).toBe(true);
      }),
      { numRuns: 100 },
    );
  });
});

describe('inflate', () => {
  it.each(samples)('reads what zlib writes at every level: %s', (_, raw) => {
    for (const level of [0, 1, 4, 6, 9])
      for (const strategy of [0, 2, 3, 4])
        expect(same(inflateZlib(deflateSync(raw, { level, strategy }), raw.length), raw)).toBe(true);
  });

  it('says what is wrong with a stream', () => {
    const raw = samples[4]![1];
    const packed = deflateSync(raw);
    expect(inflateZlib(packed, raw.length - 1)).toBe('too long');
    expect(inflateZlib(packed, raw.length + 1)).toBe('wrong size');
    expect(inflateZlib(packed.subarray(0, 100), raw.length)).toBe('damaged');
    expect(inflateZlib(new Uint8Array(3), 10)).toBe('damaged');
    expect(inflateZlib(Uint8Array.of(0x78, 0x9c, 7, 0, 0, 0, 0, 0), 10)).toBe('damaged');
    const wrong = Uint8Array.from(packed);
    wrong[wrong.length - 1]! ^= 1;
    expect(inflateZlib(wrong, raw.length)).toBe('checksum');
  });

  it('ends with a word or the right bytes, whatever is done to a stream', () => {
    const raw = samples[7]![1].subarray(240_000, 262_000);
    const packed = deflateSync(raw);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(packed.length - 1), fc.nat(255)), { minLength: 1, maxLength: 4 }),
        fc.nat(packed.length),
        (changes, cut) => {
          const copy = Uint8Array.from(packed.subarray(0, cut + 1));
          for (const [at, value] of changes) if (at < copy.length) copy[at] = value;
          const result = inflateZlib(copy, raw.length);
          if (typeof result !== 'string') expect(same(result, raw)).toBe(true);
        },
      ),
      { numRuns: 500 },
    );
  });
});

describe('the byte predictor', () => {
  /** Straight from the format's description: differences plus 128, even bytes first. */
  function predicted(raw: Uint8Array): Uint8Array {
    const parted = [...raw.filter((_, i) => i % 2 === 0), ...raw.filter((_, i) => i % 2 === 1)];
    return Uint8Array.from(parted, (value, i) => (i === 0 ? value : value - parted[i - 1]! + 128));
  }

  it('is that of OpenEXR, there and back, for any length', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (raw) => {
        expect(unpredictBytes(predicted(raw)).slice()).toEqual(raw);
        expect(new Uint8Array(inflateSync(deflateZlib(raw, true)))).toEqual(predicted(raw));
      }),
    );
    const large = samples[7]![1];
    const back = inflatePredicted(deflateZlib(large, true), large.length);
    expect(same(back, large)).toBe(true);
    expect(inflatePredicted(new Uint8Array(9), 9)).toBe('damaged');
  });
});
