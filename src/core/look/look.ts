import { z } from 'zod';
import { SettingError } from '../errors';
import { cameraSettings } from '../optics/camera-settings';
import type { StationDefinition } from '../light/station';
import { STATIONS } from '../stations';
import { elementOf, elementsSettings, MOST_ELEMENTS, RENDER_KEYS } from '../settings/element';
import { curveSchema, MAX_CURVE_POINTS, parseCurve } from '../settings/curve';
import { masksSchema } from '../settings/mask';
import {
  BACKDROP,
  collectSettings,
  COLOUR,
  masks,
  MOST_LETTERS,
  NAME,
  NO_IMAGE,
  NO_MASK,
  PLACE,
  type Setting,
  type SettingValue,
} from '../settings/setting';

export type { SettingValue } from '../settings/setting';

/** The version that this program writes. */
export const LOOK_VERSION = 2;

type ListedStation = (typeof STATIONS)[number];
type StationSettings = { [Station in ListedStation as Station['id']]: Station['settings'] };

const stationSettings = Object.fromEntries(
  STATIONS.map(({ id, settings }) => [id, settings]),
) as unknown as StationSettings;

export const lookSchema = z.strictObject({
  version: z.literal(LOOK_VERSION).default(LOOK_VERSION),
  camera: cameraSettings,
  elements: elementsSettings,
  ...stationSettings,
  masks: masks({
    label: 'Masks',
    help: 'Shapes on the picture, by name, that preparation and feeds can be held to',
  }),
});

/** All settings of all stations: one document. */
export type Look = z.output<typeof lookSchema>;

export type StationId = ListedStation['id'];

/** The stations' ids, in light's own order. */
export const STATION_IDS: readonly StationId[] = STATIONS.map(({ id }) => id);

/** The stations' names, by id. */
export const STATION_LABELS = Object.fromEntries(STATIONS.map(({ id, label }) => [id, label])) as Readonly<
  Record<StationId, string>
>;

/** Stations that have a switch: those with a setting `on`. */
export type SwitchedStationId = {
  [Id in StationId]: Look[Id] extends { on: boolean } ? Id : never;
}[StationId];

export function isSwitched(id: StationId): id is SwitchedStationId {
  return byPath.has(`${id}.on`);
}

/** A look that does nothing to the plate but put it on this look's film: what a result is compared with. */
export function plateAlone(look: Look): Look {
  const alone = { ...look, plate: defaultLook().plate };
  return STATION_IDS.reduce(
    (bare, id) => (isSwitched(id) && id !== 'film' ? setSetting(bare, `${id}.on`, false) : bare),
    alone,
  );
}

