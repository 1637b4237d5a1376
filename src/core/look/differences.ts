import { elementOf } from '../settings/element';
import { defaultLook, SETTINGS, type Look } from './look';

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
  const known = path.replace(/\[\d+\]/g, '[i]');
  const isTree = (isRecord(a) || Array.isArray(a)) && (isRecord(b) || Array.isArray(b));
  if (!isTree || WHOLE.has(known)) return JSON.stringify(a) === JSON.stringify(b) ? [] : [{ path, a, b }];
  if (Array.isArray(a) && Array.isArray(b)) {
    const length = Math.max(a.length, b.length);
    return Array.from({ length }, (_, k) => compare(a[k], b[k], `${path}[${k}]`)).flat();
  }
  const [one, other] = [a, b] as [Record<string, unknown>, Record<string, unknown>];
  const keys = [...new Set([...order, ...Object.keys(one), ...Object.keys(other)])];
  return keys.flatMap((key) => compare(one[key], other[key], path ? `${path}.${key}` : key));
}
