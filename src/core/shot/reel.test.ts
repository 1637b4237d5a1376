import { NEW_REEL, isSkipped, placeAt, playedRange, rangeOfReel, stepped } from './reel';

const sequence = (...numbers: (number | null)[]) => ({
  versions: [{ frames: numbers.map((frame) => ({ frame })) }],
  version: 0,
  frame: 0,
});
const gappy = sequence(1001, 1002, 1004, 1006);

describe('the frames of a reel', () => {
  it('are those of the sequence, or five seconds of a still', () => {
    expect(rangeOfReel(NEW_REEL, gappy)).toEqual({ first: 1001, last: 1006 });
    expect(rangeOfReel(NEW_REEL, sequence(null))).toEqual({ first: 1, last: 120 });
    expect(rangeOfReel({ ...NEW_REEL, rate: 25, first: 10 }, undefined)).toEqual({ first: 10, last: 134 });
    expect(rangeOfReel({ ...NEW_REEL, first: 990, last: 1003 }, gappy)).toEqual({ first: 990, last: 1003 });
    expect(rangeOfReel({ ...NEW_REEL, first: 5, last: 2 }, undefined)).toEqual({ first: 5, last: 5 });
  });

  it('are played from in to out, as far as they lie in it', () => {
    const reel = { ...NEW_REEL, in: 1002, out: 2000 };
    expect(playedRange(reel, gappy)).toEqual({ first: 1002, last: 1006 });
    expect(playedRange({ ...reel, in: 1005, out: 1002 }, gappy)).toEqual({ first: 1005, last: 1005 });
  });

  it('without files show the one before, the first before all', () => {
    expect([1000, 1001, 1003, 1005, 1009].map((at) => placeAt(gappy, at))).toEqual([0, 0, 1, 2, 3]);
    expect(placeAt(sequence(null), 77)).toBe(0);
  });

  it('without files are passed over by choice', () => {
    const reel = { ...NEW_REEL, gaps: 'skip' as const };
    expect([1002, 1003].map((at) => isSkipped(reel, gappy, at))).toEqual([false, true]);
    expect(isSkipped(NEW_REEL, gappy, 1003)).toBe(false);
    const range = rangeOfReel(reel, gappy);
    const from = (at: number, by: 1 | -1, loop = false): number =>
      stepped(reel, gappy, { from: at, by, range, loop });
    expect([from(1002, 1), from(1004, -1), from(1006, 1), from(1006, 1, true), from(1001, -1, true)]).toEqual(
      [...[1004, 1002, 1006, 1001, 1006]],
    );
  });
});
