import { SettingError } from '../errors';

/** A file name with a place for the frame's number: `quay.####.exr` or `quay.%04d.exr`. */
export interface FramePattern {
  before: string;
  /** Digits that a number is filled up to. */
  digits: number;
  after: string;
}

const PLACE = /#+|%0?(\d*)d/g;
const MOST_DIGITS = 12;
const MOST_FRAMES = 1_000_000;

/** Reads a pattern; undefined for a name without a place for the number. The last place of a path counts. */
export function readPattern(path: string): FramePattern | undefined {
  const found = [...path.matchAll(PLACE)].at(-1);
  if (!found) return undefined;
  const [place, width] = found;
  const digits = place.startsWith('#') ? place.length : Number(width || 1);
  if (digits > MOST_DIGITS)
    throw new SettingError(`a frame's number has up to ${MOST_DIGITS} digits`, { where: path });
  return { before: path.slice(0, found.index), digits, after: path.slice(found.index + place.length) };
}

/** The name of a frame. */
export const nameOfFrame = ({ before, digits, after }: FramePattern, frame: number): string =>
  `${before}${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(digits, '0')}${after}`;

/** The frames among some names, with the name of each, however far their numbers are filled up; in order. */
export function framesAmong({ before, after }: FramePattern, names: Iterable<string>): Map<number, string> {
  const found: [number, string][] = [];
  for (const name of names) {
    if (!name.startsWith(before) || !name.endsWith(after)) continue;
    const number = name.slice(before.length, name.length - after.length);
    if (/^-?\d+$/.test(number)) found.push([Number(number), name]);
  }
  return new Map(found.sort(([a], [b]) => a - b));
}

/** Reads a list of frames such as `1-24,30,40-60x2`, in order and each once. */
export function readFrames(text: string): number[] {
  const frames = new Set<number>();
  for (const part of text.split(',')) {
    const range = /^\s*(-?\d+)(?:-(-?\d+)(?:x(\d+))?)?\s*$/.exec(part);
    const [first, last, step] = [
      Number(range?.[1]),
      Number(range?.[2] ?? range?.[1]),
      Number(range?.[3] ?? 1),
    ];
    if (!range || last < first || step < 1)
      throw new SettingError(`"${part.trim()}" is no frame, and no range of frames`, {
        todo: 'As in 1-24,30,40-60x2',
      });
    if ((last - first) / step > MOST_FRAMES)
      throw new SettingError(`"${part.trim()}" are more than ${MOST_FRAMES} frames`, {
        todo: 'Print fewer at once',
      });
    for (let frame = first; frame <= last; frame += step) frames.add(frame);
  }
  return [...frames].sort((a, b) => a - b);
}
