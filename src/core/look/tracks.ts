import { z } from 'zod';
import { decodeSrgb, encodeSrgb } from '../color/srgb';
import { SettingError } from '../errors';
import { clamp } from '../image/clamp';
import { PLACE, type Setting } from '../settings/setting';
import { easeCurve, monotoneSlopes, type Ease } from './ease';
import {
  currentPath,
  expectation,
  fitsSetting,
  getSetting,
  pathsIn,
  setSetting,
  settingAt,
  type Look,
  type SettingValue,
} from './look';
import { blinkLevel, pulseLevel, smoothNoise } from './life';

export const TRACKS_VERSION = 1;

const frame = z.number().min(-1e6).max(1e6);
const share = z.number().min(0).max(1);
const length = z.number().min(0).max(1e6);

const easeSchema: z.ZodType<Ease> = z.union([
  z.enum(['hold', 'linear', 'smooth']),
  z.tuple([share, z.number().min(-10).max(10), share, z.number().min(-10).max(10)]),
]);

const keySchema = z.strictObject({
  frame,
  value: z.unknown(),
  /** How this value is reached from the key before. */
  ease: easeSchema.default('linear'),
});

const beyondSchema = z.enum(['hold', 'loop', 'ping-pong']).default('hold');
const seed = z.number().int().min(0).max(9999).default(0);

const lifeSchema = z.discriminatedUnion('kind', [
  /** Between two values, so many frames at each, with so many frames to go from one to the other. */
  z.strictObject({
    kind: z.literal('blink'),
    low: z.unknown(),
    high: z.unknown(),
    on: length,
    off: length,
    rise: length.default(0),
    fall: length.default(0),
    offset: frame.default(0),
  }),
  /** Between two values and back in so many frames, as a sine. */
  z.strictObject({
    kind: z.literal('pulse'),
    low: z.unknown(),
    high: z.unknown(),
    period: z.number().min(0.01).max(1e6),
    offset: frame.default(0),
  }),
  /** Up and down by a share of the value; `rate` is how many times a frame it turns. */
  z.strictObject({
    kind: z.literal('flicker'),
    size: z.number().min(0).max(10),
    rate: z.number().min(0).max(10),
    seed,
    offset: frame.default(0),
  }),
  /** Away from the value and back by up to so much, in its own unit. */
  z.strictObject({
    kind: z.literal('drift'),
    size: z.number().min(0).max(1e6),
    rate: z.number().min(0).max(10),
    seed,
    offset: frame.default(0),
  }),
]);

const trackSchema = z.union([
  z
    .array(keySchema)
    .min(1)
    .max(100_000)
    .transform((keys) => ({ keys, before: 'hold' as const, after: 'hold' as const, life: undefined })),
  z.strictObject({
    keys: z.array(keySchema).max(100_000).default([]),
    before: beyondSchema,
    after: beyondSchema,
    life: lifeSchema.optional(),
  }),
]);

const documentSchema = z.strictObject({
  version: z.number().int().min(1),
  tracks: z.record(z.string().min(1).max(200), trackSchema),
});

export interface Key {
  frame: number;
  value: SettingValue;
  ease: Ease;
}

export type Beyond = z.output<typeof beyondSchema>;
export type Life = z.output<typeof lifeSchema>;

/** A setting over time. */
export interface Track {
  /** In order of their frames, no two at one. */
  keys: readonly Key[];
  /** What there is before the first key and after the last. */
  before: Beyond;
  after: Beyond;
  /** What moves the value that the keys, or without any the look, have. */
  life?: Life | undefined;
}

/** Settings over time, by their paths. */
export type Tracks = Readonly<Record<string, Track>>;

/** Kinds of settings that may change over time. */
export const KEYED: ReadonlySet<Setting['kind']> = new Set<Setting['kind']>([
  'number',
  'switch',
  'choice',
  'colour',
  'pass',
  'text',
]);

/** Reads a document of tracks. Throws an error that says which key of which track does not fit, and what would. */
export function parseTracks(data: unknown, file?: string): Tracks {
  const where = (place: string): string => (file === undefined ? place : `${file}: ${place}`);
  const result = documentSchema.safeParse(data);
  if (!result.success) {
    const { path, message } = deepest(result.error.issues[0]!);
    throw new SettingError(`these are no tracks: ${path.join('.') || 'top level'}: ${message}`, {
      ...(file === undefined ? {} : { where: file }),
      todo: '{"version": 1, "tracks": {"veil.bloom.amount": [{"frame": 1, "value": 0.01}]}} is wanted',
    });
  }
  const { version, tracks } = result.data;
  if (version > TRACKS_VERSION)
    throw new SettingError(`the tracks have version ${version}; this program knows up to ${TRACKS_VERSION}`, {
      ...(file === undefined ? {} : { where: file }),
      todo: 'Use a newer Bokelux',
    });
  return Object.fromEntries(
    Object.entries(tracks).map(([written, track]) => {
      const path = currentPath(written);
      const setting = settingAt(path);
      if (!KEYED.has(setting.kind))
        throw new SettingError(`${path} cannot change over time`, {
          where: where(path),
          todo: 'Numbers, switches, choices, colours and names can',
        });
      const check = (value: unknown, place: string): void => {
        if (!fitsSetting(setting, value as SettingValue))
          throw new SettingError(`${JSON.stringify(value)}: ${expectation(setting)}`, {
            where: where(`${path}, ${place}`),
          });
      };
      const keys = track.keys.map((key) => {
        check(key.value, `frame ${key.frame}`);
        return key as Key;
      });
      keys.sort((a, b) => a.frame - b.frame);
      const twice = keys.find((key, k) => keys[k + 1]?.frame === key.frame);
      if (twice) throw new SettingError(`there are two keys at frame ${twice.frame}`, { where: where(path) });
      checkLife(track.life, { path, setting, check });
      return [path, { ...track, keys }];
    }),
  );
}

