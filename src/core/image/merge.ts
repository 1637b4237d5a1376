import { FileError } from '../errors';
import { fileStem, type NamedFile } from './file-names';
import { passesOf } from './passes';
import type { Channel, Picture } from './picture';

/** A file's picture with what its name tells. */
export interface PassFile {
  name: string;
  /** The older render that it belongs to, for people; it stands in where the newest has nothing. */
  older?: string | undefined;
  about: Pick<NamedFile, 'pass' | 'role'>;
  picture: Picture;
}

const MAIN = /^(R|G|B|A|Y|Z)$/;

/**
 * One picture of many files. The channels of a file that names a pass become that pass; layers keep their names. Passes that the
 * newest render lacks are those of the older ones, the latest first. Throws {@link FileError} if the files of one render
 * are not of one size.
 */
export function mergePictures(files: readonly PassFile[]): Picture {
  if (files.length === 1) return files[0]!.picture;
  const renders = new Map<string | undefined, PassFile[]>([[undefined, []]]);
  for (const file of files) {
    const members = renders.get(file.older) ?? [];
    renders.set(file.older, members);
    members.push(file);
  }
  return [...renders].reduce<Picture | undefined>((newer, [render, members]) => {
    const picture = mergeRender(members);
    return newer ? withOlderPasses(newer, picture, render!) : picture;
  }, undefined)!;
}

/**
 * A picture with the passes that it lacks taken from an older one. Of beauty and depth there is one, whatever it is called. An older
 * picture of another size or place gives nothing, which is said.
 */
export function withOlderPasses(newer: Picture, older: Picture, render: string): Picture {
  const own = passesOf(newer);
  const isThere = new Set(own.map(({ name }) => name.toLowerCase()));
  const isSingle = new Set(own.flatMap(({ role }) => (role === 'beauty' || role === 'depth' ? [role] : [])));
  const left = passesOf(older).filter(
    ({ name, role }) => !isThere.has(name.toLowerCase()) && !isSingle.has(role as 'beauty' | 'depth'),
  );
  if (left.length === 0) return newer;
  if (!liesAlike(newer, older))
    return {
      ...newer,
      warnings: [
        ...newer.warnings,
        `${left.map(({ name }) => name).join(', ')} of ${render} is left out: it is ${older.width} x ${older.height} pixels, or lies elsewhere in its frame`,
      ],
    };
  const channels = new Map(newer.channels);
  const names = new Map(newer.older);
  for (const pass of left) {
    names.set(pass.name, older.older?.get(pass.name) ?? render);
    for (const { channel } of pass.channels) channels.set(channel.name, channel);
  }
  return { ...newer, channels, older: names };
}

const liesAlike = (a: Picture, b: Picture): boolean =>
  a.width === b.width &&
  a.height === b.height &&
  a.dataWindow.xMin === b.dataWindow.xMin &&
  a.dataWindow.yMin === b.dataWindow.yMin;

/** One picture of the files of one render, each of which may be one of its passes. */
function mergeRender(files: readonly PassFile[]): Picture {
  const [first] = files;
  const odd = files.find(
    ({ picture }) => picture.width !== first!.picture.width || picture.height !== first!.picture.height,
  );
  if (odd)
    throw new FileError(
      `it is ${odd.picture.width} x ${odd.picture.height} pixels, but ${first!.name} is ${first!.picture.width} x ${first!.picture.height}; passes of one picture have one size`,
      { where: odd.name, todo: 'Render it at the same size, or bring it in by itself' },
    );
  const channels = new Map<string, Channel>();
  const warnings: string[] = [];
  for (const { name, about, picture } of files) {
    const whole = about.role === 'beauty' || (about.pass === undefined && !channels.has('R'));
    const layer = about.pass ?? fileStem(name);
    for (const channel of picture.channels.values()) {
      const bare = about.pass === undefined ? MAIN.test(channel.name) : !channel.name.includes('.');
      const own = whole || !bare ? channel.name : `${layer}.${channel.name}`;
      const free = unusedName(own, layer, channels);
      channels.set(free, { ...channel, name: free });
    }
    warnings.push(...picture.warnings.map((warning) => `${name}: ${warning}`));
  }
  return {
    ...first!.picture,
    channels,
    warnings,
    isIncomplete: files.some(({ picture }) => picture.isIncomplete),
    range: files.every(({ picture }) => picture.range === 'display') ? 'display' : 'scene',
    compression: [...new Set(files.map(({ picture }) => picture.compression))].join(', '),
  };
}

function unusedName(wanted: string, layer: string, taken: ReadonlyMap<string, unknown>): string {
  if (!taken.has(wanted)) return wanted;
  const inLayer = `${layer}.${wanted}`;
  if (!taken.has(inLayer)) return inLayer;
  for (let k = 2; ; k++) if (!taken.has(`${layer}${k}.${wanted}`)) return `${layer}${k}.${wanted}`;
}
