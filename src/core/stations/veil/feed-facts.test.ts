import { fromMask, Mask } from 'image-js';
import fc from 'fast-check';
import { defaultLook } from '../../look/look';
import type { Light } from '../../light/light';
import type { Rgb } from '../../image/rgb';
import { seeded } from '../../optics/seeded';
import { serialRunner } from '../../jobs';
import { kernelsOn } from '../../kernels';
import { ContentCache } from '../../light/cache';
import type { Plate } from '../../light/plate';
import { feedSelector } from './fed-light';
import { selectFeed, thresholdFor, type FedLight } from './feed';
import { feedFacts } from './feed-facts';

const SIZE = { width: 160, height: 120 };
const COUNT = SIZE.width * SIZE.height;
type Fill = (x: number, y: number, i: number) => number;

function lightOf(fill: Fill): Light {
  const plane = Float32Array.from({ length: COUNT }, (_, i) =>
    fill(i % SIZE.width, Math.floor(i / SIZE.width), i),
  );
  const total: Rgb = [plane, plane, plane];
  return { ...SIZE, scale: 1, base: total, total, alpha: undefined, separations: [], key: 'made' };
}
const settings = { ...defaultLook().veil.feed, threshold: 4, knee: 0 };
const fed = (fill: Fill): FedLight => {
  const light = lightOf(fill);
  return selectFeed(light.total, light, settings);
};
const facts = (fill: Fill) => feedFacts(fed(fill), SIZE);

/** Regions joined by sides and corners, as the library image-js labels them. */
function labelled(feed: FedLight): number[] {
  const mask = new Mask(SIZE.width, SIZE.height);
  feed.weight.forEach((value, i) => mask.setBitByIndex(i, value > 0 ? 1 : 0));
  const rois = fromMask(mask, { allowCorners: true }).getRois({ kind: 'white' });
  return rois.map(({ surface }) => surface).sort((a, b) => b - a);
}

describe('sources of a feed', () => {
  it('are counted as a labelling library counts them', () => {
    for (const [seed, density] of [
      [1, 0.002],
      [2, 0.03],
      [3, 0.2],
      [4, 0.45],
    ] as const) {
      const next = seeded(seed);
      const feed = fed(() => (next() < density ? 20 : 0.1));
      const surfaces = labelled(feed);
      const { sources, lone } = feedFacts(feed, SIZE);
      expect(sources).toBe(surfaces.length);
      expect(lone.count).toBe(surfaces.filter((surface) => surface <= 2).length);
    }
  });

  it('of even light have the largest where its middle is, and its share', () => {
    const disc: Fill = (x, y) => (Math.hypot(x - 60, y - 40) < 10 || (x === 120 && y === 100) ? 9 : 0.1);
    const { largest, sources, lone } = facts(disc);
    expect(sources).toBe(2);
    expect(largest!.x).toBeCloseTo(60.5, 3);
    expect(largest!.y).toBeCloseTo(40.5, 3);
    const pixels = labelled(fed(disc))[0]!;
    expect(largest!.pixels).toBeCloseTo(pixels / COUNT, 9);
    expect(largest!.light).toBeCloseTo(pixels / (pixels + 1), 6);
    expect(lone.count).toBe(1);
    expect(lone.light).toBeCloseTo(1 - largest!.light, 9);
    expect(facts(() => 0.1)).toMatchObject({ sources: 0, largest: undefined, kind: 'lamps' });
  });

  it('tell glints from a window, bright areas and a lit scene', () => {
    const glint = (x: number, y: number): boolean => x % 8 < 2 && y % 8 < 2;
    const inWindow = (x: number, y: number): boolean => x > 50 && x < 110 && y > 20 && y < 80;
    expect(facts((x, y) => (x < 3 && y < 3 ? 30 : 0.1)).kind).toBe('lamps');
    expect(facts((x, y) => (glint(x, y) ? 30 : 0.2)).kind).toBe('glints');
    expect(facts((x, y) => (inWindow(x, y) ? 8 : 0.15)).kind).toBe('subject');
    // The panes of a window, light that only just feeds.
    const pane = (x: number, y: number): boolean => x % 50 < 40 && y % 60 < 50 && x < 100;
    const soft = { ...settings, threshold: 5, knee: 1 };
    const window = lightOf((x, y) => (pane(x, y) ? 4 : 0.15));
    const through = selectFeed(window.total, window, soft);
    expect(through.light).toBeLessThan(0.5);
    expect(feedFacts(through, SIZE)).toMatchObject({ kind: 'subject', sources: 4 });
    expect(facts((x, y) => (x % 40 < 14 && y % 60 < 20 ? 8 : 0.15)).kind).toBe('areas');
    // Planks by a lamp at night: brighter than the dark, but lit by what is far brighter.
    const quay = lightOf((x, y) => (Math.hypot(x - 80, y - 20) < 3 ? 900 : y > 70 ? 0.5 : 0.01));
    const low = selectFeed(quay.total, quay, { ...settings, threshold: 0.3 });
    expect(feedFacts(low, SIZE).kind).toBe('scene');
    expect(feedFacts(selectFeed(quay.total, quay, settings), SIZE).kind).toBe('lamps');
    // A sky by day, some four times as bright as the land, and the land itself.
    const day = lightOf((x, y) =>
      y < 30 + 4 * Math.sin(x / 9) ? 4.4 + x / 200 : 1 + 0.5 * Math.sin(x / 3 + y),
    );
    const dayKind = (threshold: number): string =>
      feedFacts(selectFeed(day.total, day, { ...settings, threshold }), SIZE).kind;
    expect(dayKind(4)).toBe('subject');
    expect(dayKind(3)).toBe('subject');
    expect(dayKind(1)).toBe('scene');
    // Walls a little over the threshold beside walls a little below it.
    expect(facts((x, y) => 3 + 2 * Math.sin(x / 9) * Math.cos(y / 7)).kind).toBe('scene');
  });
});