/** Of the ways in which something may be written, the one that fits the farthest, and why it does not fit. */
function deepest({ path, message, ...issue }: z.core.$ZodIssue): { path: PropertyKey[]; message: string } {
  const within = issue.code === 'invalid_union' ? issue.errors.flat().map(deepest) : [];
  return within.reduce(
    (best, one) =>
      path.length + one.path.length > best.path.length ? { ...one, path: [...path, ...one.path] } : best,
    { path, message },
  );
}

function checkLife(
  life: Life | undefined,
  {
    path,
    setting,
    check,
  }: { path: string; setting: Setting; check: (value: unknown, place: string) => void },
): void {
  if (!life) return;
  if (life.kind === 'blink' || life.kind === 'pulse') {
    check(life.low, `${life.kind}, low`);
    check(life.high, `${life.kind}, high`);
  } else if (setting.kind !== 'number') {
    throw new SettingError(`only numbers ${life.kind}`, {
      where: path,
      todo: 'Blink goes between any two values',
    });
  }
}

export const tracksDocument = (tracks: Tracks): unknown => ({ version: TRACKS_VERSION, tracks });

/** The look at a frame, which may lie between two. Throws {@link SettingError} for tracks of what the look has not. */
export const lookAt = (look: Look, tracks: Tracks, frame: number): Look =>
  Object.entries(tracks).reduce((at, [path, track]) => {
    const setting = settingAt(path);
    if (isMissing(look, path))
      throw new SettingError('this changes over time, but is not in the look', {
        where: path,
        todo: 'Add it to the look, or take its track out',
      });
    const own = getSetting(look, path);
    const value = valueAt(setting, track, { frame, own });
    return value === own ? at : setSetting(at, path, value);
  }, look);

/** Whether a path goes to a place of a list that the look has not. Elements are renders, which are there before anything is set about them. */
function isMissing(look: Look, path: string): boolean {
  const listed = path.replace(/\[\d+\]/g, PLACE);
  return listed !== path && !path.startsWith('elements') && !pathsIn(look, { path: listed }).includes(path);
}

/** The value of a setting at a frame; `own` is what the look has. */
export function valueAt(
  setting: Setting,
  { keys, before, after, life }: Track,
  { frame, own }: { frame: number; own: SettingValue },
): SettingValue {
  const value = keys.length > 0 ? keyedValue(setting, keys, within(keys, { frame, before, after })) : own;
  return life ? lively(setting, value, { life, frame }) : value;
}

/** A frame as one between the first key and the last. */
function within(
  keys: readonly Key[],
  { frame, before, after }: { frame: number; before: Beyond; after: Beyond },
): number {
  const [first, last] = [keys[0]!.frame, keys.at(-1)!.frame];
  if (frame >= first && frame <= last) return frame;
  const beyond = frame < first ? before : after;
  const span = last - first;
  if (beyond === 'hold' || span === 0) return clamp(frame, first, last);
  if (beyond === 'loop') return first + modulo(frame - first, span);
  const turn = modulo(frame - first, 2 * span);
  return first + (turn <= span ? turn : 2 * span - turn);
}

const modulo = (value: number, by: number): number => ((value % by) + by) % by;

function keyedValue(setting: Setting, keys: readonly Key[], frame: number): SettingValue {
  const next = keys.findIndex((key) => key.frame > frame);
  if (next < 0) return keys.at(-1)!.value;
  if (next === 0) return keys[0]!.value;
  const [from, to] = [keys[next - 1]!, keys[next]!];
  if (to.ease === 'hold' || frame === from.frame) return from.value;
  const t = (frame - from.frame) / (to.frame - from.frame);
  if (to.ease !== 'smooth') return mixValues(setting, from.value, to.value, easeCurve(to.ease, t));
  if (setting.kind !== 'number') return mixValues(setting, from.value, to.value, t * t * (3 - 2 * t));
  const points = keys.map((key) => ({ x: key.frame, y: key.value as number }));
  return hold(setting, hermite(points, next - 1, t));
}

