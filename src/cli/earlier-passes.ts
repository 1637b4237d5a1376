import { withOlderPasses } from '../core/image/merge';
import type { Picture } from '../core/image/picture';

/** What was read of each watched file before, so that one that is written with fewer passes keeps the others. */
export class EarlierPasses {
  private readonly known = new Map<string, Picture>();
  /** The version that what is read next belongs to. */
  version = 1;

  /** The picture of some files with the passes that it lacks and had in the last version. */
  complete(paths: readonly string[], picture: Picture): Picture {
    const key = paths.join('\n');
    const before = this.known.get(key);
    if (picture.isIncomplete) return picture;
    const whole = before ? withOlderPasses(picture, before, `version ${this.version - 1}`) : picture;
    this.known.set(key, whole);
    return whole;
  }
}

/** Passes that are of earlier versions, for people: `diffuse, depth of version 1`. */
export function tellOlder(pictures: readonly Picture[]): string {
  const byVersion = new Map<string, string[]>();
  for (const [pass, version] of pictures.flatMap(({ older = new Map<string, string>() }) => [...older]))
    byVersion.set(version, [...(byVersion.get(version) ?? []), pass]);
  return [...byVersion].map(([version, passes]) => `${passes.join(', ')} of ${version}`).join('; ');
}
