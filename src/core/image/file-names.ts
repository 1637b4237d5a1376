import { isPassWord, readPassName, type PassName } from './pass-words';
import type { Role } from './roles';

/** What a file's name tells: `shot.diffuse.0001.exr` is frame 1 of the diffuse pass of shot. */
export interface NamedFile {
  /** The name without pass, frame and ending. */
  base: string;
  /** The word for the pass as it is written, if there is one. */
  pass: string | undefined;
  role: Role | undefined;
  frame: number | undefined;
}

/** A file's name without its folders and its ending. */
export function fileStem(file: string): string {
  return file.replace(/^.*[/\\]/, '').replace(/\.[^.]+$/, '');
}

const isEqual = (a: PassName, b: PassName): boolean =>
  a.role === b.role && a.partOf === b.partOf && a.doubt === b.doubt;

/** Words that are as often a place or a thing in a shot's name: they name a pass only at its end. */
const OFTEN_NAMES = new Set([
  'main',
  'master',
  'comp',
  'full',
  'image',
  'final',
  'fog',
  'atmosphere',
  'coat',
  'mask',
  'vector',
  'wire',
  'shadow',
  'shadows',
  'noise',
  'bounce',
  'scatter',
  'position',
]);

/**
 * Reads a file's name: the last run of parts, between dots, dashes and underscores, that names a pass with every word. Single
 * letters count only at the end.
 */
export function readFileName(file: string): NamedFile {
  const stem = fileStem(file);
  const numbered = /^(.*?)[._-]?(\d{3,})$/.exec(stem);
  const named = numbered?.[1] ? numbered[1] : stem;
  const frame = numbered?.[1] ? Number(numbered[2]) : undefined;
  const parts = named.split(/[._\-\s]+/).filter(Boolean);
  const joins = (index: number): boolean => isPassWord(`${parts[index] ?? ''}${parts[index + 1] ?? '-'}`);
  const names = (index: number): boolean => {
    const part = parts[index]!;
    if (!readPassName(part).isPlain) return false;
    if (index === parts.length - 1 || joins(index)) return true;
    return part.length > 1 && !OFTEN_NAMES.has(part.toLowerCase());
  };
  const readRun = (start: number, end: number): PassName => readPassName(parts.slice(start, end).join('_'));
  for (let end = parts.length; end > 0; end--) {
    if (!names(end - 1)) continue;
    let start = end - 1;
    while (start > 0 && names(start - 1)) start--;
    if (!readRun(start, end).role) continue;
    // Leading words that say nothing belong to the shot.
    while (
      start + 1 < end &&
      !joins(start) &&
      !readRun(start, start + 1).role &&
      isEqual(readRun(start, end), readRun(start + 1, end))
    )
      start++;
    // A file that is called only "noise" or "texture" is as often a picture of its own.
    if (readRun(start, end).role === 'other' && end - start === parts.length) break;
    const pass = parts.slice(start, end).join('_');
    // A file that is called only "depth" has no base; all such files belong together.
    const base = [...parts.slice(0, start), ...parts.slice(end)].join('_');
    return { base, pass: pass.toLowerCase(), role: readRun(start, end).role, frame };
  }
  return { base: named, pass: undefined, role: undefined, frame };
}

/** One picture to be made of files: its passes, frame by frame. */
export interface FileGroup<F> {
  name: string;
  /** In order of their frames; a single picture has one, without a number. */
  frames: { frame: number | undefined; files: { file: F; about: NamedFile }[] }[];
}

/**
 * Sorts files into pictures by their names: those of one base are passes, or frames, of one picture. Files of one name, from
 * two folders, are two pictures, told apart by their folders; `folderOf` gives a file's, if it is known.
 */
export function groupFiles<F extends { name: string }>(
  files: readonly F[],
  folderOf: (file: F) => string = () => '',
): FileGroup<F>[] {
  const counts = new Map<string, number>();
  for (const { name } of files) counts.set(name, (counts.get(name) ?? 0) + 1);
  const isDouble = files.some(({ name }) => counts.get(name)! > 1);
  const groups = new Map<string, FileGroup<F>>();
  files.forEach((file, index) => {
    const about = readFileName(file.name);
    const folder = isDouble ? folderOf(file) || (counts.get(file.name)! > 1 ? `${index + 1}` : '') : '';
    const key = `${folder}/${about.base.toLowerCase()}`.replace(/^\//, '');
    const label = folder ? `${about.base || file.name} (${folder})` : about.base || file.name;
    const group = groups.get(key) ?? { name: label, frames: [] };
    groups.set(key, group);
    let frame = group.frames.find((one) => one.frame === about.frame);
    if (!frame) group.frames.push((frame = { frame: about.frame, files: [] }));
    frame.files.push({ file, about });
  });
  joinNameless(groups);
  for (const group of groups.values()) {
    group.frames.sort((a, b) => (a.frame ?? 0) - (b.frame ?? 0));
    for (const { files: members } of group.frames)
      members.sort((a, b) => rank(a.about.role) - rank(b.about.role));
    // A lone file keeps its own name.
    const all = group.frames.flatMap((frame) => frame.files);
    if (all.length === 1) {
      const { file } = all[0]!;
      const folder = counts.get(file.name)! > 1 ? /\(.*\)$/.exec(group.name)?.[0] : undefined;
      group.name = folder ? `${file.name} ${folder}` : file.name;
    }
  }
  return [...groups.values()];
}

/** Files that are called only by their pass belong to the one picture beside them, if there is just one. */
function joinNameless<F extends { name: string }>(groups: Map<string, FileGroup<F>>): void {
  const nameless = groups.get('');
  if (!nameless || groups.size !== 2) return;
  const [other] = [...groups.values()].filter((group) => group !== nameless);
  const [own, theirs] = [nameless.frames, other!.frames];
  if (own.length !== 1 || theirs.length !== 1 || own[0]!.files.some(({ about }) => about.role === 'beauty'))
    return;
  theirs[0]!.files.push(...own[0]!.files);
  groups.delete('');
}

/** The beauty first, then what names no pass, then the rest. */
function rank(role: Role | undefined): number {
  return role === 'beauty' ? 0 : role === undefined ? 1 : 2;
}
