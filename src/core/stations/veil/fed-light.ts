import type { Light } from '../../light/light';
import { maskAt, maskKey } from '../../light/mask';
import type { StationContext } from '../../light/station';
import { BEAUTY } from '../../image/passes';
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
  const { threshold, knee, measure, pass, mask: name } = settings;
  // The plate's preparation, which a single pass is under as well, is part of the light's own key.
  const key = `${light.key} feed ${JSON.stringify([threshold, knee, measure, pass])} ${maskKey(look, name)}`;
  const feed = await context.cache.getOrCompute(
    key,
    async () => (await feedSelector(light, look, settings, path, context))(threshold),
    (made) => made.weight.byteLength * 4,
  );
  return { feed, key };
}

/** Settings of the feed that stands at a path of the look. */
export const feedSettingsAt = (look: Look, path: string): VeilPart['feed'] =>
  path
    .replace(/\[(\d+)\]/g, '.$1')
    .split('.')
    .reduce<unknown>((node, key) => (node as Record<string, unknown>)[key], look) as VeilPart['feed'];

/** What selects a feed at a threshold, everything else as its settings have it. */
export async function feedSelector(
  light: Light,
  look: Look,
  settings: VeilPart['feed'],
  path: string,
  context: StationContext,
): Promise<(threshold: number) => FedLight> {
  const { pass, mask: name } = settings;
  const mask = await maskAt(look, name, `${path}.mask`, context.plate, light.scale, context.cache);
  const source =
    pass === BEAUTY
      ? light.total
      : (await passAsSeen(context, pass, `${path}.pass`, look, light.scale)).total;
  return (threshold) => selectFeed(source, light, { ...settings, threshold }, mask);
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
