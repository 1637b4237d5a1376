import { z } from 'zod';
import { FileError } from '../errors';
import { findLights } from './starting-point';
import { differencesOf, isWhole, takeOver } from './differences';
import {
  getSetting,
  parseLook,
  pathsIn,
  setSetting,
  settingAt,
  SETTINGS,
  type Look,
  type StationId,
} from './look';

/** A look with a name, to be used on other shots. */
export interface WholeLook {
  name: string;
  note: string;
  look: Look;
}

export const LOOK_EXTENSION = 'look.json';
const KIND = 'bokelux look';

const documentSchema = z.strictObject({
  kind: z.literal(KIND),
  name: z.string().min(1).max(200),
  note: z.string().max(2000).default(''),
  look: z.unknown(),
});

export const wholeLookDocument = ({ name, note, look }: WholeLook): unknown => ({
  kind: KIND,
  name,
  note,
  look,
});

/** Reads a look that was saved with its name, or a bare one, which has none. Throws an error that says what does not fit. */
export function parseWholeLook(
  data: unknown,
  file?: string,
): Omit<WholeLook, 'name'> & { name: string | undefined } {
  if (!isRecord(data) || data['kind'] === undefined)
    return { name: undefined, note: '', look: parseLook(data, file) };
  const result = documentSchema.safeParse(data);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    throw new FileError(`this is no look: ${issue.path.join('.') || 'top level'}: ${issue.message}`, {
      ...(file === undefined ? {} : { where: file }),
      todo: 'Choose a look that Bokelux saved',
    });
  }
  const { name, note, look } = result.data;
  return { name, note, look: parseLook(look, file) };
}

/** What of a look goes by the render that it was made for: a look that is taken from elsewhere leaves it as it is. */
const OF_RENDER: readonly string[] = [
  'camera.focusDistance',
  'camera.focalLength',
  'camera.sensorWidth',
  'camera.sensorHeight',
  'focus.depth',
  'veil.feed',
  'veil.mode',
  'ghosts.lights',
  'ghosts.groups',
  'ghosts.find',
  'ghosts.shafts',
  'ghosts.air',
  'ghosts.mirror',
  'glass.scene',
  'glass.pieces',
  'film.exposure',
  'film.within',
  'film.lut',
  'film.lutInput',
  'plate.background',
];

/** Units of numbers that have nothing between them: a pupil of no blades is round, one of two is none. */
const APART = new Set(['blades', 'sides', 'number']);

/** Settings that name something of the shot. */
const NAMING = SETTINGS.filter(({ kind }) => ['pass', 'mask', 'weights', 'image'].includes(kind));

export interface TakeOptions {
  stations: readonly StationId[];
  /** What goes by the render, too: lights, feeds, exposure, depth, masks. */
  withRender?: boolean;
  /** 0 is the present look, 1 the other; numbers go from one to the other, and all else is the other's. */
  strength?: number;
}

/** The present look with stations of another taken over. */
export function takeLook(
  present: Look,
  other: Look,
  { stations, withRender = false, strength = 1 }: TakeOptions,
): Look {
  if (strength <= 0) return present;
  const whole: Look = {
    ...present,
    ...Object.fromEntries(stations.map((station) => [station, other[station]])),
    ...(stations.includes('focus') && { camera: other.camera }),
    ...(withRender && stations.includes('plate') && { elements: other.elements, masks: other.masks }),
  };
  const target = withRender
    ? whole
    : findLights(keepNames(present, OF_RENDER.reduce(keepPart(present), whole)));
  return strength >= 1 ? target : parseLook(mix(present, target, strength));
}

/** Keeps a part of the present look. */
const keepPart =
  (present: Look) =>
  (look: Look, path: string): Look => {
    const [first, second] = path.split('.') as [keyof Look, string];
    const [own, other] = [present[first], look[first]] as unknown as Record<string, unknown>[];
    return { ...look, [first]: { ...other, [second]: own![second] } };
  };

/** Passes, masks and images are named as they were, or as they are by themselves in what is new. */
function keepNames(present: Look, look: Look): Look {
  return NAMING.reduce((kept, setting) => {
    const known = new Set(pathsIn(present, setting));
    return pathsIn(kept, setting).reduce(
      (next, path) => setSetting(next, path, known.has(path) ? getSetting(present, path) : setting.default),
      kept,
    );
  }, look);
}

