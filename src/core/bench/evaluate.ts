import { CancelledError } from '../errors';
import type { Look, StationId } from '../look/look';
import { film } from '../stations/film/run';
import { focus } from '../stations/focus/run';
import { plateLight, type CleanReport } from '../stations/plate/run';
import { veil } from '../stations/veil/run';
import type { Light } from './light';
import type { EnergyAccount, Feed, Station, StationContext, StationOutcome } from './station';

/** The stations after the plate, in light's own order. A new effect is one line here. */
export const BENCH: readonly Station[] = [focus, veil, film];

export interface EvaluateOptions {
  /** Share of the plate's full size at which to compute, over 0 to 1. */
  scale: number;
  /** Look at the light behind this station instead of at the end. */
  behind?: StationId | undefined;
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
  const { behind } = options;
  const plate = await plateLight(context, look, options.scale);
  const { cleaned } = plate;
  let { light } = plate;
  const accounts: Evaluation['accounts'] = {};
  let feeds: Evaluation['feeds'] = {};
  if (behind === 'plate') return { light, accounts, feeds, cleaned };
  for (const station of BENCH) {
    if (context.signal?.aborted) throw new CancelledError();
    if (station.on(look)) {
      const outcome = await runStation(station, light, look, context);
      light = outcome.light;
      light = options.after?.[station.id]?.(light) ?? light;
      if (outcome.account) accounts[station.id] = outcome.account;
      if (outcome.feeds) feeds = { ...feeds, ...outcome.feeds };
    }
    if (station.id === behind) break;
  }
  return { light, accounts, feeds, cleaned };
}

/** Runs a station, unless its result for the same light and settings is the last one it made at this scale. */
function runStation(
  station: Station,
  light: Light,
  look: Look,
  context: StationContext,
): Promise<StationOutcome> {
  const { separate = false, draft = false } = context;
  const key = `${light.key} > ${station.id} ${JSON.stringify([separate, draft, station.reads(look)])}`;
  return context.cache.latest(`${station.id} @${light.scale}`, key, async () => {
    const outcome = await station.run(light, look, context);
    return { ...outcome, light: { ...outcome.light, key } };
  });
}
