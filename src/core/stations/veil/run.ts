import { withSeparation, type Light, type Rgb } from '../../bench/light';
import type { EnergyAccount, Station, StationContext } from '../../bench/station';
import { LUMINANCE } from '../../color/primaries';
import type { Spectrum } from '../../kernels/convolution';
import { portion } from '../../kernels/parallel';
import { tintGains } from '../../color/temperature';
import type { Look } from '../../look/look';
import { maskAt } from '../../bench/mask';
import { maskKey, preparedPass } from '../plate/run';
import { scaledFrame } from '../../bench/plate';
import { BEAUTY } from '../../image/passes';
import { selectFeed, type FedLight } from './feed';
import { veilParts, type VeilPart } from './parts';

/**
 * Veil: the light that the lens scatters around bright sources. The fed part of the picture is convolved with one
 * point-spread function and put back: `out = in - w feed + w (feed * K)`, or without the middle term in mode add.
 */
export const veil: Station = {
  id: 'veil',
  label: 'Veil',
  on: (look) => look.veil.on,
  // A feed from a single pass is prepared like the plate; spikes are an image of the pupil.
  reads: (look) => [
    look.veil,
    look.plate,
    look.masks,
    look.veil.spikes.amount > 0 && [look.pupil, look.camera],
  ],
  async run(light, look, context) {
    const fed = await takeFeed(light, look, context);
    const { feed, key: feedKey } = fed;
    const parts = veilParts(look, light, scaledFrame(context.plate, light.scale), context.cache).filter(
      ({ amount }) => amount > 0,
    );
    const taken = look.veil.mode === 'keep' ? 1 : 0;
    let result = light;
    let arrived = 0;
    for (const [index, part] of parts.entries()) {
      const share = portion(context, index / parts.length, (index + 1) / parts.length);
      const spread = await scatter(feed.rgb, feedKey, light, part, { ...context, ...share });
      const gains = tintGains(part.tint);
      const rgb = spread.map((plane, c) => {
        const out = new Float32Array(plane.length);
        const gain = gains[c]!;
        const source = feed.rgb[c]!;
        for (let i = 0; i < out.length; i++) out[i] = part.amount * (gain * plane[i]! - taken * source[i]!);
        return out;
      }) as unknown as Rgb;
      result = withSeparation(result, { name: part.name, rgb });
      arrived += part.amount * luminanceSum(spread);
    }
    if (parts.length === 0) return { light, feed };
    const moved = parts.reduce((sum, { amount }) => sum + amount, 0) * feed.light;
    return { light: result, feed, account: account(light.total, moved, arrived, look) };
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

/** The feed convolved with one part's kernel, before amount and tint: what a drag of those two does not change. */
async function scatter(
  feed: Rgb,
  feedKey: string,
  { width, height }: Light,
  part: VeilPart,
  context: StationContext,
): Promise<Rgb> {
  const { cache, kernels } = context;
  const { convolution } = kernels;
  return cache.take(
    `${feedKey} ${part.name} ${part.key}`,
    async () => {
      const spectra = await cache.take(
        `spectra ${width}x${height} ${part.name} ${part.key}`,
        async () => {
          const made: Spectrum[] = [];
          const all = await part.kernels(width, height);
          for (const [index, rows] of all.entries()) {
            const share = portion(context, (0.4 * index) / all.length, (0.4 * (index + 1)) / all.length);
            made.push(await convolution.prepare(width, height, rows, share));
          }
          return made;
        },
        (made) => made.reduce((sum, { bytes }) => sum + bytes, 0),
      );
      const planes = await convolution.convolve(feed, spectra, portion(context, 0.4, 1));
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

/** Where the light went: `moved` is what was taken, as a share of all, `arrived` what came down in the frame. */
function account(input: Rgb, moved: number, arrived: number, look: Look): EnergyAccount {
  const all = luminanceSum(input);
  if (!(all > 0)) return { moved: 0, left: 0, gain: 1 };
  const left = Math.max(0, moved - arrived / all);
  return { moved, left, gain: look.veil.mode === 'keep' ? 1 - left : 1 + arrived / all };
}
