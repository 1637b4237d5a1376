import { SettingError } from '../errors';
import type { NumberMeta, Setting } from '../settings/setting';
import { shownText } from '../settings/shown-text';
import { FILMS } from '../stations/film/starting-points';
import { FLARES } from '../stations/ghosts/starting-points';
import { LENSES } from '../stations/glass/starting-points';
import { PUPILS } from '../stations/pupil/starting-points';
import { VEILS } from '../stations/veil/starting-points';
import {
  assignSetting,
  getSetting,
  pathsIn,
  setSetting,
  settingAt,
  SETTINGS,
  STATION_LABELS,
  stationOfPath,
  type Look,
  type SettingValue,
} from './look';
import {
  applyFilm,
  applyFlare,
  applyGlass,
  applyPupil,
  applyVeil,
  type StartingPoint,
} from './starting-point';

/** How many values a setting may be tried at. */
export const FEWEST_TRIALS = 3;
export const MOST_TRIALS = 9;

/** How values lie between the first and the last. */
export type Spacing = 'even' | 'geometric';

/** What varies along one side of a test strip: a setting by its path, or one of the {@link STRIP_SETS}. */
export interface StripAxis {
  path: string;
  /** Values of the setting, or ids of starting points. */
  values: readonly SettingValue[];
}

/** One picture of a test strip. */
export interface Trial {
  look: Look;
  /** What it is, a line for each side of the strip. */
  captions: readonly string[];
  /** Its place along each side. */
  places: readonly number[];
  /** Whether it is the look that the strip was started from. */
  isPresent: boolean;
  /** Whether all of its values lie where real lenses do; undefined where nothing is known of that. */
  isReal: boolean | undefined;
}

interface StripSet {
  label: string;
  points: readonly StartingPoint[];
  apply: (look: Look, point: StartingPoint) => Look;
}

/** Whole starting points of a station, which are tried as one. */
export const STRIP_SETS: Readonly<Record<string, StripSet>> = {
  pupil: { label: 'Pupils', points: PUPILS, apply: applyPupil },
  veil: { label: 'Veils', points: VEILS, apply: applyVeil },
  ghosts: { label: 'Flares', points: FLARES, apply: applyFlare },
  glass: { label: 'Lenses', points: LENSES, apply: applyGlass },
  film: { label: 'Films', points: FILMS, apply: applyFilm },
};

/** Whether a setting can be tried at several values by what is known of it. */
export const canBeTried = ({ kind }: Setting): boolean =>
  kind === 'number' || kind === 'choice' || kind === 'switch';

/** What a side of a strip is called. */
export function axisLabel({ path }: StripAxis): string {
  const set = STRIP_SETS[path];
  if (set) return set.label;
  const { group, label } = settingAt(path);
  return `${group}: ${label}`;
}

/** Every picture of a strip of one side, or of a grid of two: the first side runs across. Throws {@link SettingError} for values that do not fit. */
export function trialsOf(look: Look, axes: readonly StripAxis[]): Trial[] {
  const [across, down] = axes;
  if (!across || axes.length > 2 || across.path === down?.path)
    throw new SettingError('a test strip varies one setting, or two that differ');
  const now = JSON.stringify(look);
  const rows = down ? down.values.map((_, row) => row) : [undefined];
  return rows.flatMap((row) =>
    across.values.map((_, column): Trial => {
      const places = row === undefined ? [column] : [column, row];
      const tried = axes.reduce(
        (changed, axis, k) => withValue(changed, axis, axis.values[places[k]!]!),
        look,
      );
      const real = axes.map((axis, k) => isRealAt(axis, axis.values[places[k]!]!));
      const known = real.filter((one) => one !== undefined);
      return {
        look: tried,
        captions: axes.map((axis, k) => valueText(axis, axis.values[places[k]!]!)),
        places,
        isPresent: JSON.stringify(tried) === now,
        isReal: known.length ? known.every(Boolean) : undefined,
      };
    }),
  );
}

function withValue(look: Look, { path }: StripAxis, value: SettingValue): Look {
  const set = STRIP_SETS[path];
  if (!set) return setSetting(look, path, value);
  const point = set.points.find(({ id }) => id === value);
  if (!point)
    throw new SettingError(`${nameOf(value)} is none of the ${set.label.toLowerCase()} to start from`, {
      where: path,
      todo: `There are ${set.points.map(({ id }) => id).join(', ')}`,
    });
  return set.apply(look, point);
}

