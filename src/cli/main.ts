import { Command, CommanderError } from 'commander';
import { version } from '../../package.json';
import { BokeluxError, SettingError } from '../core/errors';
import { addCompare } from './commands/compare';
import { addFeed } from './commands/feed';
import { addWeigh } from './commands/weigh';
import { addConvert } from './commands/convert';
import { addDemo } from './commands/demo';
import { addInspect } from './commands/inspect';
import { addKernel } from './commands/kernel';
import { addLens } from './commands/lens';
import { addLights } from './commands/lights';
import { addMeasure } from './commands/measure';
import { addOptics } from './commands/optics';
import { addPupil } from './commands/pupil';
import { addQueue } from './commands/queue';
import { addReel } from './commands/reel';
import { addRender } from './commands/render';
import { addSettings } from './commands/settings';
import { addStrip } from './commands/strip';
import { addWorker } from './commands/worker';

/** What the command ends with: 0 done, 2 wrong use, 3 bad input, 1 our own fault. */
const EXIT = { done: 0, fault: 1, usage: 2, input: 3 } as const;

/** As shells tell that a program was ended by a pipe that nobody reads. */
const PIPE_CLOSED = 141;

/** Ends where nobody reads on, as behind `| head`. */
function endWithReader(stream: NodeJS.WriteStream): void {
  stream.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code !== 'EPIPE') throw error;
    process.exit(PIPE_CLOSED);
  });
}

/** Every command, in the order of the help. */
const COMMANDS = [
  addInspect,
  addSettings,
  addRender,
  addReel,
  addWorker,
  addQueue,
  addConvert,
  addKernel,
  addPupil,
  addOptics,
  addLens,
  addLights,
  addFeed,
  addCompare,
  addMeasure,
  addWeigh,
  addStrip,
  addDemo,
] as const;

function buildProgram(): Command {
  const program = new Command('bokelux')
    .description('Camera and lens optics for rendered images, from the command line.')
    .version(version, '-v, --version', 'the version of this program')
    .exitOverride()
    .showHelpAfterError('`bokelux help` tells the ways to use it');
  for (const add of COMMANDS) add(program);
  return program;
}

/** Runs the command line and gives its exit code. */
export async function main(argv: readonly string[]): Promise<number> {
  endWithReader(process.stdout);
  try {
    await buildProgram().parseAsync([...argv], { from: 'user' });
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
