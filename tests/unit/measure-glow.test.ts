import type { Estimate } from '../../src/core/measure/light-fit';
import { measureLight } from '../../src/core/measure/measure';
import type { MeasuredPicture } from '../../src/core/measure/polar';
import { HEIGHT, holds, lampLight, measure, options, photograph, PLACE, WIDTH } from './lamp-photographs';

/** Falloffs of lamps before heaps of light, as they are and as they are found. */
async function texturedLamps(seeds: readonly number[], texture: number) {
  const lamps: { truth: number; found: Estimate | null }[] = [];
  for (const seed of seeds) {
    const bloom = { falloff: 2 + 0.1 * seed, core: 4 + 0.5 * seed, amount: 0.05 };
    const picture = await photograph(lampLight({ bloom, texture, seed }), [1, 1, 1], seed);
    lamps.push({ truth: bloom.falloff, found: (await measure(picture)).bloom.falloff });
  }
  return lamps;
}

describe('a lamp with a glow alone', () => {
  it.each([
    [2, 5],
    [2, 10],
    [2.5, 8],
    [3, 6],
    [3, 12],
  ])('tells a falloff of %p within 0.1 and a core of %p pixels within 15 percent', async (falloff, core) => {
    const picture = await photograph(lampLight({ bloom: { falloff, core, amount: 0.05 } }));
    // The place is clicked beside its middle.
    const { source, bloom, spikes, halo, tint } = await measure(picture, { x: PLACE.x + 3, y: PLACE.y - 2 });
    expect(source.isClipped).toBe(true);
    expect(Math.hypot(source.x - PLACE.x, source.y - PLACE.y)).toBeLessThan(0.3);
    expect(Math.abs(bloom.falloff!.value - falloff)).toBeLessThan(0.1);
    expect(Math.abs((bloom.radius!.value * HEIGHT) / core - 1)).toBeLessThan(0.15);
    // A lamp that is cut off does not tell how much of its light is spread, and there is nothing else.
    expect(bloom.amount).toBeNull();
    expect([spikes.count, spikes.blades, halo.radius]).toEqual([null, null, null]);
    expect(holds(tint, 6500)).toBe(true);
  });

  it.each([
    [2.8, 8, 6],
    [2.3, 6, 3],
    [2, 12, 2],
  ])(
    'of falloff %p and core %p is told where it is itself cut off about the lamp, as bright as %p',
    async (falloff, core, bright) => {
      const disc = 9;
      // The height of a glow at its core, in all its light: a power law's integral to 2000 pixels.
      let whole = 0;
      for (let r = 0.005; r < 2000; r += 0.01)
        whole += 2 * Math.PI * r * 0.01 * (1 + (r / core) ** 2) ** (-falloff / 2);
      const flux = 20_000;
      const picture = await photograph(
        lampLight({ flux, disc, bloom: { falloff, core, amount: (bright * whole) / flux } }),
      );
      const { source, bloom, halo } = await measure(picture);
      expect(source.isClipped).toBe(true);
      expect(Math.abs(bloom.falloff!.value - falloff)).toBeLessThan(0.1);
      expect(halo.radius).toBeNull();
    },
  );

  it('tells the amount where the lamp is not cut off, and the tint of the glow', async () => {
    const light = lampLight({ bloom: { falloff: 2.6, core: 6, amount: 0.04 } });
    const plane = (gain: number): Float32Array => light.map((value) => gain * value);
    const scene = {
      rgb: [plane(1), plane(1), plane(1)] as const,
      width: WIDTH,
      height: HEIGHT,
      clip: Infinity,
    };
    const { bloom, source } = await measure({ ...scene, rgb: [...scene.rgb] });
    expect(source.isClipped).toBe(false);
    expect(Math.abs(bloom.amount!.value / 0.04 - 1)).toBeLessThan(0.15);
    // Warm by 1.6 in red over blue: a black body of about 4400 K against one of 6500 K (Planck, computed).
    const warm = await measure(await photograph(light, [1.25, 1, 0.78]));
    expect(warm.tint!.value).toBeGreaterThan(3800);
    expect(warm.tint!.value).toBeLessThan(5200);
  });

  it('finds a halo, within 5 percent', async () => {
    const ring = { radius: 70, deviation: 6, light: 0.05 };
    const { halo, bloom } = await measure(
      await photograph(lampLight({ bloom: { falloff: 2.4, core: 6, amount: 0.05 }, ring })),
    );
    expect(Math.abs((halo.radius!.value * HEIGHT) / 70 - 1)).toBeLessThan(0.05);
    expect(Math.abs(bloom.falloff!.value - 2.4)).toBeLessThan(0.15);
  });

  it('keeps the truth within its interval in nine of ten before what is not even', async () => {
    const told = (await texturedLamps([1, 2, 3, 4, 5, 6, 7, 8, 9, 10], 0.01)).filter(({ found }) => found);
    expect(told.length).toBeGreaterThanOrEqual(7);
    const right = told.filter(({ found, truth }) => holds(found, truth));
    expect(right.length).toBeGreaterThanOrEqual(0.9 * told.length);
  }, 300_000);

  it('says nothing rather than what is wrong before what is three times as bright', async () => {
    const told = (await texturedLamps([1, 2, 5, 8], 0.03)).filter(({ found }) => found);
    expect(told.length).toBeGreaterThanOrEqual(1);
    expect(told.every(({ found, truth }) => holds(found, truth))).toBe(true);
  }, 300_000);

  it('says nothing where there is nothing', async () => {
    const black = new Float32Array(WIDTH * HEIGHT);
    const dark = {
      rgb: [black, black, black],
      width: WIDTH,
      height: HEIGHT,
      clip: 1,
    } satisfies MeasuredPicture;
    expect(await measureLight(dark, PLACE, 100, options)).toBeUndefined();
    const bare = await measure(await photograph(lampLight({ bloom: { falloff: 2, core: 5, amount: 0 } })));
    expect([bare.bloom.falloff, bare.spikes.count, bare.halo.radius]).toEqual([null, null, null]);
    expect(bare.notes.join()).toMatch(/too little/);
  });
});