function isRealAt({ path }: StripAxis, value: SettingValue): boolean | undefined {
  if (STRIP_SETS[path]) return undefined;
  const setting = settingAt(path);
  if (setting.kind !== 'number' || !setting.band || typeof value !== 'number') return undefined;
  return value >= setting.band.min && value <= setting.band.max;
}

/** A value along a side, with its unit. */
export function valueText({ path }: Pick<StripAxis, 'path'>, value: SettingValue): string {
  const set = STRIP_SETS[path];
  if (set) return set.points.find(({ id }) => id === value)?.name ?? nameOf(value);
  const setting = settingAt(path);
  if (setting.kind === 'number' && typeof value === 'number')
    return `${shownText(setting, value)} ${setting.shown.unit}`.trim();
  if (setting.kind === 'switch') return value === true ? 'on' : 'off';
  if (setting.kind === 'choice')
    return setting.options.find((option) => option.value === value)?.label ?? nameOf(value);
  return nameOf(value);
}

/** Values from one to another, both included. Geometric ones need both ends over zero and are even otherwise. */
export function spread(
  setting: NumberMeta,
  from: number,
  to: number,
  count: number,
  spacing: Spacing,
): number[] {
  const geometric = spacing === 'geometric' && from > 0 && to > 0;
  return Array.from({ length: count }, (_, k) => {
    const share = count > 1 ? k / (count - 1) : 0;
    if (k === 0) return held(setting, from);
    if (k === count - 1) return held(setting, to);
    return held(setting, tidy(geometric ? from * (to / from) ** share : from + (to - from) * share));
  });
}

/** Three digits are enough to choose by. */
const tidy = (value: number): number => Number(value.toPrecision(3));

const held = ({ min, max }: NumberMeta, value: number): number => Math.min(max, Math.max(min, value));

/** With a value in place of the nearest of some, so that what there is stands among what is tried. */
function withPresent(values: readonly number[], present: number): number[] {
  const nearest = values.reduce(
    (best, value, k) => (Math.abs(value - present) < Math.abs(values[best]! - present) ? k : best),
    0,
  );
  return distinct(values.map((value, k) => (k === nearest ? present : value)));
}

const distinct = (values: readonly number[]): number[] => [...new Set(values)].sort((a, b) => a - b);

/** How the values of a setting lie by themselves. */
export const spacingOf = ({ scale }: NumberMeta): Spacing => (scale === 'log' ? 'geometric' : 'even');

/** The side of a first strip of a setting or set: about what it is now, as far as its nature lets it go. */
export function firstAxis(look: Look, path: string, count = 5): StripAxis {
  const set = STRIP_SETS[path];
  if (set) return { path, values: set.points.map(({ id }) => id) };
  const setting = settingAt(path);
  if (setting.kind === 'switch') return { path, values: [false, true] };
  if (setting.kind === 'choice') return { path, values: setting.options.map(({ value }) => value) };
  if (setting.kind !== 'number')
    throw new SettingError(`${setting.label} cannot be tried at several values by itself`, {
      where: path,
      todo: 'Choose a number, a choice or a switch',
    });
  return { path, values: firstValues(setting, getSetting(look, path) as number, count) };
}

function firstValues(setting: NumberMeta, present: number, count: number): number[] {
  const { min, max, stops, band, scale } = setting;
  if (stops && stops.length >= count && present >= stops[0]! && present <= stops.at(-1)!) {
    const at = stops.findIndex((stop) => stop >= present * 0.9999);
    // Whole stops lie three apart where thirds are named as well.
    const step = stops.length >= 3 * count ? 3 : 1;
    const first = Math.min(
      Math.max(0, at - step * Math.floor(count / 2)),
      stops.length - 1 - step * (count - 1),
    );
    return withPresent(
      Array.from({ length: count }, (_, k) => stops[Math.max(0, first) + k * step]!),
      present,
    );
  }
  if (scale === 'log') {
    const low = setting.floor ?? min;
    if (present <= low) {
      // Nothing as yet: what real lenses have, or the lower part of what there is.
      const to = band && band.max > low ? band.max : Math.sqrt(low * max);
      const from = band && band.min > low ? band.min : to / 16;
      return distinct([present, ...spread(setting, from, to, count - 1, 'geometric')]);
    }
    const half = 2 ** Math.floor(count / 2);
    const from = Math.max(low, present / half);
    return withPresent(spread(setting, from, Math.min(max, from * half * half), count, 'geometric'), present);
  }
  const width = band && band.max > band.min ? band.max - band.min : (max - min) / 4;
  const from = Math.max(min, Math.min(present - width / 2, max - width));
  return withPresent(spread(setting, from, Math.min(max, from + width), count, 'even'), present);
}

