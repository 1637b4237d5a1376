import { luminance } from '../color/primaries';
import { MIDDLE_GREY } from '../color/view';
import { ContentCache } from '../light/cache';
import { elementName, elementsOf } from '../light/elements';
import type { Light } from '../light/light';
import { scaledFrame, stackOf, type Plate } from '../light/plate';
import type { StationQuery } from '../light/query';
import type { StationContext } from '../light/station';
import {
  elementPath,
  getSetting,
  isSwitched,
  passPath,
  pathsIn,
  setSetting,
  SETTINGS,
  settingAt,
  STATION_IDS,
  STATION_LABELS,
  stationOfPath,
  type Look,
  type StationId,
} from '../look/look';
import { subProgress } from '../kernels/runtime/parallel';
import { summedPasses } from '../stations/plate/sum';
import { plateLight } from '../stations/plate/run';
import { evaluate, type Evaluation } from './evaluate';

/** Something that a picture is made with and that could be left out: an element, a pass, a part of a station. */
export interface Contributor {
  /** Path of its switch. */
  path: string;
  /** What people call it. */
  label: string;
  station: StationId;
}

/** What the final would be without a contributor. */
export interface Weight extends Contributor {
  /** Of the final's light, what would be missing where it is now. */
  share: number;
  /** The largest change that leaving it out makes, in stops: negative where it takes light away. */
  stops: number;
  /** Where that is, in pixels of the full-size picture. */
  x: number;
  y: number;
  /** What it costs, at the size at which it was weighed; undefined if that was not asked. */
  milliseconds: number | undefined;
}

/** Light between these shows on a screen: six stops under middle grey, and the brightest that a view still tells apart. */
const [DARKEST, BRIGHTEST] = [MIDDLE_GREY * 2 ** -6, 16];
/** What each of the evaluations may keep while it runs. */
const CACHE_BYTES = 256 * 1024 ** 2;
/** Pixels across at which a look is weighed. */
export const WEIGHED_WIDTH = 480;

/** Stations that count as one, since they have no parts or none that is anything by itself. */
const WHOLE: readonly StationId[] = ['focus', 'ghosts', 'glass'];

/** The switch of a part of a station. */
const PART_SWITCH = /^(veil|ghosts|glass|film)\..+\.on$/;

/** Everything that a look makes a picture of a plate with, in light's own order. */
export function contributorsOf(look: Look, plate: Plate): Contributor[] {
  const stacked = stackOf(plate).length > 1;
  const elements = elementsOf(plate, look).flatMap((element) => {
    const { index, settings } = element;
    const name = elementName(element.plate);
    const own = stacked ? [{ path: elementPath(index, 'on'), label: name, station: 'plate' as const }] : [];
    if (settings.source !== 'sum') return own;
    const passes = summedPasses(element).map((pass) => ({
      path: passPath(index, pass.name, 'on'),
      label: stacked ? `${name}: ${pass.name}` : pass.name,
      station: 'plate' as const,
    }));
    return [...own, ...passes];
  });
  const stations = STATION_IDS.filter((id) => isSwitched(id) && look[id].on).flatMap((id) => {
    const whole = WHOLE.includes(id) ? [{ path: `${id}.on`, label: STATION_LABELS[id], station: id }] : [];
    return [...whole, ...partsOf(look, id)];
  });
  return [...elements, ...stations];
}

/** The parts of a station that are on and have an amount. */
function partsOf(look: Look, id: StationId): Contributor[] {
  return SETTINGS.filter(
    ({ kind, path }) => kind === 'switch' && path.startsWith(`${id}.`) && PART_SWITCH.test(path),
  )
    .flatMap((setting) => pathsIn(look, setting))
    .filter((path) => getSetting(look, path) === true && hasAmount(look, path.slice(0, -'.on'.length)))
    .map((path) => ({ path, label: settingAt(path).group, station: stationOfPath(path) }));
}

function hasAmount(look: Look, part: string): boolean {
  const isAmount = ({ path }: { path: string }): boolean =>
    path === `${part.replace(/\[\d+\]/g, '[i]')}.amount`;
  return !SETTINGS.some(isAmount) || getSetting(look, `${part}.amount`) !== 0;
}

