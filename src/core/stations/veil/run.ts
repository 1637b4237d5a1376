import { withSeparation, type Light, type Rgb } from '../../bench/light';
import type { EnergyAccount, Station, StationContext } from '../../bench/station';
import { LUMINANCE } from '../../color/primaries';
import { tintGains } from '../../color/temperature';
import type { Look } from '../../look/look';
import { powerLawQuadrant } from '../../optics/power-law';
import { maskAt } from '../../bench/mask';
import { maskKey, preparedPass } from '../plate/run';
import { scaledFrame } from '../../bench/plate';
import { BEAUTY } from '../../image/passes';
import { selectFeed, type FedLight } from './feed';
import { bloomLaw, evenKernelRows } from './kernel';

/**
 * Veil: the light that the lens scatters around bright sources. The fed part of the picture is convolved with one
 * point-spread function and put back: `out = in - w feed + w (feed * K)`, or without the middle term in mode add.
 */
export const veil: Station = {
  id: 'veil',
  label: 'Veil',
  on: (look) => look.veil.on,
  // A feed from a single pass is prepared like the plate.
  reads: (look) => [look.veil, look.plate, look.masks],
  async run(light, look, context) {
    const { mode, bloom } = look.veil;
    const fed = await takeFeed(light, look, context);
    const { feed, key: feedKey } = fed;
    if (bloom.amount === 0) return { light, feed };
    const spread = await scatter(feed.rgb, feedKey, light, look, context);
    const gains = tintGains(bloom.tint);
    const taken = mode === 'keep' ? 1 : 0;
    const rgb = spread.map((plane, c) => {
      const out = new Float32Array(plane.length);
      const gain = gains[c]!;
      const source = feed.rgb[c]!;
      for (let i = 0; i < out.length; i++) out[i] = bloom.amount * (gain * plane[i]! - taken * source[i]!);
      return out;
    }) as unknown as Rgb;
    const result = withSeparation(light, { name: 'veil.bloom', rgb });
    return { light: result, feed, account: account(light.total, feed, spread, look) };
  },
};

async function takeFeed(
  light: Light,
  look: Look,
  context: StationContext,
): Promise<{ feed: FedLight; key: string }> {
  const { feed } = look.veil;
  // The plate's preparation, which a single pass is under as well, is part of the light's own key.
  const key = `${light.key} feed ${JSON.stringify(feed)} ${maskKey(look, feed.mask)}`;
  const { plate, cache } = context;
  const result = await context.cache.take(
    key,
    async () => {
      const mask = await maskAt(look, feed.mask, 'veil.feed.mask', plate, light.scale, cache);
      return selectFeed(await feedSource(light, look, context), light, feed, mask);
    },
    (made) => made.weight.byteLength * 4,
  );
  return { feed: result, key };
}

/** The light on the bench itself, or a single pass under the plate's exposure. */
async function feedSource(light: Light, look: Look, context: StationContext): Promise<Rgb> {
  const { pass } = look.veil.feed;
  if (pass === BEAUTY) return light.total;
  return (await preparedPass(context, pass, 'veil.feed.pass', look, light.scale)).total;
}

/** The feed convolved with the bloom's kernel, before amount and tint: what a drag of those two does not change. */
async function scatter(
  feed: Rgb,
  feedKey: string,
  light: Light,
  look: Look,
  context: StationContext,
): Promise<Rgb> {
  const { width, height } = light;
  const law = bloomLaw(look, width, height, scaledFrame(context.plate, light.scale).height);
  const { cache, kernels, signal, progress } = context;
  const { convolution } = kernels;
  return cache.take(
    `${feedKey} scatter ${JSON.stringify(law)}`,
    async () => {
      const spectrum = await cache.take(
        `spectrum ${width}x${height} ${JSON.stringify(law)}`,
        () =>
          convolution.prepare(width, height, evenKernelRows(powerLawQuadrant(law, width, height), width), {
            signal,
            progress: progress && ((done) => progress(done * 0.4)),
          }),
        (made) => made.bytes,
      );
      const planes = await convolution.convolve(feed, [spectrum], {
        signal,
        progress: progress && ((done) => progress(0.4 + done * 0.6)),
      });
      return planes as unknown as Rgb;
    },
    (planes) => planes.length * planes[0].byteLength,
  );
}

function luminanceSum(rgb: Rgb): number {
  let sum = 0;
  rgb.forEach((plane, c) => {
    let part = 0;
    for (let i = 0; i < plane.length; i++) part += plane[i]!;
    sum += LUMINANCE[c]! * part;
  });
  return sum;
}

function account(input: Rgb, feed: FedLight, spread: Rgb, look: Look): EnergyAccount {
  const all = luminanceSum(input);
  if (!(all > 0)) return { moved: 0, left: 0, gain: 1 };
  const { amount } = look.veil.bloom;
  const moved = amount * feed.light;
  const arrived = (amount * luminanceSum(spread)) / all;
  const left = Math.max(0, moved - arrived);
  return { moved, left, gain: look.veil.mode === 'keep' ? 1 - left : 1 + arrived };
}
