import { CancelledError } from '../errors';
import type { Light } from '../light/light';
import type {
  EnergyAccount,
  Feed,
  StationContext,
  StationDefinition,
  StationEffect,
  StationOutcome,
} from '../light/station';
import type { Look, StationId } from '../look/look';
import { STATIONS } from '../stations';
import { plateUnderLook } from '../stations/plate/primaries';
import { plateLight, type CleanReport } from '../stations/plate/run';

/** A station of the list with its effect, if it has one. */
type ListedStation = StationDefinition<StationId>;

export interface EvaluateOptions {
  /** Share of the plate's full size at which to compute, over 0 to 1. */
  scale: number;
  /** Look at the light behind this station instead of at the end. */
  behind?: StationId | undefined;
  /** Or before this one. */
  before?: StationId | undefined;
  /** The plate's light under this look, if it is there already. */
  from?: Light | undefined;
  /** What is done to the light behind a station; the light that it gives has a key of its own. */
  after?: Partial<Record<StationId, (light: Light) => Light>>;
}

export interface Evaluation {
  light: Light;
  accounts: Partial<Record<StationId, EnergyAccount>>;
  /** By the path of what they feed: `veil`, or a part with a feed of its own. */
  feeds: Readonly<Record<string, Feed>>;
  /** What the plate's cleaning touched, if it was asked for. */
  cleaned: CleanReport | undefined;
  /** Milliseconds that each station took. */
  times: Partial<Record<StationId, number>>;
}

/**
 * Sends a plate's light along the bench. Each station's result depends on the light before it, its own settings and
 * what it declares to read, and on nothing else; a station that is off passes the light on untouched.
 */
export async function evaluate(
  look: Look,
  context: StationContext,
  options: EvaluateOptions,
): Promise<Evaluation> {
  // Nothing else holds the plate's light, which is large and of no use once a station has passed it on.
  // eslint-disable-next-line prefer-const
  let { light, cleaned } = options.from
    ? { light: options.from, cleaned: undefined }
    : await plateLight(context, look, options.scale);
  const times: Evaluation['times'] = {};
  const accounts: Evaluation['accounts'] = {};
  let feeds: Evaluation['feeds'] = {};
  const { behind, before } = options;
  for (const { id, effect, slot } of effectsOf(
    before === undefined ? stationsUpTo(behind) : stationsBefore(before),
  )) {
    if (context.signal?.aborted) throw new CancelledError();
    if (effect.isActive(look)) {
      const begun = performance.now();
      const outcome = await runStation(id, effect, light, look, contextOf(id, look, context), slot);
      times[id] = (times[id] ?? 0) + performance.now() - begun;
      light = (slot === '' && options.after?.[id]?.(outcome.light)) || outcome.light;
      if (outcome.account) accounts[id] = outcome.account;
      if (outcome.feeds) feeds = { ...feeds, ...outcome.feeds };
    }
  }
  return { light, accounts, feeds, cleaned, times };
}

/** The stations in light's own order, up to one or all. */
export function stationsUpTo(behind: StationId | undefined): readonly ListedStation[] {
  const last = behind === undefined ? STATIONS.length : STATIONS.findIndex(({ id }) => id === behind) + 1;
  return (STATIONS as readonly ListedStation[]).slice(0, last);
}

/** An effect on the way; `slot` tells a station's two apart. */
export interface ListedEffect {
  id: StationId;
  effect: StationEffect;
  slot: '' | 'scene';
}

/**
 * The effects on the way through some stations: what any station does to the scene comes first, as soon as light leaves the
 * plate.
 */
export function effectsOf(stations: readonly ListedStation[]): ListedEffect[] {
  const scene = (STATIONS as readonly ListedStation[]).flatMap(({ id, scene: effect }) =>
    effect && stations.length > 1 ? [{ id, effect, slot: 'scene' as const }] : [],
  );
  const own = stations.flatMap(({ id, effect }) => (effect ? [{ id, effect, slot: '' as const }] : []));
  return [...scene, ...own];
}

function stationsBefore(id: StationId): readonly ListedStation[] {
  return stationsUpTo(id).slice(0, -1);
}

/** What a station runs on: it may send other light of the plate through the stations before it. */
export function contextOf(id: StationId, look: Look, context: StationContext): StationContext {
  return {
    ...context,
    plate: plateUnderLook(context.plate, look),
    throughEarlier: (other) => sendThrough(other, id, look, context),
  };
}

/** Other light than the picture's, behind the stations before one; kept apart from the picture's own results. */
async function sendThrough(
  other: Light,
  before: StationId,
  look: Look,
  context: StationContext,
): Promise<Light> {
  let light = other;
  for (const { id, effect } of stationsBefore(before))
    if (effect?.isActive(look))
      ({ light } = await runStation(id, effect, light, look, context, `for ${before}`));
  return light;
}

/** Bytes of the planes of a light that it does not share with the light it was made from. */
function newBytes(light: Light, before: Light): number {
  const planesOf = ({ base, total, separations }: Light): Float32Array[] => [
    ...base,
    ...total,
    ...separations.flatMap(({ rgb }) => rgb),
  ];
  const shared = new Set(planesOf(before));
  const own = new Set(planesOf(light).filter((plane) => !shared.has(plane)));
  return [...own].reduce((sum, { byteLength }) => sum + byteLength, 0);
}

/** Runs a station, unless its result for the same light and settings is the last one it made at this scale. */
function runStation(
  id: StationId,
  effect: StationEffect,
  light: Light,
  look: Look,
  context: StationContext,
  slot = '',
): Promise<StationOutcome> {
  const { separate = false, draft = false, totalOnly = false, apart = [] } = context;
  const key = `${light.key} > ${id} ${JSON.stringify([separate, draft, totalOnly, apart, effect.reads(look, context)])}`;
  return context.cache.getOrReplace(
    `${id} @${light.scale} ${slot}`,
    key,
    async () => {
      const outcome = await effect.run(light, look, context);
      return { ...outcome, light: { ...outcome.light, key } };
    },
    (outcome) => newBytes(outcome.light, light),
  );
}
