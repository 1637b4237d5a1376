import { lampLight, measure, options, photograph } from './lamp-photographs';
import { polygonImage } from './polygon-image';

const REACH = 230;

describe('a lamp with spikes and a glow', () => {
  it.each([
    [5, 11, 2.3, 6],
    [6, 20, 2.6, 4],
    [7, 3, 2.2, 8],
    [8, 30, 2.8, 6],
    [9, 8, 2.4, 5],
  ])(
    'tells %p blades, their rotation within 2 degrees and the glow between them',
    async (blades, degrees, falloff, core) => {
      const turn = (degrees * Math.PI) / 180;
      const size = 4;
      const image = polygonImage(blades, { turn, unit: options.spikeUnit * size, reach: REACH });
      const light = lampLight({ bloom: { falloff, core, amount: 0.04 }, spikes: { image, amount: 0.04 } });
      const { spikes, bloom } = await measure(await photograph(light));
      expect(spikes.blades!.value).toBe(blades);
      expect(spikes.count!.value).toBe(blades % 2 ? 2 * blades : blades);
      // The first corner of a pupil that is not turned is straight up, 90 degrees before the right.
      const period = 360 / spikes.count!.value;
      const off = ((((spikes.rotation!.value - degrees - 90) % period) + 1.5 * period) % period) - period / 2;
      expect(Math.abs(off)).toBeLessThan(2);
      expect(Math.abs(bloom.falloff!.value - falloff)).toBeLessThan(0.1);
    },
    120_000,
  );
});
