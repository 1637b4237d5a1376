import { AXIS } from '../stations';
import { BENCH_HEIGHT, rayPaths, scatteredRays, stationX } from './drawing';

describe('the drawing of the bench', () => {
  it.each([3, 7])('spreads %d stations evenly inside the strip', (count) => {
    const places = Array.from({ length: count }, (_, index) => stationX(index, count, 1280));
    expect(places[0]).toBeGreaterThan(60);
    expect(places.at(-1)).toBeLessThan(1220);
    places.slice(1).forEach((x, index) => expect(x - places[index]!).toBeCloseTo(1280 / count, 9));
  });

  it('sends rays from the first element to the last, symmetric about the axis', () => {
    const paths = rayPaths([2, 15, 2], 1200);
    expect(paths).toHaveLength(7);
    const heights = paths.map((path) => Number(/L600\.0 ([\d.]+)/.exec(path)![1]) - AXIS);
    heights.forEach((height, index) => expect(height).toBeCloseTo(-heights[6 - index]!, 0));
    expect(paths[0]).toMatch(/^M200\.0 .* L1000\.0 /);
  });

  it('runs through the height of each element', () => {
    const [top] = rayPaths([2, 7.5, 2], 1200);
    expect(top).toContain(`L600.0 ${(AXIS - 7.5).toFixed(1)}`);
  });

  it('scatters more rays the more light is moved, and none from a clear lens', () => {
    expect(scatteredRays(600, 1000, 0, 15)).toEqual([]);
    const [little, much] = [0.002, 0.1].map((moved) => scatteredRays(600, 1000, moved, 15));
    expect(little!.length).toBeGreaterThan(0);
    expect(much!.length).toBeGreaterThan(little!.length);
    for (const path of much!) {
      for (const [, y] of path.matchAll(/ ([\d.]+)/g)) {
        expect(Number(y)).toBeGreaterThanOrEqual(0);
        expect(Number(y)).toBeLessThanOrEqual(BENCH_HEIGHT);
      }
    }
  });
});
