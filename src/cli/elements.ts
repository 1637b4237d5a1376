import { FileError, SettingError } from '../core/errors';
import { passesOf, findDepth } from '../core/image/passes';
import type { Picture } from '../core/image/picture';
import { makePlate, stackPlates, type Plate } from '../core/light/plate';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import { assignSetting, elementPath, type Look } from '../core/look/look';
import type { EarlierPasses } from './earlier-passes';
import { readPicture } from './files';

/** An element as the command line names it: `FILE,depth=FILE,distance=4,mode=over`. */
export interface NamedElement {
  file: string;
  depth: string | undefined;
  /** Settings of the element, as `name=value`. */
  settings: readonly string[];
}

/** Takes an element's file and what is said of it apart; a name may have commas of its own. */
export function parseElement(text: string): NamedElement {
  const parts = text.split(/,(?=\w[\w.[\]]*=)/);
  const [file, ...rest] = parts;
  if (!file)
    throw new SettingError(`"${text}" names no file`, {
      where: '--element',
      todo: 'FILE[,distance=4][,mode=add]',
    });
  const depth = rest.findLast((part) => part.startsWith('depth='));
  return {
    file,
    depth: depth?.slice('depth='.length),
    settings: rest.filter((part) => !part.startsWith('depth=')),
  };
}

/** A look with what the command line says of elements; the first of them lies at `first` in the stack. */
export function withElementSettings(look: Look, elements: readonly NamedElement[], first: number): Look {
  return elements.reduce(
    (all, { settings }, k) =>
      settings.reduce((changed, setting) => assignSetting(changed, elementPath(first + k, setting)), all),
    look,
  );
}

/** Opens elements and lays them over a plate; without one, the first of them is the plate. */
export async function stackElements(
  base: Plate | undefined,
  elements: readonly NamedElement[],
  runner: TaskRunner | undefined,
  earlier?: EarlierPasses,
): Promise<Plate> {
  const opened: Plate[] = [];
  for (const [k, element] of elements.entries())
    opened.push(await openElement(element, `element ${k}`, runner, earlier));
  const stack = base ? [base, ...opened] : opened;
  return stackPlates(stack[0]!, stack);
}

async function openElement(
  { file, depth }: NamedElement,
  id: string,
  runner: TaskRunner | undefined,
  earlier: EarlierPasses | undefined,
): Promise<Plate> {
  const read = await readPicture([file], runner);
  const picture = earlier?.complete([file], read) ?? read;
  const name = file.replace(/^.*[/\\]/, '');
  return makePlate(id, name, depth === undefined ? picture : await withDepth(picture, depth, runner));
}

/** A picture with the distances of another file as its depth. */
async function withDepth(picture: Picture, file: string, runner: TaskRunner | undefined): Promise<Picture> {
  const other = await readPicture([file], runner);
  if (other.width !== picture.width || other.height !== picture.height)
    throw new FileError(
      `it is ${other.width} x ${other.height} pixels, but its element is ${picture.width} x ${picture.height}`,
      { where: file, todo: 'Render it at the same size' },
    );
  const passes = passesOf(other);
  const found = findDepth(passes) ?? passes[0];
  if (!found) throw new FileError('it has no channels', { where: file });
  const channels = new Map(picture.channels);
  // The depth that it may have of its own gives way.
  for (const { channel } of findDepth(passesOf(picture))?.channels ?? []) channels.delete(channel.name);
  channels.set('depth.Z', { ...found.channels[0]!.channel, name: 'depth.Z' });
  return { ...picture, channels };
}
