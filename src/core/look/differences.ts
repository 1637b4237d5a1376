import { elementOf } from '../settings/element';
import { PLACE } from '../settings/setting';
import { defaultLook, parseLook, settingAt, SETTINGS, type Look, type SettingValue } from './look';
import { valueText } from './strip';

/** A setting that two looks have at different values. What one of them lacks, as things in a longer list, is undefined there. */
export interface LookDifference {
  path: string;
  a: unknown;
  b: unknown;
}

/** Paths of settings that are compared as a whole, whatever they hold. */
const WHOLE = new Set(
  SETTINGS.filter(({ kind }) => ['curve', 'order', 'masks', 'document', 'weights'].includes(kind)).map(
    ({ path }) => path,
  ),
);

/** Whether what stands at a path is one value, whatever it holds. */
export const isWhole = (path: string): boolean => WHOLE.has(path.replace(/\[\d+\]/g, '[i]'));

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** The settings in which two looks differ, in the order of the panels. */
export function differencesOf(a: Look, b: Look): LookDifference[] {
  // Elements are renders, which are there before anything is set about them.
  const count = Math.max(a.elements.length, b.elements.length);
  const whole = (look: Look): Look => ({
    ...look,
    elements: Array.from({ length: count }, (_, k) => elementOf(look, k)),
  });
  return compare(whole(a), whole(b), '', Object.keys(defaultLook()));
}

function compare(a: unknown, b: unknown, path: string, order: readonly string[] = []): LookDifference[] {
  const isTree = (isRecord(a) || Array.isArray(a)) && (isRecord(b) || Array.isArray(b));
  if (!isTree || isWhole(path)) return JSON.stringify(a) === JSON.stringify(b) ? [] : [{ path, a, b }];
  if (Array.isArray(a) && Array.isArray(b)) {
    const length = Math.max(a.length, b.length);
    return Array.from({ length }, (_, k) => compare(a[k], b[k], `${path}[${k}]`)).flat();
  }
  const [one, other] = [a, b] as [Record<string, unknown>, Record<string, unknown>];
  const keys = [...new Set([...order, ...Object.keys(one), ...Object.keys(other)])];
  return keys.flatMap((key) => compare(one[key], other[key], path ? `${path}.${key}` : key));
}

/** Whether a path is that of a thing in a list, with settings of its own. */
const isPart = (path: string): boolean => path.endsWith(']') && !isWhole(path);

/** What people call the setting of a difference, or a thing in a list; names stand as they are written. */
export function differenceLabel(path: string): string {
  if (isPart(path)) {
    const within = path.replace(/\[\d+\]/g, PLACE);
    const group = SETTINGS.find((setting) => setting.path.startsWith(`${within}.`))?.group;
    return group === undefined ? path : `${group} ${Number(/\[(\d+)\]$/.exec(path)![1]) + 1}`;
  }
  try {
    const { group, label } = settingAt(path);
    return `${group}: ${label}`;
  } catch {
    return path;
  }
}

/** A value of a difference as people read it. */
export function differenceText(path: string, value: unknown): string {
  if (value === undefined) return 'not there';
  if (isPart(path)) return 'there';
  try {
    return valueText({ path }, value as SettingValue);
  } catch {
    return JSON.stringify(value);
  }
}

/**
 * A look with one difference to another taken over. What one of them lacks, as things in a longer list, is taken over with the list
 * that it stands in.
 */
export function takeOver(look: Look, from: Look, path: string): Look {
  const keys = path.replace(/\[(\d+)\]/g, '.$1').split('.');
  /** The other's value from the first place on at which one of the two has nothing. */
  const merge = (own: unknown, other: unknown, at: number): unknown => {
    if (at === keys.length || Array.isArray(own) !== Array.isArray(other)) return other;
    if (Array.isArray(own) && Array.isArray(other)) {
      const place = Number(keys[at]);
      if (place >= own.length || place >= other.length) return other;
      return own.map((one: unknown, k) => (k === place ? merge(one, other[place], at + 1) : one));
    }
    if (!isRecord(own) || !isRecord(other)) return other;
    const key = keyAt(own, other, at);
    const { [key.name]: value, ...rest } = own;
    const next = merge(value, other[key.name], at + key.length);
    return next === undefined ? rest : { ...own, [key.name]: next };
  };
  /** A key of a record, which may have dots of its own. */
  const keyAt = (own: object, other: object, at: number): { name: string; length: number } => {
    for (let length = keys.length - at; length > 1; length--) {
      const name = keys.slice(at, at + length).join('.');
      if (Object.hasOwn(own, name) || Object.hasOwn(other, name)) return { name, length };
    }
    return { name: keys[at]!, length: 1 };
  };
  return parseLook(merge(look, from, 0));
}
