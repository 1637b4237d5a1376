import type { Light } from '../../light/light';
import { maskAt, maskKey } from '../../light/mask';
import type { StationContext } from '../../light/station';
import { gaussianBlur } from '../../image/gaussian-blur';
import { BEAUTY } from '../../image/passes';
import { blackRgb, mapRgb, type Rgb } from '../../image/rgb';
import { scaledFrame } from '../../light/plate';
import { despike } from '../plate/clean';
import type { Look } from '../../look/look';
import { preparedPass } from '../plate/run';
import { selectFeed, type FedLight } from './feed';
import type { VeilPart } from './parts';

export interface CachedFeed {
  feed: FedLight;
  /** Equal keys mean equal light. */
  key: string;
}

/** The light that feed settings select, from the cache if it is there. `path` is where the settings stand in the look. */
export async function computeFeed(
  light: Light,
  look: Look,
  settings: VeilPart['feed'],
  path: string,
  context: StationContext,
): Promise<CachedFeed> {
  const { mask: name, ...rest } = settings;
  // The plate's preparation, which a single pass is under as well, is part of the light's own key.
  const key = `${light.key} feed ${JSON.stringify(rest)} ${maskKey(look, name)}`;
  const feed = await context.cache.getOrCompute(
    key,
    async () => (await feedSelector(light, look, settings, path, context))(settings.threshold),
    (made) => made.weight.byteLength * 4,
  );
  return { feed, key };
}

/** A layer of the veil, whose threshold lies beside its feed. */
const LAYER = /^veil\.stack\[(\d+)\]$/;

/** The path of the threshold over which a part of the veil feeds, or the veil itself. */
export const thresholdPath = (part = 'veil'): string =>
  LAYER.test(part) ? `${part}.threshold` : `${part}.feed.threshold`;

/** What feeds a part by a feed of its own, or the veil itself. */
export function feedOfPart(look: Look, part = 'veil'): VeilPart['feed'] {
  const layer = look.veil.stack[Number(LAYER.exec(part)?.[1])];
  if (layer) return { ...(layer.feed.own ? layer.feed : look.veil.feed), threshold: layer.threshold };
  return `${part}.feed`
    .replace(/\[(\d+)\]/g, '.$1')
    .split('.')
    .reduce<unknown>((node, key) => (node as Record<string, unknown>)[key], look) as VeilPart['feed'];
}

/** What selects a feed at a threshold, everything else as its settings have it. */
export async function feedSelector(
  light: Light,
  look: Look,
  settings: VeilPart['feed'],
  path: string,
  context: StationContext,
): Promise<(threshold: number) => FedLight> {
  const { mask: name, preblur, despike: times } = settings;
  const mask = await maskAt(look, name, `${path}.mask`, context.plate, light.scale, context.cache);
  const taken = await sourceOf(light, look, settings, path, context);
  const { width, height } = light;
  const source = times > 0 ? despike(taken, width, height, times).rgb : taken;
  const deviation = preblur * scaledFrame(context.plate, light.scale).height;
  const measured =
    deviation > 0
      ? mapRgb(source, (plane) => gaussianBlur(plane, width, height, deviation, deviation))
      : source;
  return (threshold) => selectFeed(source, light, { ...settings, threshold }, { mask, measured });
}

/** The light that a feed is chosen from: the picture's own, that of a pass, or a weighted sum of passes. */
async function sourceOf(
  light: Light,
  look: Look,
  { pass, passes }: VeilPart['feed'],
  path: string,
  context: StationContext,
): Promise<Rgb> {
  const weighted = Object.entries(passes);
  const seen = async (name: string, at: string): Promise<Rgb> =>
    name === BEAUTY
      ? light.total
      : (await passAsSeen(context, name, `${path}.${at}`, look, light.scale)).total;
  if (weighted.length === 0) return seen(pass, 'pass');
  const sum = blackRgb(light.width * light.height);
  for (const [name, weight] of weighted) {
    const planes = await seen(name, 'passes');
    sum.forEach((out, c) => {
      const plane = planes[c]!;
      for (let i = 0; i < out.length; i++) out[i]! += weight * plane[i]!;
    });
  }
  return sum;
}

/** A single pass as it is part of the picture at this place of the bench: prepared, and through the same lens. */
async function passAsSeen(
  context: StationContext,
  pass: string,
  path: string,
  look: Look,
  scale: number,
): Promise<Light> {
  const light = await preparedPass(context, pass, path, look, scale);
  return (await context.throughEarlier?.(light)) ?? light;
}