/** The side of a finer strip about one of the values: from the value before it to the one after it. */
export function finerAxis(axis: StripAxis, place: number, count: number): StripAxis {
  const { path, values } = axis;
  const setting = STRIP_SETS[path] ? undefined : settingAt(path);
  if (setting?.kind !== 'number') return axis;
  const numbers = values as readonly number[];
  const chosen = numbers[place]!;
  const before = numbers[place - 1];
  const after = numbers[place + 1];
  const from = before ?? chosen - (after === undefined ? 0 : after - chosen) / 2;
  const to = after ?? chosen + (before === undefined ? 0 : chosen - before) / 2;
  const spacing = spacingOf(setting) === 'geometric' && from > 0 ? 'geometric' : 'even';
  return { path, values: withPresent(spread(setting, held(setting, from), to, count, spacing), chosen) };
}

/** Reads values of a side as they are written on a command line, parted by commas; `all` stands for every choice. */
export function readAxis(look: Look, path: string, text: string): StripAxis {
  if (text.trim() === 'all') return firstAxis(look, path);
  const parts = text.split(',').map((part) => part.trim());
  if (parts.length > MOST_AXIS)
    throw new SettingError(`${parts.length} values are more than can be looked at`, {
      where: path,
      todo: `Name up to ${MOST_AXIS}`,
    });
  if (STRIP_SETS[path]) {
    const axis = { path, values: parts };
    parts.forEach((part) => withValue(look, axis, part));
    return axis;
  }
  return { path, values: parts.map((part) => getSetting(assignSetting(look, `${path}=${part}`), path)) };
}

/** So many pictures stand in a row at most; sets have as many as there are starting points. */
const MOST_AXIS = 16;

/** Switches above a setting that are off, so that it does nothing: their paths, from the outermost. */
export function offSwitchesOf(look: Look, path: string): string[] {
  const keys = path.split('.');
  return keys.slice(1).flatMap((_, depth) => {
    const above = `${keys.slice(0, depth + 1).join('.')}.on`;
    if (above === path) return [];
    try {
      return getSetting(look, above) === false ? [above] : [];
    } catch {
      return [];
    }
  });
}

/** What a switch of {@link offSwitchesOf} belongs to. */
export function switchLabel(path: string): string {
  const { group } = settingAt(path);
  const station = path.split('.', 1)[0] as keyof typeof STATION_LABELS;
  return path === `${station}.on` ? STATION_LABELS[station] : group;
}

/** The parts of the veil whose amounts a strip varies: they are convolved by themselves, once for all amounts. */
export const partsApart = (axes: readonly StripAxis[]): string[] =>
  axes.flatMap(({ path }) => {
    const part = /^(veil\.(?:[a-z]+(?:\[\d+\])?))\.(?:amount|tint|tintColour|tintShare)$/i.exec(path);
    return part ? [part[1]!] : [];
  });

/** Everything of a look that can be tried, with what people call it: sets first, then settings in the order of the panels. */
export function triableIn(look: Look): { path: string; label: string }[] {
  const sets = Object.entries(STRIP_SETS).map(([path, { label }]) => ({ path, label }));
  const settings = SETTINGS.filter(canBeTried)
    .flatMap((setting) => pathsIn(look, setting))
    .map((path) => {
      const { group, label } = settingAt(path);
      const station = STATION_LABELS[stationOfPath(path)];
      return { path, label: `${station === group ? '' : `${station}, `}${group}: ${label}` };
    });
  return [...sets, ...settings];
}

/** A value that is a name, as it is; any other as data. */
const nameOf = (value: SettingValue): string => (typeof value === 'string' ? value : JSON.stringify(value));