/** A cubic through two points, with slopes that never leave the range of what they join. */
function hermite(points: readonly { x: number; y: number }[], k: number, t: number): number {
  const slopes = monotoneSlopes(points);
  const [a, b] = [points[k]!, points[k + 1]!];
  const width = b.x - a.x;
  const [t2, t3] = [t * t, t * t * t];
  return (
    (2 * t3 - 3 * t2 + 1) * a.y +
    (t3 - 2 * t2 + t) * width * slopes[k]! +
    (3 * t2 - 2 * t3) * b.y +
    (t3 - t2) * width * slopes[k + 1]!
  );
}

const hold = (setting: Setting, value: number): number =>
  setting.kind === 'number' ? clamp(value, setting.min, setting.max) : value;

/** From one value to another; what has nothing between is the first until the second is reached. */
function mixValues(setting: Setting, a: SettingValue, b: SettingValue, level: number): SettingValue {
  if (level === 0) return a;
  if (level === 1) return b;
  if (setting.kind === 'number')
    return hold(setting, (a as number) + ((b as number) - (a as number)) * level);
  if (setting.kind === 'colour' && isHex(a) && isHex(b)) return mixColours(a, b, clamp(level, 0, 1));
  return level < 1 ? a : b;
}

const isHex = (value: SettingValue): value is string =>
  typeof value === 'string' && /^#[0-9a-f]{6}$/i.test(value);

/** Colours go from one to another as light does. */
function mixColours(a: string, b: string, level: number): string {
  const light = (hex: string, c: number): number =>
    decodeSrgb(parseInt(hex.slice(1 + 2 * c, 3 + 2 * c), 16) / 255);
  const mixed = [0, 1, 2].map((c) => light(a, c) + (light(b, c) - light(a, c)) * level);
  return `#${mixed
    .map((value) =>
      Math.round(255 * encodeSrgb(value))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

/** Something that goes between two values. */
type Alternation = Extract<Life, { kind: 'blink' | 'pulse' }>;

/** How far it is from the low one to the high one at a frame, 0 to 1. */
export const levelAt = (life: Alternation, frame: number): number =>
  life.kind === 'blink' ? blinkLevel(life, frame - life.offset) : pulseLevel(life, frame - life.offset);

function lively(
  setting: Setting,
  value: SettingValue,
  { life, frame }: { life: Life; frame: number },
): SettingValue {
  const at = frame - life.offset;
  switch (life.kind) {
    case 'blink':
    case 'pulse':
      return mixValues(setting, life.low as SettingValue, life.high as SettingValue, levelAt(life, frame));
    case 'flicker':
      return hold(
        setting,
        (value as number) * Math.max(0, 1 + life.size * smoothNoise(at * life.rate, life.seed)),
      );
    case 'drift':
      return hold(setting, (value as number) + life.size * smoothNoise(at * life.rate, life.seed));
  }
}

/** A track with keys in place of its life, at the frames from one to another; frames that are as those about them need none. */
export function bakeLife(
  setting: Setting,
  track: Track,
  { first, last }: { first: number; last: number },
): Track {
  const own = track.keys[0]!.value;
  const at = (frame: number): SettingValue => valueAt(setting, track, { frame, own });
  const ease = setting.kind === 'number' || setting.kind === 'colour' ? 'linear' : 'hold';
  const keys: Key[] = [];
  for (let frame = first; frame <= last; frame++) {
    const value = at(frame);
    const isEnd = frame === first || frame === last;
    if (isEnd || value !== at(frame - 1) || value !== at(frame + 1)) keys.push({ frame, value, ease });
  }
  return { ...track, keys, life: undefined };
}

/** The tracks with every key, and what moves by itself, at other frames: as when a reel is cut or stretched. */
export function retime(tracks: Tracks, { by = 0, factor = 1, about = 0 }: Retiming): Tracks {
  const moved = (frame: number): number => about + (frame - about) * factor + by;
  return Object.fromEntries(
    Object.entries(tracks).map(([path, track]) => [
      path,
      {
        ...track,
        keys: track.keys.map((key) => ({ ...key, frame: moved(key.frame) })),
        ...(track.life && { life: retimeLife(track.life, moved(track.life.offset), factor) }),
      },
    ]),
  );
}

/** Frames are moved by so many, and by a factor about one that stays. */
export interface Retiming {
  by?: number;
  /** Over 0. */
  factor?: number;
  about?: number;
}

function retimeLife(life: Life, offset: number, factor: number): Life {
  switch (life.kind) {
    case 'blink':
      return {
        ...life,
        offset,
        on: life.on * factor,
        off: life.off * factor,
        rise: life.rise * factor,
        fall: life.fall * factor,
      };
    case 'pulse':
      return { ...life, offset, period: life.period * factor };
    default:
      return { ...life, offset, rate: life.rate / factor };
  }
}
