import { InvalidArgumentError, Option, type Command } from 'commander';
import { SettingError } from '../core/errors';
import { MOST_WIDTH } from '../core/print/limits';
import { parseElement, type NamedElement } from './elements';
import { isShotFile } from './source';
import type { Rectangle } from '../core/image/rectangle';

export function integer(least: number, most: number): (text: string) => number {
  return (text) => {
    const value = Number(text);
    if (!Number.isInteger(value) || value < least || value > most) {
      throw new InvalidArgumentError(`a whole number from ${least} to ${most} is wanted.`);
    }
    return value;
  };
}

export function positive(text: string): number {
  const value = Number(text);
  if (!(value > 0 && Number.isFinite(value))) throw new InvalidArgumentError('a number over 0 is wanted.');
  return value;
}

export function share(text: string): number {
  const value = Number(text);
  if (!(value > 0 && value <= 1)) throw new InvalidArgumentError('a number over 0 and up to 1 is wanted.');
  return value;
}

export function rectangle(text: string): Rectangle {
  const [x, y, width, height, ...more] = text.split(',').map(Number);
  if (![x, y, width, height].every(Number.isInteger) || more.length) {
    throw new InvalidArgumentError('four whole numbers x,y,width,height are wanted.');
  }
  return { x: x!, y: y!, width: width!, height: height! };
}

export const collect = (text: string, previous: string[]): string[] => [...previous, text];

/** Options that choose a look. */
export const withLook = (command: Command): Command =>
  command
    .option(
      '--look <LOOK.json>',
      'the look; without it, that of the shot, or the default one, which changes nothing',
    )
    .option('--set <path=value>', 'change one setting; may be given again', collect, []);

/** A plate, in one file or several. */
export const withPlate = (command: Command): Command =>
  command
    .argument('[FILE]', 'a picture with all its passes, or a shot (.bokelux)')
    .option('--plate <FILE>', 'one pass of the picture; may be given again', collect, []);

const collectElements = (text: string, previous: NamedElement[]): NamedElement[] => [
  ...previous,
  parseElement(text),
];

/** Renders that lie over the plate. */
export const withElements = (command: Command): Command =>
  command.option(
    '--element <FILE[,name=value…]>',
    'a render that lies over what was named before it, back to front; may be given again. depth=FILE is its depth, any other name a setting of the element: distance=4, mode=add',
    collectElements,
    [],
  );

/** A shot whose look is taken. */
export const withShot = (command: Command): Command =>
  command.argument('[SHOT]', 'a shot (.bokelux) whose look and images are taken');

export const bitsOption = (): Option =>
  new Option('--bits <bits>', 'samples of PNG (8, 16) and TIFF (8, 16, half, float)').choices([
    '8',
    '16',
    'half',
    'float',
  ]);

export const samplesOption = (): Option =>
  new Option('--type <type>', 'sample type of OpenEXR').choices(['plate', 'half', 'float']).default('plate');

/** The files of a plate: those with `--plate`, or the one that is named. */
export function plateFiles(
  file: string | undefined,
  plates: readonly string[],
  elements: readonly NamedElement[] = [],
): string[] {
  const all = [...(file === undefined ? [] : [file]), ...plates];
  if (all.length || elements.length) return all;
  throw new SettingError('a picture is wanted', { todo: 'Name a file, or its passes with --plate' });
}

/** The shot that a command takes its look from, if one is named. */
export function shotFiles(shot: string | undefined): string[] {
  if (shot === undefined) return [];
  if (isShotFile(shot)) return [shot];
  throw new SettingError(`${shot} is not a shot`, {
    todo: 'Name a file that ends in .bokelux; a look goes behind --look',
  });
}

/** How a final is computed and written. */
export const withPrint = (command: Command): Command =>
  command
    .option('--lens <FILE.json>', 'a lens design that ghosts come from')
    .option(
      '--lights <FILE>',
      'lights in space: .gltf or .glb with lights and a camera, or rows of places in .csv or .json',
    )
    .option('--fps <N>', 'frames a second, for lights of a scene in glTF that move', Number, 24)
    .option('--lights-from <N>', 'the frame at which they begin to', integer(-1e6, 1e6), 1)
    .option('--separations', 'write plate and effects as layers, too (OpenEXR)')
    .addOption(
      new Option('--primaries <which>', 'primaries of a scene-linear file')
        .choices(['rec709', 'acescg', 'plate'])
        .default('rec709'),
    )
    .option('--before-film', 'write the light as it is before Film')
    .addOption(
      new Option('--alpha <which>', 'alpha of PNG and TIFF; OpenEXR has that of the plate, associated')
        .choices(['none', 'associated', 'unassociated'])
        .default('none'),
    )
    .option('--width <N>', 'pixels that the written frame is across', integer(1, MOST_WIDTH))
    .option('--scale <share>', 'compute at a share of the full size', share, 1)
    .option('--region <x,y,w,h>', 'write only this rectangle, in pixels of the computed size', rectangle)
    .addOption(samplesOption())
    .addOption(bitsOption());
