import { FileError } from '../errors';
import { fileStem, type NamedFile } from './file-names';
import type { Channel, Picture } from './picture';

/** A file's picture with what its name tells. */
export interface PassFile {
  name: string;
  about: Pick<NamedFile, 'pass' | 'role'>;
  picture: Picture;
}

const MAIN = /^(R|G|B|A|Y|Z)$/;

/**
 * One picture of many files. The channels of a file that names a pass become that pass; layers keep their names.
 * Throws {@link FileError} if the files are not of one size.
 */
export function mergePictures(files: readonly PassFile[]): Picture {
  const [first] = files;
  if (files.length === 1) return first!.picture;
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
