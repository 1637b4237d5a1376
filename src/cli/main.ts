import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import type { Rectangle } from '../core/image/rectangle';
import { BokeluxError, SettingError } from '../core/errors';
import { convert, type ConvertOptions } from './commands/convert';
import { demo } from './commands/demo';
import { inspect, type InspectOptions } from './commands/inspect';
import { kernel, type KernelOptions } from './commands/kernel';
import { optics, type OpticsOptions } from './commands/optics';
import { pupil, type PupilOptions } from './commands/pupil';
import { render, type RenderOptions } from './commands/render';
import { settings } from './commands/settings';

/** What the command ends with: 0 done, 2 wrong use, 3 bad input, 1 our own fault. */
const EXIT = { done: 0, fault: 1, usage: 2, input: 3 } as const;

function integer(least: number, most: number): (text: string) => number {
  return (text) => {
    const value = Number(text);
    if (!Number.isInteger(value) || value < least || value > most) {
      throw new InvalidArgumentError(`a whole number from ${least} to ${most} is wanted.`);
    }
    return value;
  };
}

function share(text: string): number {
  const value = Number(text);
  if (!(value > 0 && value <= 1)) throw new InvalidArgumentError('a number over 0 and up to 1 is wanted.');
  return value;
}

function rectangle(text: string): Rectangle {
  const [x, y, width, height, ...more] = text.split(',').map(Number);
  if (![x, y, width, height].every(Number.isInteger) || more.length) {
    throw new InvalidArgumentError('four whole numbers x,y,width,height are wanted.');
  }
  return { x: x!, y: y!, width: width!, height: height! };
}

const collect = (text: string, previous: string[]): string[] => [...previous, text];

function build(): Command {
  const program = new Command('bokelux')
    .description('Camera and lens optics for rendered images, from the command line.')
    .exitOverride()
    .showHelpAfterError('`bokelux help` tells the ways to use it');
  const look = (command: Command): Command =>
    command
      .option('--look <LOOK.json>', 'the look; without it, the default one, which changes nothing')
      .option('--set <path=value>', 'change one setting; may be given again', collect, []);

  const plates = (command: Command): Command =>
    command
      .argument('[FILE]', 'a picture with all its passes')
      .option('--plate <FILE>', 'one pass of the picture; may be given again', collect, []);
  const bits = new Option('--bits <bits>', 'samples of PNG (8, 16) and TIFF (8, 16, half, float)').choices([
    '8',
    '16',
    'half',
    'float',
  ]);
  const samples = new Option('--type <type>', 'sample type of OpenEXR')
    .choices(['plate', 'half', 'float'])
    .default('plate');

  plates(program.command('inspect'))
    .description('what a picture file holds, and what is taken for beauty and depth')
    .option('--json', 'as JSON')
    .option('--hash', 'with the SHA-256 of every channel as it is stored')
    .action((file: string | undefined, options: InspectOptions & { plate: string[] }) =>
      inspect(given(file, options.plate), options),
    );
  program
    .command('settings')
    .description('every setting of the look: path, unit, range, default, real-lens band, help')
    .option('--json', 'as JSON')
    .action((options: { json?: boolean }) => settings(options));
  look(plates(program.command('render')))
    .description('send a plate along the bench and write the final')
    .requiredOption(
      '--out <FILE>',
      'where to: .exr, .hdr, .pfm and .tiff stay scene-linear; .png, and .tiff of 8 or 16 bits, go through the view',
    )
    .option('--separations', 'write plate and effects as layers, too (OpenEXR)')
    .option('--scale <share>', 'compute at a share of the full size', share, 1)
    .option('--region <x,y,w,h>', 'write only this rectangle, in pixels of the computed size', rectangle)
    .option('--workers <N>', 'threads to use; one a core by default', integer(1, 256))
    .addOption(samples)
    .addOption(bits)
    .option('--json', 'print the energy accounts as JSON')
    .action((file: string | undefined, options: RenderOptions & { plate: string[] }) =>
      render(given(file, options.plate), options),
    );

  program
    .command('convert')
    .description('write a picture in another format: OpenEXR keeps every channel, the others the beauty')
    .argument('<IN>')
    .argument('<OUT>', 'ends in .exr, .png, .tiff, .hdr or .pfm')
    .addOption(samples)
    .addOption(bits)
    .action((from: string, to: string, options: ConvertOptions) => convert(from, to, options));

  look(program.command('kernel'))
    .description("write the veil's point-spread function as OpenEXR, per channel")
    .option('--size <pixels>', 'side of the square picture', integer(16, 8192), 1024)
    .option(
      '--part <part>',
      "one part's own kernel, whatever its amount: bloom, spikes, halo, streak, diffusion, dirt, stack[0]",
    )
    .requiredOption('--out <K.exr>', 'where to')
    .action((options: KernelOptions) => kernel(options));
  look(program.command('pupil'))
    .description('write what the pupil of a look lets through, as a picture')
    .option('--size <pixels>', 'side of the square picture', integer(16, 8192), 512)
    .requiredOption('--out <P.png>', 'where to; ends in .png, .tiff, .hdr or .pfm')
    .action((options: PupilOptions) => pupil(options));
  look(program.command('optics'))
    .description('what the camera of a look does: sharp limits, angles of view, blur discs')
    .option(
      '--at <distances>',
      'distances in metres, parted by commas; inf is allowed (default: 1,2,5,10,inf)',
    )
    .option('--width <pixels>', 'width of the picture, for discs in pixels', integer(1, 65536), 1920)
    .option('--json', 'as JSON')
    .action((options: OpticsOptions) => optics(options));

  program
    .command('demo')
    .description("write the demo shot's files into a folder")
    .argument('<DIR>')
    .action((folder: string) => demo(folder));
  return program;
}

/** The files of a plate: those with `--plate`, or the one that is named. */
function given(file: string | undefined, plates: readonly string[]): string[] {
  const all = [...(file === undefined ? [] : [file]), ...plates];
  if (all.length) return all;
  throw new SettingError('a picture is wanted', { todo: 'Name a file, or its passes with --plate' });
}

/** Runs the command line and gives its exit code. */
export async function main(argv: readonly string[]): Promise<number> {
  try {
    await build().parseAsync([...argv], { from: 'user' });
    return EXIT.done;
  } catch (error) {
    if (error instanceof CommanderError) {
      return error.exitCode === 0 ? EXIT.done : EXIT.usage;
    }
    if (error instanceof BokeluxError) {
      process.stderr.write(`bokelux: ${error.line}\n`);
      return error instanceof SettingError ? EXIT.usage : EXIT.input;
    }
    process.stderr.write(
      `bokelux: an error of ours, please report it: ${(error as Error).stack ?? String(error)}\n`,
    );
    return EXIT.fault;
  }
}
