import { Option, type Command } from 'commander';
import {
  bitsOption,
  integer,
  plateFiles,
  rectangle,
  samplesOption,
  share,
  withElements,
  withLook,
  withPlate,
} from '../options';
import { stackOf, type Plate } from '../../core/light/plate';
import { ContentCache } from '../../core/light/cache';
import { evaluate, type Evaluation } from '../../core/bench/evaluate';
import { cutRegion } from '../../core/light/region';
import type { Rectangle } from '../../core/image/rectangle';
import { BokeluxError, FileError, SettingError } from '../../core/errors';
import { kernelsOn } from '../../core/kernels';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { kindOfFile, WRITE_EXTENSIONS } from '../../core/print/encode';
import type { PrintAlpha } from '../../core/print/alpha';
import { MOST_WIDTH } from '../../core/print/limits';
import { lookForPrint, print, type PrintFormat, type PrintPrimaries } from '../../core/print/print';
import type { Look } from '../../core/look/look';
import { placeSpaceLights } from '../../core/look/space-lights';
import { readLights } from '../../core/formats/lights/read';
import { lightsAtFrame } from '../../core/formats/lights/space-light';
import { readBytes, writeBytes } from '../files';
import type { NamedElement } from '../elements';
import { EarlierPasses, tellOlder } from '../earlier-passes';
import { openSource } from '../source';
import { progressLine } from '../progress';
import { plateUnderLook } from '../../core/stations/plate/primaries';
import { filmView } from '../../core/stations/film/run';
import { withThreads } from '../threads';
import { watchFiles } from '../watch';

export interface RenderOptions {
  look?: string;
  element: NamedElement[];
  set: string[];
  lens?: string;
  lights?: string;
  frame: number;
  out: string;
  separations?: boolean;
  primaries?: PrintPrimaries;
  beforeFilm?: boolean;
  alpha?: PrintAlpha;
  width?: number;
  scale: number;
  region?: Rectangle;
  workers?: number;
  type: 'plate' | 'half' | 'float';
  bits?: '8' | '16' | 'half' | 'float';
  json?: boolean;
  watch?: boolean;
}

/** Sends a plate along the bench and writes the final. Gives what it was made of. */
async function render(
  files: readonly string[],
  options: RenderOptions,
  runner: TaskRunner,
  earlier?: EarlierPasses,
): Promise<Plate> {
  const format = formatOf(options);
  const { look: lookFile, element: elements, set, lens } = options;
  const source = openSource({ files, look: lookFile, elements, set, lens, runner, earlier });
  const look = lookForPrint(await withLights(source.look, options));
  const plate = { ...(await source.openPlate()), frameNumber: options.frame };
  const half = stackOf(plate).find(({ picture }) => picture.isIncomplete);
  if (options.watch && half)
    throw new FileError('it is not whole yet', {
      where: half.name,
      todo: 'It is taken when the rest is there',
    });
  const backdrop = await source.openBackdrop();
  const images = await source.openImages();
  // A table that is missing is told before anything is computed.
  const view = filmView(look, images);
  const bar = progressLine('computing');
  try {
    const { light, accounts, cleaned } = await evaluate(
      look,
      {
        plate,
        backdrop,
        ...images,
        separate: options.separations,
        totalOnly: !options.separations,
        cache: new ContentCache(0),
        kernels: kernelsOn(runner),
        progress: bar.step,
      },
      { scale: options.scale, behind: options.beforeFilm ? 'glass' : undefined },
    );
    bar.end();
    const { region } = options;
    const printed = await print({
      plate: plateUnderLook(plate, look),
      view,
      primaries: options.primaries,
      light: region ? cutRegion(light, region) : light,
      format,
      alpha: options.alpha,
      width: options.width,
      region,
      runner,
    });
    writeBytes(options.out, printed.bytes);
    const told = stackOf(plate).flatMap(({ picture }) => picture.warnings);
    for (const warning of [...told, ...printed.warnings]) process.stderr.write(`note: ${warning}\n`);
    if (options.json) {
      const touched = cleaned && { despiked: cleaned.despiked, clamped: cleaned.clamped };
      const report = { out: options.out, accounts: reportAccounts(accounts), touched };
      process.stdout.write(`${JSON.stringify(report, null, 2)}\n`);
    }
    return plate;
  } finally {
    bar.end();
  }
}

/**
 * Renders, and again whenever a file that it reads has been written anew, until the person ends it. A file that is not whole
 * yet, or no longer fits, is told, and what was written before stays. Passes that a file no longer has are those of the
 * version before.
 */
