import { readFileName } from '../image/file-names';
import type { PlateEntry, PlateFile, PlateVersion } from './shot';

/** A plate keeps so many renders. */
const MOST_VERSIONS = 100;

type Frame = PlateVersion['frames'][number];

/** A file's name without what tells versions apart. */
const baseOf = ({ name }: PlateFile): string =>
  readFileName(name)
    .base.toLowerCase()
    .replace(/[._-]?v\d+/g, '');

/** Whether two renders are of one thing by their names, so that one may stand in for what the other lacks. */
function isSameThing(a: PlateVersion, b: PlateVersion): boolean {
  const bases = new Set(a.frames.flatMap(({ files }) => files.map(baseOf)));
  return b.frames.some(({ files }) => files.some((file) => bases.has(baseOf(file))));
}

/** The files of a frame with those of the same frame before it behind them. */
function laidOver(newer: Frame, before: Frame): Frame {
  const passes = new Set(newer.files.map(({ name }) => readFileName(name).pass).filter(Boolean));
  // A pass that has a file of its own is replaced whole.
  const older = [...before.files, ...(before.older ?? [])].filter(
    ({ name }) => !passes.has(readFileName(name).pass),
  );
  return older.length > 0 ? { ...newer, older } : newer;
}

/**
 * A plate with a newer render on the bench. What it lacks, passes or frames, is that of the version that was there, if by their names
 * both are of one thing.
 */
export function withNewerRender(plate: PlateEntry, incoming: PlateVersion): PlateEntry {
  const before = plate.versions[plate.version]!;
  const shown = before.frames[plate.frame]!.frame;
  let { frames } = incoming;
  if (isSameThing(incoming, before)) {
    const known = new Map(before.frames.map((one) => [one.frame, one]));
    const taken = frames.map((one) => {
      const old = known.get(one.frame);
      known.delete(one.frame);
      return old ? laidOver(one, old) : one;
    });
    // A single picture in the place of a sequence, or the other way round, is another thing.
    const isOneKind = (frames[0]!.frame === null) === (before.frames[0]!.frame === null);
    frames = isOneKind
      ? [...taken, ...known.values()].sort((a, b) => (a.frame ?? 0) - (b.frame ?? 0))
      : frames;
  }
  const versions = [...plate.versions, { ...incoming, frames }].slice(-MOST_VERSIONS);
  const same = frames.findIndex(({ frame }) => frame === shown);
  return {
    ...plate,
    versions,
    version: versions.length - 1,
    frame: same < 0 ? Math.min(plate.frame, frames.length - 1) : same,
  };
}

/** A plate whose version on the bench keeps, of older files, only those that `isUsed`. */
export function keepOlder(plate: PlateEntry, isUsed: (file: PlateFile) => boolean): PlateEntry {
  const versions = plate.versions.map((version, index) => {
    if (index !== plate.version) return version;
    const frames = version.frames.map(({ older, ...frame }): Frame => {
      const left = older?.filter(isUsed) ?? [];
      return left.length > 0 ? { ...frame, older: left } : frame;
    });
    return { ...version, frames };
  });
  return { ...plate, versions };
}

/** Whether the version on the bench takes anything from older ones. */
export const hasOlder = ({ versions, version }: PlateEntry): boolean =>
  versions[version]!.frames.some(({ older }) => older !== undefined);
