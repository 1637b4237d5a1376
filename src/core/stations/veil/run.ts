import { withSeparation, type Light } from '../../light/light';
import { luminanceSum } from '../../image/luminance-sum';
import type { Rgb } from '../../image/rgb';
import { scaledFrame } from '../../light/plate';
import type { EnergyAccount, Feed, StationContext, StationEffect } from '../../light/station';
import { subProgress } from '../../kernels/runtime/parallel';
import type { Look } from '../../look/look';
import { plateReads } from '../plate/run';
import { blendOf } from './blend';
import { applyScatter } from './composite';
import { computeFeed, type CachedFeed } from './fed-light';
import { glowOfLights, glowReads, hasFeedingLights } from './fed-by-lights';
import { veilParts, type VeilPart } from './parts';
import { spikeSqueeze } from './parts/spikes';
import { withSaturation } from './saturation';
import { scatterFeed } from './scatter';

/** Width of the replicated border, as a share of the frame's height. */
const EDGE_PADDING = 0.2;

/**
 * Veil: the light that the lens scatters around bright sources. The fed part of the picture is convolved with one
 * point-spread function and put back: `out = in - w feed + w (feed * K)`, or without the middle term in mode add. Parts
 * that share a feed are convolved at once, unless each is wanted by itself.
 */
export const veilEffect: StationEffect = {
  isActive: (look) => look.veil.on,
  // A feed from a single pass is prepared like the plate; spikes are an image of the pupil.
  reads: (look, nearby) => [
    look.veil,
    plateReads(look),
    look.veil.spikes.on && look.veil.spikes.amount > 0 && [look.pupil, spikeSqueeze(look)],
    needsCamera(look) && look.camera,
    glowReads(look, nearby),
  ],
  reach: () => Infinity,
  needsWhole: hasFeedingLights,
  async run(light, look, context) {
    const parts = activeParts(light, look, context);
    const { groups, feeds } = await groupByFeed(parts, light, look, context);
    const glow = await glowOfLights(parts, light, look, context);
    if (groups.length === 0) return { light, feeds };
    const removed = look.veil.mode === 'keep' ? 1 : 0;
    const padding = edgePadding(light, look, context);
    let result = light;
    let [moved, arrived] = [0, 0];
    for (const [index, { source, parts: members }] of groups.entries()) {
      const share = subProgress(context, index / groups.length, (index + 1) / groups.length);
      const blend = blendOf(members);
      const scattered = await scatterFeed(source, light, blend, padding, { ...context, ...share });
      const modulation = await members[0]!.modulation?.(light);
      const { feed } = source;
      const separate = !context.totalOnly;
      const made = applyScatter(result.total, scattered, {
        coloured: await withSaturation(scattered, light, members[0]!.saturation, context),
        feed: feed.rgb,
        blend,
        removed,
        modulation,
        separate,
      });
      result = withScatter(result, members.map((part) => part.name).join('+'), made);
      moved += blend.amount * feed.light;
      arrived += blend.amount * made.arrived;
    }
    if (glow) result = withSeparation(result, { name: 'veil.lights', rgb: glow });
    return { light: result, feeds, account: energyAccount(light.total, moved, arrived, look) };
  },
};

/** The light with a part of the veil on it, whose sum is known already. Without a separation it all becomes the base. */
function withScatter(
  light: Light,
  name: string,
  { separation, total }: Pick<ReturnType<typeof applyScatter>, 'separation' | 'total'>,
): Light {
  if (!separation) return { ...light, base: total, separations: [], total };
  return { ...light, separations: [...light.separations, { name, rgb: separation }], total };
}

/** The parts that scatter, held to the light that there is. */
function activeParts(light: Light, look: Look, context: StationContext): VeilPart[] {
  const { plate, cache, kernels } = context;
  const parts = veilParts(look, {
    size: { width: plate.whole.width * light.scale, height: plate.whole.height * light.scale },
    frame: scaledFrame(plate, light.scale),
    cache,
    diffraction: kernels.diffraction,
    signal: context.signal,
    draft: context.draft ?? false,
    frameNumber: plate.frameNumber ?? 0,
    image: context.image,
  }).filter(({ amount }) => amount > 0);
  return look.veil.mode === 'add' ? parts : limitToUnitSum(parts);
}

/** A lens cannot scatter more light than there is: parts that ask for more are scaled down together. */
function limitToUnitSum(parts: VeilPart[]): VeilPart[] {
  const sum = parts.reduce((total, { amount }) => total + amount, 0);
  return sum <= 1 ? parts : parts.map((part) => ({ ...part, amount: part.amount / sum }));
}

/** Parts that are convolved at once, and the light they scatter. */
interface FeedGroup {
  source: CachedFeed;
  parts: VeilPart[];
}

async function groupByFeed(
  parts: readonly VeilPart[],
  light: Light,
  look: Look,
  context: StationContext,
): Promise<{ groups: FeedGroup[]; feeds: Record<string, Feed> }> {
  const common = await computeFeed(light, look, look.veil.feed, 'veil.feed', context);
  const feeds: Record<string, Feed> = { veil: common.feed };
  const groups = new Map<string, FeedGroup>();
  for (const part of parts) {
    const source = part.ownFeed
      ? await computeFeed(light, look, part.feed, `${part.name}.feed`, context)
      : common;
    if (part.ownFeed) feeds[part.name] = source.feed;
    // Modulation depends on the place in the frame, so it cannot be convolved with others; nor can what is seen in other colours.
    const alone = context.separate || context.apart?.includes(part.name) || part.modulation !== undefined;
    const key = alone ? part.name : `${part.saturation} ${source.key}`;
    const group = groups.get(key) ?? { source, parts: [] };
    group.parts.push(part);
    groups.set(key, group);
  }
  return { groups: [...groups.values()], feeds };
}

/** Pixels by which the edge is replicated before the convolution. A window of a picture ends within it and needs none. */
function edgePadding(light: Light, look: Look, { plate }: StationContext): number {
  const isWhole = plate.whole.width === plate.picture.width && plate.whole.height === plate.picture.height;
  if (!isWhole || look.veil.edge !== 'repeat') return 0;
  return Math.ceil(EDGE_PADDING * scaledFrame(plate, light.scale).height);
}

/** Spikes go by f-stop and sensor, the glare of the eye by the angle of view. */
function needsCamera({ veil: { bloom, spikes, filter } }: Look): boolean {
  const isSpiked = [spikes, filter].some(({ on, amount }) => on && amount > 0);
  return isSpiked || (bloom.on && bloom.amount > 0 && bloom.law === 'eye');
}

/** Where the light went: `moved` is what was taken, as a share of all, `arrived` what came down in the frame. */
function energyAccount(input: Rgb, moved: number, arrived: number, look: Look): EnergyAccount {
  const all = luminanceSum(input);
  if (!(all > 0)) return { moved: 0, lostOutsideFrame: 0, gain: 1 };
  const difference = moved - arrived / all;
  // Sums in single precision differ by about as much; anything more is told, a gain as well.
  const lostOutsideFrame = Math.abs(difference) < 1e-6 ? 0 : difference;
  return {
    moved,
    lostOutsideFrame,
    gain: look.veil.mode === 'keep' ? 1 - lostOutsideFrame : 1 + arrived / all,
  };
}
