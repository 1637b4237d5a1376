import type { Command } from 'commander';
import { SETTINGS } from '../../core/look/look';
import { describeSettings } from '../../core/look/describe';

/** Lists every setting with its unit, range, default, real-lens band and help. */
function settings(options: { json?: boolean }): void {
  process.stdout.write(options.json ? `${JSON.stringify(SETTINGS, null, 2)}\n` : `${describeSettings()}\n`);
}

export function addSettings(program: Command): void {
  program
    .command('settings')
    .description('every setting of the look: path, unit, range, default, real-lens band, help')
    .option('--json', 'as JSON')
    .action((options: { json?: boolean }) => settings(options));
}
