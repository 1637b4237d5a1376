import { luminance } from '../color/primaries';
import { brightRegions } from './bright-regions';
import type { Rgb } from './rgb';

const SIZE = { width: 40, height: 24 };
const count = SIZE.width * SIZE.height;
const grey = (fill: (x: number, y: number) => number): Rgb => {
  const plane = Float32Array.from({ length: count }, (_, i) =>
    fill(i % SIZE.width, Math.floor(i / SIZE.width)),
  );
  return [plane, plane, plane];
};

/** The same by flooding, pixel by pixel: a plain way that shares nothing with the other. */
function flooded(plane: Float32Array, threshold: number): { pixels: number; light: number }[] {
  const seen = new Set<number>();
  const regions: { pixels: number; light: number }[] = [];
  plane.forEach((value, start) => {
    if (seen.has(start) || !(value > threshold)) return;
    const region = { pixels: 0, light: 0 };
    const open = [start];
    seen.add(start);
    for (let i = open.pop(); i !== undefined; i = open.pop()) {
      region.pixels++;
      region.light += plane[i]!;
      const [x, y] = [i % SIZE.width, Math.floor(i / SIZE.width)];
      for (let v = y - 1; v <= y + 1; v++)
        for (let u = x - 1; u <= x + 1; u++) {
          const next = v * SIZE.width + u;
          if (u < 0 || v < 0 || u >= SIZE.width || v >= SIZE.height || seen.has(next)) continue;
          if (!(plane[next]! > threshold)) continue;
          seen.add(next);
          open.push(next);
        }
    }
    regions.push(region);
  });
  return regions.sort((a, b) => b.light - a.light);
}

describe('bright regions', () => {
  it('have place, light, size and colour', () => {
    const [r] = grey((x, y) =>
      x >= 10 && x < 13 && y >= 5 && y < 7 ? 20 : x === 30 && y === 20 ? 900 : 0.1,
    );
    const half = r.map((value) => value / 2);
    const [lamp, strip, ...more] = brightRegions([r, half, half], SIZE, 1);
    expect(more).toEqual([]);
    expect(lamp).toMatchObject({ pixels: 1, flux: [900, 450, 450], brightest: 20 * SIZE.width + 30 });
    expect(lamp!.x).toBeCloseTo(30.5, 9);
    expect(lamp!.y).toBeCloseTo(20.5, 9);
    expect(lamp!.peak).toBeCloseTo(luminance(900, 450, 450), 3);
    expect(strip).toMatchObject({ pixels: 6, flux: [120, 60, 60] });
    expect(strip!.x).toBeCloseTo(11.5, 9);
    expect(strip!.y).toBeCloseTo(6, 9);
  });

  it('that join below, in a spiral or by a corner are one', () => {
    const cup = grey((x, y) => (((x === 5 || x === 15) && y < 12) || (y === 12 && x > 5 && x < 15) ? 5 : 0));
    expect(brightRegions(cup, SIZE, 1)).toHaveLength(1);
    const slant = grey((x, y) => (x === y && x < 20 ? 5 : 0));
    expect(brightRegions(slant, SIZE, 1)).toMatchObject([{ pixels: 20 }]);
  });

  it.each([0.3, 0.55, 0.8])('are those that flooding finds, in noise over %d', (threshold) => {
    let state = 7;
    const next = (): number => (state = (state * 48271) % 2147483647) / 2147483647;
    const noise = grey(() => next());
    const found = brightRegions(noise, SIZE, threshold);
    const wanted = flooded(noise[0], threshold);
    expect(found.map(({ pixels }) => pixels).sort()).toEqual(wanted.map(({ pixels }) => pixels).sort());
    found.forEach(({ flux }, k) => expect(flux[1]).toBeCloseTo(wanted[k]!.light, 4));
  });

  it('are none in the dark, nor where there is no number', () => {
    expect(
      brightRegions(
        grey(() => 0),
        SIZE,
        0,
      ),
    ).toEqual([]);
    expect(
      brightRegions(
        grey((x) => (x === 3 ? NaN : 0.5)),
        SIZE,
        1,
      ),
    ).toEqual([]);
  });
});
