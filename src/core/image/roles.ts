/**
 * What a pass is to the picture. The components of light add up to the beauty (common practice); the rest is data, or
 * is left alone.
 */
export const ROLES = [
  {
    value: 'beauty',
    label: 'Beauty',
    words: ['beauty', 'rgba', 'rgb', 'main', 'combined', 'composite', 'final', 'image'],
  },
  { value: 'diffuse', label: 'Diffuse', words: ['diffuse', 'diff'] },
  {
    value: 'specular',
    label: 'Specular',
    words: ['specular', 'spec', 'reflection', 'reflections', 'refl', 'glossy'],
  },
  {
    value: 'transmission',
    label: 'Transmission',
    words: ['transmission', 'refraction', 'refractions', 'refr'],
  },
  { value: 'emission', label: 'Emission', words: ['emission', 'emissive', 'illumination', 'emit'] },
  { value: 'indirect', label: 'Indirect', words: ['indirect', 'gi'] },
  { value: 'sss', label: 'Subsurface', words: ['sss', 'subsurface'] },
  { value: 'volume', label: 'Volume', words: ['volume', 'volumetric'] },
  { value: 'depth', label: 'Depth', words: ['depth', 'z', 'zdepth'] },
  { value: 'normal', label: 'Normal', words: ['normal', 'normals', 'n'] },
  { value: 'matte', label: 'Matte', words: ['matte', 'mattes', 'mask', 'masks', 'id', 'ids', 'cryptomatte'] },
  { value: 'other', label: 'Other', words: [] },
] as const;

export type Role = (typeof ROLES)[number]['value'];

export const ROLE_VALUES = ROLES.map(({ value }) => value) as [Role, ...Role[]];

const COMPONENTS: ReadonlySet<Role> = new Set([
  'diffuse',
  'specular',
  'transmission',
  'emission',
  'indirect',
  'sss',
  'volume',
]);

/** Whether passes of a role add up to the beauty. */
export function isComponent(role: Role): boolean {
  return COMPONENTS.has(role);
}

/** Whether the values of a role are not colour. */
export function isData(role: Role): boolean {
  return role === 'depth' || role === 'normal' || role === 'matte';
}

/** Words beside a component's name that say it is not light: the surface's own colour, or a part of the whole. */
const NOT_LIGHT = new Set(['albedo', 'color', 'colour', 'filter', 'raw', 'direct']);

const BY_WORD = new Map<string, Role>(
  ROLES.flatMap(({ value, words }) => words.map((word): [string, Role] => [word, value])),
);

/** `diffuseIndirect_left` as words: diffuse, indirect, left. */
function wordsOf(name: string): string[] {
  return name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter(Boolean);
}

/** The role that a pass's name tells; the last word that is understood decides. */
export function roleOfName(name: string): Role | undefined {
  const words = wordsOf(name);
  const found = words.map((word) => BY_WORD.get(word)).findLast((role) => role !== undefined);
  if (found === undefined) return undefined;
  return isComponent(found) && words.some((word) => NOT_LIGHT.has(word)) ? 'other' : found;
}

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

/** Reads a file's name. Only whole words between dots, dashes and underscores count; single letters only at the end. */
export function readFileName(file: string): NamedFile {
  const stem = fileStem(file);
  const numbered = /^(.*?)[._-]?(\d{3,})$/.exec(stem);
  const named = numbered?.[1] ? numbered[1] : stem;
  const frame = numbered?.[1] ? Number(numbered[2]) : undefined;
  const parts = named.split(/[._\-\s]+/);
  const at = parts.findLastIndex(
    (part, index) => BY_WORD.has(part.toLowerCase()) && (part.length > 1 || index === parts.length - 1),
  );
  // A file that is called only "depth" has no base; all such files belong together.
  if (at < 0) return { base: named, pass: undefined, role: undefined, frame };
  const base = parts.filter((_, index) => index !== at).join('_');
  return { base, pass: parts[at]!.toLowerCase(), role: BY_WORD.get(parts[at]!.toLowerCase()), frame };
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
