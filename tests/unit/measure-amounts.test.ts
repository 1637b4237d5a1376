import { ofLamp } from '../../src/core/measure/estimates';
import { proposalsOf } from '../../src/core/measure/propose';
import { HEIGHT, lampLight, measure, photograph, WIDTH, type Lamp } from './lamp-photographs';

const FLUX = 4000;
const lamp: Lamp = { flux: FLUX, bloom: { falloff: 2.4, core: 6, amount: 0.05 } };
/** A ring whose light is that of a Gaussian's area about a circle, in square pixels. */
const ring = { radius: 70, deviation: 6, light: 0.05 };
const RING = 2 * Math.PI * ring.radius * Math.sqrt(2 * Math.PI) * ring.deviation * ring.light;

const scene = (light: Float32Array) => ({
  rgb: [light, light, light] as [Float32Array, Float32Array, Float32Array],
  width: WIDTH,
  height: HEIGHT,
  clip: Infinity,
});

describe('how much of its light a lamp spreads', () => {
  it('is told of bloom and halo where it is not cut off', async () => {
    const { bloom, halo } = await measure(scene(lampLight({ ...lamp, ring })));
    const all = FLUX * 1.05 + RING;
    expect(Math.abs(bloom.amount!.value / ((0.05 * FLUX) / all) - 1)).toBeLessThan(0.15);
    expect(Math.abs(halo.amount!.value / (RING / all) - 1)).toBeLessThan(0.15);
  });

  it('is that of another lamp where it is cut off, which must give more than is spread', async () => {
    const cut = await measure(await photograph(lampLight(lamp)));
    expect(cut.bloom.amount).toBeNull();
    expect(Math.abs(cut.spread.bloom!.value / (0.05 * FLUX) - 1)).toBeLessThan(0.15);
    const twice = ofLamp(cut, 2 * FLUX);
    expect(Math.abs(twice.bloom.amount!.value / 0.025 - 1)).toBeLessThan(0.15);
    const weak = ofLamp(cut, 100);
    expect(weak.bloom.amount).toBeNull();
    expect(weak.notes.join()).toMatch(/less light than this one scatters/);
  });

  it('goes with the exposure and the white under which a picture is measured', async () => {
    const picture = await photograph(lampLight(lamp));
    const plain = await measure(picture);
    const raised = await measure({ ...picture, gains: [4, 2, 2] });
    // Of grey light the luminance goes by the weights of Rec. 709: 0.2126 of red.
    expect(raised.spread.bloom!.value / plain.spread.bloom!.value).toBeCloseTo(2 + 2 * 0.2126, 1);
    expect(raised.bloom.falloff!.value).toBeCloseTo(plain.bloom.falloff!.value, 2);
    expect(raised.tint!.value).toBeLessThan(0.8 * plain.tint!.value);
  });

  it('is proposed within what the settings take, with what they need to be seen', async () => {
    const proposals = proposalsOf(await measure(await photograph(lampLight(lamp))));
    const of = (path: string) => proposals.find((one) => one.path === path)!;
    expect(of('veil.halo.radius').estimate).toBeNull();
    expect(of('veil.bloom.falloff').estimate!.value).toBeCloseTo(2.4, 1);
    expect(of('veil.bloom.falloff').estimate!.low).toBeGreaterThanOrEqual(1.5);
    expect(of('veil.bloom.falloff').needs).toEqual([
      ['veil.on', true],
      ['veil.bloom.on', true],
      ['veil.bloom.law', 'power'],
    ]);
    expect(of('pupil.blades').needs).toContainEqual(['veil.spikes.on', true]);
  });
});
