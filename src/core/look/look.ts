import { z } from 'zod';
import { SettingError } from '../errors';
import { filmSettings } from '../stations/film/settings';
import { plateSettings } from '../stations/plate/settings';
import { veilSettings } from '../stations/veil/settings';
import { collectSettings, type Setting } from './setting';

/** The version that this program writes. */
export const LOOK_VERSION = 1;

export const lookSchema = z.strictObject({
  version: z.literal(LOOK_VERSION).default(LOOK_VERSION),
  plate: plateSettings,
  veil: veilSettings,
  film: filmSettings,
});

/** All settings of all stations: one document. */
export type Look = z.output<typeof lookSchema>;

/** The stations that exist, in light's own order. */
export const STATION_IDS = ['plate', 'veil', 'film'] as const;
export type StationId = (typeof STATION_IDS)[number];

/** A value a setting can have. */
export type SettingValue = number | boolean | string;

/** Every setting of the look, in panel order. */
export const SETTINGS: readonly Setting[] = collectSettings(lookSchema);

const byPath = new Map(SETTINGS.map((setting) => [setting.path, setting]));

export function settingAt(path: string): Setting {
  const setting = byPath.get(path);
  if (setting) return setting;
  const last = path.split('.').at(-1);
  const near = SETTINGS.filter((candidate) => candidate.path.endsWith(`.${last}`)).map(
    (candidate) => candidate.path,
  );
  throw new SettingError(`there is no setting ${path}`, {
    todo: near.length ? `Did you mean ${near.join(' or ')}?` : '`bokelux settings` lists them all',
  });
}

/** The look that changes nothing. */
export function defaultLook(): Look {
  return parseLook({});
}

/** Reads a look from JSON data. Missing settings take their defaults; unknown or unfit ones are refused by path. */
export function parseLook(data: unknown, file?: string): Look {
  const version =
    typeof data === 'object' && data !== null ? (data as { version?: unknown }).version : undefined;
  if (typeof version === 'number' && version > LOOK_VERSION) {
    throw new SettingError(`the look has version ${version}; this program knows up to ${LOOK_VERSION}`, {
      ...(file === undefined ? {} : { where: file }),
      todo: 'Open it with a newer Bokelux',
    });
  }
  const result = lookSchema.safeParse(data);
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  const path = issue.path.join('.');
  const setting = byPath.get(path);
  throw new SettingError(`${path || 'the look'}: ${describeIssue(issue, setting)}`, {
    ...(file === undefined ? {} : { where: file }),
    todo: 'Correct or remove it; `bokelux settings` lists every setting with its range',
  });
}

function describeIssue(issue: z.core.$ZodIssue, setting: Setting | undefined): string {
  if (issue.code === 'unrecognized_keys') return `${issue.keys.join(', ')} is not a setting`;
  return setting ? expectation(setting) : issue.message;
}

/** What a setting takes, in words. */
export function expectation(setting: Setting): string {
  switch (setting.kind) {
    case 'number':
      return `a number from ${setting.min} to ${setting.max} (${setting.unit}) is wanted`;
    case 'switch':
      return 'true or false is wanted';
    case 'choice':
      return `one of ${setting.options.map((option) => option.value).join(', ')} is wanted`;
    case 'pass':
      return 'the name of a pass is wanted';
  }
}

export function getSetting(look: Look, path: string): SettingValue {
  settingAt(path);
  return path
    .split('.')
    .reduce<unknown>((value, key) => (value as Record<string, unknown>)[key], look) as SettingValue;
}

/** A copy of the look with one setting changed. Throws {@link SettingError} if the value does not fit. */
export function setSetting(look: Look, path: string, value: SettingValue): Look {
  const setting = settingAt(path);
  if (!fits(setting, value)) throw new SettingError(expectation(setting), { where: path });
  const change = (node: Record<string, unknown>, [key, ...rest]: string[]): Record<string, unknown> => ({
    ...node,
    [key!]: rest.length ? change(node[key!] as Record<string, unknown>, rest) : value,
  });
  return change(look, path.split('.')) as Look;
}

function fits(setting: Setting, value: SettingValue): boolean {
  switch (setting.kind) {
    case 'number':
      return typeof value === 'number' && value >= setting.min && value <= setting.max;
    case 'switch':
      return typeof value === 'boolean';
    case 'choice':
      return setting.options.some((option) => option.value === value);
    case 'pass':
      return typeof value === 'string' && value.length > 0;
  }
}

/** Applies `path=value` as typed on a command line. */
export function assignSetting(look: Look, assignment: string): Look {
  const at = assignment.indexOf('=');
  if (at < 1) throw new SettingError(`"${assignment}" is not of the form path=value`);
  const path = assignment.slice(0, at).trim();
  const text = assignment.slice(at + 1).trim();
  const setting = settingAt(path);
  const value = readValue(setting, text);
  if (value === undefined) throw new SettingError(`"${text}": ${expectation(setting)}`, { where: path });
  return setSetting(look, path, value);
}

function readValue(setting: Setting, text: string): SettingValue | undefined {
  if (setting.kind === 'number') {
    const value = Number(text);
    return text !== '' && Number.isFinite(value) ? value : undefined;
  }
  if (setting.kind === 'switch') return text === 'true' ? true : text === 'false' ? false : undefined;
  return text;
}
