import type { Command } from 'commander';
import type { Evaluation } from '../../core/bench/evaluate';
import { BokeluxError } from '../../core/errors';
import { stackOf, type Plate } from '../../core/light/plate';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { integer, plateFiles, withElements, withLook, withPlate, withPrint } from '../options';
import { EarlierPasses, tellOlder } from '../earlier-passes';
import { renderFile, type RenderOptions } from '../render-file';
import { withThreads } from '../threads';
import { watchFiles } from '../watch';

interface CommandOptions extends RenderOptions {
  workers?: number;
  json?: boolean;
  watch?: boolean;
}

/** Renders a picture and tells of it. Gives what it was made of. */
async function render(
  files: readonly string[],
  options: CommandOptions,
  runner: TaskRunner,
  earlier?: EarlierPasses,
): Promise<Plate> {
  const { plate, accounts, cleaned, warnings } = await renderFile(files, options, {
    runner,
    earlier,
    mustBeWhole: options.watch,
    progress: true,
  });
  for (const warning of warnings) process.stderr.write(`note: ${warning}\n`);
  if (options.json) {
    const touched = cleaned && { despiked: cleaned.despiked, clamped: cleaned.clamped };
    const report = { out: options.out, accounts: reportAccounts(accounts), touched };
    process.stdout.write(`${JSON.stringify(report, null, 2)}\n`);
  }
  return plate;
}

/**
 * Renders, and again whenever a file that it reads has been written anew, until the person ends it. A file that is not whole
 * yet, or no longer fits, is told, and what was written before stays. Passes that a file no longer has are those of the
 * version before.
 */
async function renderAndWatch(
  files: readonly string[],
  options: CommandOptions,
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

/** Energy accounts as the command prints them: shares of the light that came in. */
function reportAccounts(accounts: Evaluation['accounts']): object {
  return Object.fromEntries(
    Object.entries(accounts).map(([id, { moved, lostOutsideFrame, gain }]) => [
      id,
      { moved, left: lostOutsideFrame, gain },
    ]),
  );
}

export function addRender(program: Command): void {
  withPrint(withLook(withElements(withPlate(program.command('render')))))
    .description('send a plate along the bench and write the final')
    .requiredOption(
      '--out <FILE>',
      'where to: .exr, .hdr, .pfm and .tiff stay scene-linear; .png, and .tiff of 8 or 16 bits, go through the view',
    )
    .option('--frame <N>', 'frame of the places of lights, and of the grain', Number, 1)
    .option('--workers <N>', 'threads to use; one a core by default', integer(1, 256))
    .option('--json', 'print the energy accounts as JSON')
    .option('--watch', 'render again whenever a file that is read has been written, until it is ended')
    .action((file: string | undefined, options: CommandOptions & { plate: string[] }) =>
      withThreads(async (runner) => {
        const start = options.watch ? renderAndWatch : render;
        await start(plateFiles(file, options.plate, options.element), options, runner);
      }, options.workers),
    );
}