interface Side {
  value: unknown;
  /** Nothing of this is seen: it, or what it belongs to, is off. */
  isOff: boolean;
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** A look between two. Parts that are off in one of them come and go by their amount, in the shape that they have in the other. */
function mix(a: Look, b: Look, strength: number): unknown {
  return between({ value: a, isOff: false }, { value: b, isOff: false }, { strength, path: '' });
}

function between(a: Side, b: Side, { strength, path }: { strength: number; path: string }): unknown {
  if (a.value === b.value && a.isOff === b.isOff) return a.value;
  if (isWhole(path)) return leaf(a, b, { strength, path });
  if (isRecord(a.value) && isRecord(b.value)) {
    const [one, other] = [unseen(a.value, a.isOff), unseen(b.value, b.isOff)];
    const keys = [...new Set([...Object.keys(a.value), ...Object.keys(b.value)])];
    return Object.fromEntries(
      keys.map((key) => {
        const within = path ? `${path}.${key}` : key;
        const sides = [
          { value: (a.value as Record<string, unknown>)[key], isOff: one },
          { value: (b.value as Record<string, unknown>)[key], isOff: other },
        ] as const;
        return [key, between(...sides, { strength, path: within })];
      }),
    );
  }
  if (Array.isArray(a.value) && Array.isArray(b.value) && isList(b.value, a.value)) {
    const [own, other] = [a.value as unknown[], b.value as unknown[]];
    return Array.from({ length: Math.max(own.length, other.length) }, (_, k) => {
      // What is only in one of them is in the other with nothing of it.
      const sides = [
        { value: own[k] ?? other[k], isOff: a.isOff || own[k] === undefined },
        { value: other[k] ?? own[k], isOff: b.isOff || other[k] === undefined },
      ] as const;
      return between(...sides, { strength, path: `${path}[${k}]` });
    });
  }
  if (a.value === undefined) return b.value;
  if (b.value === undefined) return a.value;
  return leaf(a, b, { strength, path });
}

/** A list of things with settings of their own. */
const isList = (...lists: readonly unknown[][]): boolean => lists.every((list) => list.every(isRecord));

/** Whether a part is off, or has nothing of it. */
const unseen = (part: Record<string, unknown>, isOff: boolean): boolean =>
  isOff || part['on'] === false || part['amount'] === 0;

function leaf(a: Side, b: Side, { strength, path }: { strength: number; path: string }): unknown {
  if (typeof a.value === 'boolean' && path.endsWith('.on')) return a.value || b.value;
  if (typeof a.value !== 'number' || typeof b.value !== 'number')
    return b.isOff && !a.isOff ? a.value : b.value;
  if (path.endsWith('.amount')) return lerp(a.isOff ? 0 : a.value, b.isOff ? 0 : b.value, strength);
  if (a.isOff) return b.value;
  if (b.isOff) return a.value;
  const setting = settingAt(path);
  if (setting.kind !== 'number' || APART.has(setting.unit)) return b.value;
  const { min, max, step, scale } = setting;
  const value =
    scale === 'log' && a.value > 0 && b.value > 0
      ? a.value * (b.value / a.value) ** strength
      : lerp(a.value, b.value, strength);
  const isCount = Number.isInteger(step) && Number.isInteger(a.value) && Number.isInteger(b.value);
  return Math.min(max, Math.max(min, isCount ? Math.round(value) : Number(value.toPrecision(12))));
}

const lerp = (a: number, b: number, strength: number): number =>
  Number((a + (b - a) * strength).toPrecision(12));

/** The settings that a shot has otherwise than the look that it follows. */
export const trimsOf = (followed: Look, present: Look): string[] =>
  differencesOf(followed, present).map(({ path }) => path);

/** What changed in the look that a shot follows, without what the shot has trimmed, by paths. */
export function changesToFollow(followed: Look, next: Look, present: Look): string[] {
  const trims = trimsOf(followed, present);
  const isTrimmed = (path: string): boolean =>
    trims.some((trim) => trim === path || isWithin(trim, path) || isWithin(path, trim));
  return differencesOf(followed, next)
    .map(({ path }) => path)
    .filter((path) => !isTrimmed(path));
}

const isWithin = (path: string, outer: string): boolean =>
  path.startsWith(`${outer}.`) || path.startsWith(`${outer}[`);

/** A shot's look after the one that it follows has changed: its trims stay. */
export const follow = (followed: Look, next: Look, present: Look): Look =>
  changesToFollow(followed, next, present).reduce((look, path) => takeOver(look, next, path), present);