/** The look without a contributor. A pass that is solo is left out with the others that are. */
function without(look: Look, { path }: Contributor): Look {
  const off = setSetting(look, path, false);
  return /\.passes\./.test(path) ? setSetting(off, path.replace(/on$/, 'solo'), false) : off;
}

/**
 * What each contributor still does to the final: it is computed without each in turn, everything else as it is, at a share of the
 * plate's full size. What it costs is told if it is `timed`, which takes longer: nothing is kept from one to the next.
 */
export async function weigh(
  look: Look,
  context: StationContext,
  { scale, timed }: { scale: number; timed: boolean },
): Promise<Weight[]> {
  const contributors = contributorsOf(look, context.plate);
  const shared = new ContentCache(CACHE_BYTES);
  const run = async (one: Look, from: Light): Promise<Evaluation> => {
    const cache = timed ? new ContentCache(CACHE_BYTES) : shared;
    return evaluate(one, { ...context, cache, totalOnly: true }, { scale, from });
  };
  const { light: from } = await plateLight(context, look, scale);
  const whole = await run(look, from);
  // The first run of anything is slower than all that follow.
  const { times } = timed ? await run(look, from) : whole;
  const weights: Weight[] = [];
  // From the film back: what lies before a station is kept for all of its parts.
  const backwards = contributors.toReversed();
  for (const [index, contributor] of backwards.entries()) {
    const share = subProgress(context, index / contributors.length, (index + 1) / contributors.length);
    const bare = without(look, contributor);
    const start = contributor.station === 'plate' ? await plateLight(context, bare, scale) : { light: from };
    const rest = await run(bare, start.light);
    share.progress?.(1);
    weights.push({
      ...contributor,
      ...compare(whole.light, rest.light, context.plate, scale),
      milliseconds: timed ? saved(times, rest.times, contributor.station) : undefined,
    });
  }
  return weights.reverse();
}

/** Milliseconds that stations from one on take less. */
function saved(all: Evaluation['times'], rest: Evaluation['times'], from: StationId): number {
  return STATION_IDS.slice(STATION_IDS.indexOf(from)).reduce(
    (sum, id) => sum + Math.max(0, (all[id] ?? 0) - (rest[id] ?? 0)),
    0,
  );
}

const seen = (light: number): number => DARKEST + Math.min(light, BRIGHTEST);

/** What a picture loses and where it changes most. */
function compare(
  { total, width }: Light,
  { total: rest }: Light,
  plate: Plate,
  scale: number,
): Pick<Weight, 'share' | 'stops' | 'x' | 'y'> {
  let [all, missing, stops, place] = [0, 0, 0, 0];
  for (let i = 0; i < total[0].length; i++) {
    const before = Math.max(0, luminance(total[0][i]!, total[1][i]!, total[2][i]!));
    const after = Math.max(0, luminance(rest[0][i]!, rest[1][i]!, rest[2][i]!));
    all += before;
    missing += Math.max(0, before - after);
    const change = Math.log2(seen(before) / seen(after));
    if (Math.abs(change) > Math.abs(stops)) [stops, place] = [change, i];
  }
  const at = (k: number, most: number): number => Math.min(most - 1, Math.floor((k + 0.5) / scale));
  const { picture } = plate;
  return {
    share: all > 0 ? missing / all : 0,
    stops,
    x: at(place % width, picture.width),
    y: at(Math.floor(place / width), picture.height),
  };
}

/** The scale at which a plate's look is weighed. */
export const weighingScale = (plate: Plate): number =>
  Math.min(1, WEIGHED_WIDTH / Math.max(1, scaledFrame(plate, 1).width));

/** What each part of a look still does to a plate's picture. */
export const weighLook: StationQuery<{ timed: boolean }, { weights: Weight[] }> = async (
  look,
  { timed },
  context,
) => {
  const bench = context.bench();
  return { weights: await weigh(look, bench, { scale: weighingScale(bench.plate), timed }) };
};
