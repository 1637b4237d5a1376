import { bladesOf, countSpikes, rotationOf } from './spikes';

describe('counting spikes', () => {
  it('counts by what repeats about the turn, and names every number of blades that it may be', () => {
    const spiky = (count: number, at: number): number[] =>
      Array.from({ length: 360 }, (_, k) => {
        const phase = (((k + 0.5 - at) * count) / 360) % 1;
        return 4 * Math.exp(-((Math.min(Math.abs(phase), 1 - Math.abs(phase)) * 8) ** 2)) - 0.5;
      });
    for (const count of [4, 6, 8, 10, 14, 18]) {
      const found = countSpikes(spiky(count, 7))!;
      expect(found.count).toBe(count);
      expect(((found.angle * 180) / Math.PI - 7) % (360 / count)).toBeCloseTo(0, 1);
    }
    // Without an order of its own there are none.
    let state = 3;
    const noise = (): number => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
    expect(countSpikes(Array.from({ length: 360 }, noise))).toBeUndefined();
    expect([6, 8, 10, 14].map(bladesOf)).toEqual([[6, 3], [8], [5, 10], [7, 14]]);
    // A corner of a square points up, so its spikes stand at 45 degrees.
    expect(rotationOf(4, Math.PI / 4)).toBeCloseTo(0, 9);
  });
});