describe('a wished share', () => {
  it('is fed at the threshold that is found, and a lower threshold never feeds less', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1000 }),
        fc.double({ min: 0.001, max: 0.9, noNaN: true }),
        fc.double({ min: 0, max: 3, noNaN: true }),
        fc.constantFrom('pixels', 'light'),
        (seed, share, knee, of) => {
          const next = seeded(seed);
          const light = lightOf(() => 0.02 * 2 ** (12 * next()));
          const select = (threshold: number): FedLight =>
            selectFeed(light.total, light, { ...settings, knee, threshold });
          const threshold = thresholdFor({ share, of }, select);
          const found = select(threshold)[of];
          expect(found).toBeLessThanOrEqual(share);
          expect(found).toBeGreaterThan(share - 0.004);
          expect(select(threshold / 2)[of]).toBeGreaterThanOrEqual(found);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('that no threshold comes to gives the end of its range', () => {
    const light = lightOf((x) => (x < 80 ? 0 : 1e6));
    const select = (threshold: number): FedLight =>
      selectFeed(light.total, light, { ...settings, threshold });
    expect(thresholdFor({ share: 0.9, of: 'pixels' }, select)).toBe(0.001);
    expect(thresholdFor({ share: 0.1, of: 'pixels' }, select)).toBe(10000);
  });
});

describe('what feeds', () => {
  const light = lightOf((x, y) => (x === 40 && y === 40 ? 400 : Math.hypot(x - 110, y - 60) < 12 ? 50 : 0.1));
  const look = defaultLook();
  const context = {
    plate: { frame: { x: 0, y: 0, ...SIZE } } as unknown as Plate,
    cache: new ContentCache(1e8),
    kernels: kernelsOn(serialRunner),
  };
  const select = async (changed: Partial<typeof settings>): Promise<FedLight> =>
    (await feedSelector(light, look, { ...settings, ...changed }, 'veil.feed', context))(settings.threshold);
  const lone = 40 * SIZE.width + 40;
  const disc = 60 * SIZE.width + 110;

  it('is held under a ceiling, whatever the picture is', async () => {
    const { rgb } = await select({ ceiling: 60 });
    expect([rgb[0][lone], rgb[0][disc]]).toEqual([60, 50]);
    expect(light.total[0][lone]).toBe(400);
  });

  it('has no single bright pixel when it is despiked, or measured on a blurred picture', async () => {
    for (const changed of [{ despike: 8 }, { preblur: 0.04 }]) {
      const { rgb } = await select(changed);
      expect([rgb[0][lone], rgb[0][disc]]).toEqual([0, 50]);
    }
  });
});
