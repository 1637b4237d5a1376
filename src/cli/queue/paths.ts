import { SettingError } from '../../core/errors';
import { SETTINGS } from '../../core/look/look';
import type { NamedElement } from '../elements';
import type { FrameJob } from '../frame-job';
import type { RenderOptions } from '../render-file';

const IMAGE_PATHS = new Set(SETTINGS.filter(({ kind }) => kind === 'image').map(({ path }) => path));

/** What of some options a frame is printed with; the rest belongs to the command. */
export function printOptions(options: RenderOptions): RenderOptions {
  const { look, element, set, lens, lights, fps, lightsFrom, frame, out, separations, primaries } = options;
  const { beforeFilm, alpha, width, scale, region, type, bits } = options;
  const all = { look, element, set, lens, lights, fps, lightsFrom, frame, out, separations, primaries };
  const wanted = { ...all, beforeFilm, alpha, width, scale, region, type, bits };
  // Left out and not undefined, as they come back from JSON.
  return Object.fromEntries(
    Object.entries(wanted).filter(([, value]) => value !== undefined),
  ) as unknown as RenderOptions;
}

/** A job with every path of a file as a function has it. */
export function mapPaths({ files, options, around }: FrameJob, map: (path: string) => string): FrameJob {
  const { look, lens, lights, element, set, out } = options;
  const mapElements = (elements: readonly NamedElement[]): NamedElement[] =>
    elements.map((one) => ({
      ...one,
      file: map(one.file),
      depth: one.depth === undefined ? undefined : map(one.depth),
    }));
  return {
    files: files.map(map),
    ...(around && {
      around: around.map((frame) => ({
        ...frame,
        files: frame.files.map(map),
        element: mapElements(frame.element),
      })),
    }),
    options: {
      ...options,
      out: map(out),
      element: mapElements(element),
      set: set.map((assignment) => mapImage(assignment, map)),
      ...(look !== undefined && { look: map(look) }),
      ...(lens !== undefined && { lens: map(lens) }),
      ...(lights !== undefined && { lights: map(lights) }),
    },
  };
}

/** An assignment of an image by a path (a bare name may be one of the shot's), with that path mapped; others as they are. */
function mapImage(assignment: string, map: (path: string) => string): string {
  const at = assignment.indexOf('=');
  const [path, value] = [assignment.slice(0, at), assignment.slice(at + 1)];
  if (at < 0 || !/[\\/]/.test(value) || !IMAGE_PATHS.has(path.trim())) return assignment;
  return `${path}=${map(value)}`;
}

/** A folder, and what the same folder is called on this machine. */
export interface Root {
  from: string;
  to: string;
}

export function parseRoot(text: string): Root {
  const at = text.indexOf('=');
  if (at < 1 || at === text.length - 1)
    throw new SettingError(`${text} maps no folder to another`, {
      where: '--root',
      todo: 'FROM=TO is wanted, as in /srv/shots=/mnt/shots',
    });
  const trim = (path: string): string => path.replace(/\/+$/, '');
  return { from: trim(text.slice(0, at)), to: trim(text.slice(at + 1)) };
}

/** A path as this machine has it: by the longest of the roots that it lies in. */
export function onThisMachine(path: string, roots: readonly Root[]): string {
  const root = roots
    .filter(({ from }) => path === from || path.startsWith(`${from}/`))
    .sort((a, b) => b.from.length - a.from.length)[0];
  return root ? root.to + path.slice(root.from.length) : path;
}