async function renderAndWatch(
  files: readonly string[],
  options: RenderOptions,
  runner: TaskRunner,
): Promise<void> {
  const { look, lens, lights, out } = options;
  const overlaid = options.element.flatMap(({ file, depth }) => [file, depth]);
  const watched = [...files, ...[...overlaid, look, lens, lights].filter((file) => file !== undefined)];
  const ended = new AbortController();
  const end = (): void => ended.abort();
  process.once('SIGINT', end).once('SIGTERM', end);
  const earlier = new EarlierPasses();
  const attempt = async (written: string[]): Promise<void> => {
    const why = written.length ? `${written.join(', ')} was written` : 'as the files are';
    try {
      const plate = await render(files, options, runner, earlier);
      const older = tellOlder(stackOf(plate).map(({ picture }) => picture));
      process.stderr.write(`${out}: version ${earlier.version++}, ${why}${older && `; ${older}`}\n`);
    } catch (error) {
      if (!(error instanceof BokeluxError)) throw error;
      const last = earlier.version - 1;
      const left = last ? `Version ${last} stays` : 'Nothing is written yet';
      process.stderr.write(`${why}, but ${error.line}. ${left}\n`);
    }
  };
  process.stderr.write(`watching ${watched.join(', ')}; Ctrl-C ends it\n`);
  try {
    await watchFiles(watched, attempt, ended.signal);
  } finally {
    process.off('SIGINT', end).off('SIGTERM', end);
  }
}

/** The look with the lights of a file as they stand at a frame. */
async function withLights(look: Look, { lights, frame }: RenderOptions): Promise<Look> {
  if (lights === undefined) return look;
  const read = await readLights(readBytes(lights), lights);
  for (const warning of read.warnings) process.stderr.write(`note: ${warning}\n`);
  return placeSpaceLights(look, lightsAtFrame(read, frame));
}

/** Energy accounts as the command prints them: shares of the light that came in. */
function reportAccounts(accounts: Evaluation['accounts']): object {
  return Object.fromEntries(
    Object.entries(accounts).map(([id, { moved, lostOutsideFrame, gain }]) => [
      id,
      { moved, left: lostOutsideFrame, gain },
    ]),
  );
}

function formatOf({ out, type, bits, separations }: RenderOptions): PrintFormat {
  const kind = kindOfFile(out);
  if (kind === 'exr') return { kind, samples: type, separations: separations ?? false };
  if (separations)
    throw new SettingError('only OpenEXR can hold separations', {
      where: '--separations',
      todo: 'Write OpenEXR',
    });
  return flatFormat(out, bits);
}

/** The format that a file's ending and the wanted samples ask for. */
export function flatFormat(out: string, bits: RenderOptions['bits']): Exclude<PrintFormat, { kind: 'exr' }> {
  const kind = kindOfFile(out);
  switch (kind) {
    case 'png':
      if (bits === 'half' || bits === 'float')
        throw new SettingError(`a PNG holds 8 or 16 bits, not ${bits}`, { where: '--bits' });
      return { kind, bits: bits === '16' ? 16 : 8 };
    case 'tiff':
      return { kind, samples: bits ?? 'float' };
    case 'hdr':
    case 'pfm':
      return { kind };
    default:
      throw new SettingError(
        `${out} ends in none of ${WRITE_EXTENSIONS.map((end) => `.${end}`).join(', ')}`,
        {
          where: out,
        },
      );
  }
}

export function addRender(program: Command): void {
  withLook(withElements(withPlate(program.command('render'))))
    .description('send a plate along the bench and write the final')
    .requiredOption(
      '--out <FILE>',
      'where to: .exr, .hdr, .pfm and .tiff stay scene-linear; .png, and .tiff of 8 or 16 bits, go through the view',
    )
    .option('--lens <FILE.json>', 'a lens design that ghosts come from')
    .option(
      '--lights <FILE>',
      'lights in space: .gltf or .glb with lights and a camera, or rows of places in .csv or .json',
    )
    .option('--frame <N>', 'frame of the places of lights, and of the grain', Number, 1)
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
    .option('--workers <N>', 'threads to use; one a core by default', integer(1, 256))
    .addOption(samplesOption())
    .addOption(bitsOption())
    .option('--json', 'print the energy accounts as JSON')
    .option('--watch', 'render again whenever a file that is read has been written, until it is ended')
    .action((file: string | undefined, options: RenderOptions & { plate: string[] }) =>
      withThreads(async (runner) => {
        const start = options.watch ? renderAndWatch : render;
        await start(plateFiles(file, options.plate, options.element), options, runner);
      }, options.workers),
    );
}
