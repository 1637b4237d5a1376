import type { Light } from '../../light/light';
import { maskAt, maskKey } from '../../light/mask';
import type { StationContext } from '../../light/station';
import { gaussianBlur } from '../../image/gaussian-blur';
import { BEAUTY } from '../../image/passes';
import { mapRgb } from '../../image/rgb';
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
  const { pass, mask: name, preblur, despike: times } = settings;
  const mask = await maskAt(look, name, `${path}.mask`, context.plate, light.scale, context.cache);
  const taken =
    pass === BEAUTY
      ? light.total
      : (await passAsSeen(context, pass, `${path}.pass`, look, light.scale)).total;
  const { width, height } = light;
  const source = times > 0 ? despike(taken, width, height, times).rgb : taken;
  const deviation = preblur * scaledFrame(context.plate, light.scale).height;
  const measured =
    deviation > 0
      ? mapRgb(source, (plane) => gaussianBlur(plane, width, height, deviation, deviation))
      : source;
  return (threshold) => selectFeed(source, light, { ...settings, threshold }, { mask, measured });
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
