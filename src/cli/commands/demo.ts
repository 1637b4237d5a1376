import type { Command } from 'commander';
import { copyFileSync, mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { FileError } from '../../core/errors';

/** The demo shot's files lie with the application's public files; this bundle lies one folder below the root. */
const DEMO = fileURLToPath(new URL('../public/demo/', import.meta.url));

/** Writes the demo shot's files into a folder, which is made if need be. */
function demo(folder: string): void {
  try {
    mkdirSync(folder, { recursive: true });
    for (const name of readdirSync(DEMO)) {
      copyFileSync(join(DEMO, name), join(folder, name));
      process.stdout.write(`${join(folder, name)}\n`);
    }
  } catch (error) {
    throw new FileError(`the demo shot cannot be written: ${(error as Error).message}`, { where: folder });
  }
}

export function addDemo(program: Command): void {
  program
    .command('demo')
    .description("write the demo shot's files into a folder")
    .argument('<DIR>')
    .action((folder: string) => demo(folder));
}