/** The station whose panel holds a setting. */
export function stationOfPath(path: string): StationId {
  const section = path.split(/[.[]/, 1)[0]!;
  const station = STATIONS.find(
    ({ id, shows }: StationDefinition) => id === section || shows?.includes(section),
  );
  if (!station) throw new SettingError(`no station has the setting ${path}`);
  return station.id;
}

/** Every setting of the look, in panel order. */
export const SETTINGS: readonly Setting[] = collectSettings(lookSchema);

const byPath = new Map(SETTINGS.map((setting) => [setting.path, setting]));

/** Where settings by names are: of single passes, of pairs of surfaces. Those in a list are so at each of its places. */
const RECORDS = [
  ...new Set(
    SETTINGS.filter(({ path }) => path.includes(`.${NAME}.`)).map(({ path }) =>
      path.slice(0, path.indexOf(`.${NAME}.`)),
    ),
  ),
].map((path) => {
  const [before, after] = path.split(PLACE);
  const escaped = (text = ''): string => text.replaceAll('.', '\\.');
  return new RegExp(
    `^${escaped(before)}${after === undefined ? '' : `\\[\\d{1,3}\\]${escaped(after)}`}(?=\\.)`,
  );
});

/** The record that a path leads into, as it stands in the path. */
function recordOf(path: string): string | undefined {
  for (const record of RECORDS) {
    const found = record.exec(path);
    if (found) return found[0];
  }
  return undefined;
}

/** What stood in `plate` while it had one render alone, and still may be written so: it is that of the first element. */
const OF_FIRST_ELEMENT = new RegExp(`^plate\\.(?=(?:${RENDER_KEYS.join('|')})(?:\\.|$))`);

/** What the veil had while there was one streak alone. */
const OF_FIRST_STREAK = /^veil\.streak(?=\.|$)/;

/** A path as settings have it now. */
export const currentPath = (path: string): string =>
  path.replace(OF_FIRST_ELEMENT, 'elements[0].').replace(OF_FIRST_STREAK, 'veil.streaks[0]');

/** Path of a setting in a record, of the thing of a name. */
export function namedPath(record: string, name: string, setting: string): string {
  return `${record}.${name}.${setting}`;
}

/** A place in a list, as paths have it. */
const IN_LIST = /\[(\d{1,3})\]/g;

/** A path as keys of the look: names, and places in lists. */
function keysOf(path: string): string[] {
  const placesAsKeys = (text: string): string[] => text.replace(IN_LIST, '.$1').split('.');
  const record = recordOf(path);
  if (record === undefined) return placesAsKeys(path);
  // A name may have dots of its own.
  const rest = path.slice(record.length + 1);
  const dot = rest.lastIndexOf('.');
  return [...placesAsKeys(record), rest.slice(0, Math.max(0, dot)), rest.slice(dot + 1)];
}

/** Path of a setting of one element of the plate. */
export const elementPath = (element: number, setting: string): string => `elements[${element}].${setting}`;

/** Path of a setting of one pass of an element. */
export function passPath(element: number, pass: string, setting: string): string {
  return namedPath(elementPath(element, 'passes'), pass, setting);
}

export function settingAt(written: string): Setting {
  const path = currentPath(written);
  const keys = keysOf(path);
  const record = keys.at(-2) ? recordOf(path) : undefined;
  const bare = (text: string): string => text.replace(IN_LIST, PLACE);
  const setting = byPath.get(
    record === undefined ? bare(path) : namedPath(bare(record), NAME, keysOf(path).at(-1)!),
  );
  if (setting?.path === path) return setting;
  // Things in a list are counted from 1 where people read it.
  const place = record === undefined ? keys.findLast((key) => /^\d+$/.test(key)) : undefined;
  if (setting) return { ...setting, path, ...(place && { group: `${setting.group} ${Number(place) + 1}` }) };
  const last = keys.at(-1);
  const ending = (text: string): string[] =>
    SETTINGS.map((candidate) => candidate.path).filter((candidate) => candidate.endsWith(`.${text}`));
  const whole = ending(path);
  const near = whole.length ? whole : ending(last ?? path);
  throw new SettingError(`there is no setting ${written}`, {
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
  const result = lookSchema.safeParse(
    withStreaks(typeof version === 'number' && version >= 2 ? data : upToDate(data)),
  );
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  const path = issue.path
    .map(String)
    .join('.')
    .replace(/\.(\d+)(?=\.|$)/g, '[$1]');
  const setting = settingOfIssue(path);
  throw new SettingError(`${path || 'the look'}: ${describeIssue(issue, setting)}`, {
    ...(file === undefined ? {} : { where: file }),
    todo: 'Correct or remove it; `bokelux settings` lists every setting with its range',
  });
}

/** A look of the first version, as the second has it: what its plate's render had is the first element's. */
function upToDate(data: unknown): unknown {
  if (typeof data !== 'object' || data === null || Array.isArray(data)) return data;
  const { plate, elements, ...rest } = data as Record<string, unknown>;
  const moved: Record<string, unknown> = {};
  let kept = plate;
  if (typeof plate === 'object' && plate !== null) {
    const own = { ...(plate as Record<string, unknown>) };
    for (const key of RENDER_KEYS) {
      if (!Object.hasOwn(own, key)) continue;
      moved[key] = own[key];
      delete own[key];
    }
    kept = own;
  }
  const first = Object.keys(moved).length > 0 && elements === undefined ? [moved] : elements;
  const { veil } = rest;
  return {
    ...rest,
    ...(hasDiffusion(veil) && { veil: { ...veil, diffusion: { shape: 'gaussian', ...veil.diffusion } } }),
    version: rest['version'] === 1 ? LOOK_VERSION : rest['version'],
    ...(kept !== undefined && { plate: kept }),
    ...(first !== undefined && { elements: first }),
  };
}

/** A look that has a single streak, as one with a list of them. A streak that nothing was said of is none. */
function withStreaks(data: unknown): unknown {
  if (!isRecord(data) || !isRecord(data['veil']) || !Object.hasOwn(data['veil'], 'streak')) return data;
  const { streak, ...veil } = data['veil'];
  if (veil['streaks'] !== undefined) return data;
  const { streaks } = lookSchema.shape.veil.unwrap().shape;
  const said = streaks.safeParse([streak]);
  const untouched = said.success && JSON.stringify(said.data) === JSON.stringify(streaks.parse([{}]));
  return { ...data, veil: { ...veil, streaks: untouched ? [] : [streak] } };
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What a look says of diffusion that knew of one shape alone. */
function hasDiffusion(veil: unknown): veil is { diffusion: object } {
  if (typeof veil !== 'object' || veil === null) return false;
  const { diffusion } = veil as { diffusion?: unknown };
  return typeof diffusion === 'object' && diffusion !== null;
}

function settingOfIssue(path: string): Setting | undefined {
  const record = recordOf(path);
  const bare = (text: string): string => text.replace(IN_LIST, PLACE);
  return byPath.get(record === undefined ? bare(path) : namedPath(bare(record), NAME, keysOf(path).at(-1)!));
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
    case 'colour':
      return `a colour as #rrggbb${setting.backdrop ? ', none, or plate:ID' : ''} is wanted`;
    case 'curve':
      return `up to ${MAX_CURVE_POINTS} points x:y in stops, from left to right, are wanted`;
    case 'order':
      return 'names of passes, parted by commas, are wanted';
    case 'weights':
      return `passes with weights from 0 to ${setting.most} as name:weight, parted by commas, are wanted`;
    case 'mask':
      return 'the id of a mask is wanted';
    case 'image':
      return 'the name of an image, or none, is wanted';
    case 'masks':
      return 'a list of masks as JSON is wanted';
    case 'text':
      return `a text of up to ${MOST_LETTERS} letters is wanted`;
    case 'document':
      return `${setting.what} as JSON is wanted, or none`;
  }
}

export function getSetting(look: Look, path: string): SettingValue {
  const setting = settingAt(path);
  let node: unknown = look;
  for (const key of keysOf(currentPath(path))) {
    // A pass of which nothing is said has everything at its default.
    if (!Object.hasOwn(node as object, key)) return setting.default;
    node = (node as Record<string, unknown>)[key];
  }
  return node as SettingValue;
}

/** A copy of the look with one setting changed. Throws {@link SettingError} if the value does not fit. */
export function setSetting(look: Look, written: string, value: SettingValue): Look {
  const path = currentPath(written);
  const setting = settingAt(path);
  if (!fitsSetting(setting, value)) throw new SettingError(expectation(setting), { where: path });
  const change = (node: unknown, [key, ...rest]: string[]): unknown => {
    if (key === undefined) return value;
    if (!Array.isArray(node)) {
      const record = (node ?? {}) as Record<string, unknown>;
      return { ...record, [key]: change(record[key], rest) };
    }
    const place = Number(key);
    // Elements are renders, which are there before anything is set about them.
    if (node === look.elements && place < MOST_ELEMENTS)
      for (let k = node.length; k <= place; k++) node = [...(node as unknown[]), elementOf(look, k)];
    const list = node as unknown[];
    if (place > list.length)
      throw new SettingError(`there is no [${place}]: the list holds ${list.length}`, {
        where: path,
        todo: `The next place in it is [${list.length}]`,
      });
    return Object.assign([...list], { [place]: change(list[place], rest) });
  };
  const changed = change(look, keysOf(path)) as Look;
  // The first setting of a pass, or of something in a list, brings the defaults of its others with it.
  return recordOf(path) || path.search(IN_LIST) >= 0 ? parseLook(changed) : changed;
}

/** Whether a setting takes a value. */
export function fitsSetting(setting: Setting, value: SettingValue): boolean {
  switch (setting.kind) {
    case 'number':
      return typeof value === 'number' && value >= setting.min && value <= setting.max;
    case 'switch':
      return typeof value === 'boolean';
    case 'choice':
      return setting.options.some((option) => option.value === value);
    case 'pass':
      return typeof value === 'string' && value.length > 0;
    case 'colour':
      return typeof value === 'string' && (setting.backdrop ? BACKDROP : COLOUR).test(value);
    case 'curve':
      return curveSchema.safeParse(value).success;
    case 'order':
      return Array.isArray(value) && value.every((name) => typeof name === 'string' && name.length > 0);
    case 'weights':
      return (
        isRecord(value) &&
        Object.entries(value).every(
          ([name, weight]) =>
            name !== '' && typeof weight === 'number' && weight >= 0 && weight <= setting.most,
        )
      );
    case 'mask':
    case 'image':
      return typeof value === 'string';
    case 'masks':
      return masksSchema.safeParse(value).success;
    case 'text':
      return typeof value === 'string' && value.length <= MOST_LETTERS;
    case 'document':
      return value === null || setting.schema.safeParse(value).success;
  }
}

/** The paths that a setting has in a look: in lists, one for each place; none for things that go by names. */
export function pathsIn(look: Look, { path }: Pick<Setting, 'path'>): string[] {
  if (path.includes(`.${NAME}.`)) return [];
  const at = path.indexOf(PLACE);
  if (at < 0) return [path];
  const list = keysOf(path.slice(0, at)).reduce<unknown>(
    (node, key) => (node as Record<string, unknown>)[key],
    look,
  ) as unknown[];
  return list.flatMap((_, place) => pathsIn(look, { path: path.replace(PLACE, `[${place}]`) }));
}

/** The look without a mask: what was held to it is held to none any more. */
export function withoutMask(look: Look, id: string): Look {
  const users = SETTINGS.filter(({ kind }) => kind === 'mask')
    .flatMap((setting) => pathsIn(look, setting).map((path) => ({ path })))
    .filter(({ path }) => getSetting(look, path) === id);
  const free = users.reduce((changed, { path }) => setSetting(changed, path, NO_MASK), look);
  return { ...free, masks: free.masks.filter((mask) => mask.id !== id) };
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
    if (text === 'true' || text === 'false') return text === 'true' ? 1 : 0;
    return text !== '' && Number.isFinite(value) ? value : undefined;
  }
  if (setting.kind === 'switch') return text === 'true' ? true : text === 'false' ? false : undefined;
  if (setting.kind === 'curve') return parseCurve(text);
  if (setting.kind === 'order') return text === '' ? [] : text.split(',').map((name) => name.trim());
  if (setting.kind === 'weights') return readWeights(text);
  if (setting.kind === 'mask') return text === 'none' ? NO_MASK : text;
  if (setting.kind === 'image') return text === 'none' ? NO_IMAGE : text;
  if (setting.kind === 'masks') return readMasks(text);
  if (setting.kind === 'document') return text === 'none' ? null : readDocument(text);
  return text;
}

/** `name:weight` or `name`, parted by commas; a name may have colons of its own. */
function readWeights(text: string): SettingValue | undefined {
  if (text === '' || text === 'none') return {};
  const entries = text.split(',').map((part): [string, number] => {
    const found = /^(.+):\s*([-+.\de]+)$/i.exec(part.trim());
    return found ? [found[1]!.trim(), Number(found[2])] : [part.trim(), 1];
  });
  return entries.every(([name, weight]) => name !== '' && Number.isFinite(weight))
    ? Object.fromEntries(entries)
    : undefined;
}

function readDocument(text: string): SettingValue | undefined {
  try {
    return JSON.parse(text) as SettingValue;
  } catch {
    return undefined;
  }
}

function readMasks(text: string): SettingValue | undefined {
  try {
    return masksSchema.safeParse(JSON.parse(text)).data;
  } catch {
    return undefined;
  }
}
