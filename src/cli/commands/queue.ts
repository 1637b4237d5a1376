import type { Command } from 'commander';
import type { QueueReport } from '../queue/tell';

interface QueueCommandOptions {
  json?: boolean;
  pause?: boolean;
  resume?: boolean;
  cancel?: string;
}

/** Tells of a queue, or does something with it first. */
async function tellQueue(url: string, { json, pause, resume, cancel }: QueueCommandOptions): Promise<void> {
  const { cancelPrint, queueReport, setPaused } = await import('../queue/tell');
  if (pause || resume) await setPaused(url, pause === true);
  if (cancel !== undefined) await cancelPrint(url, cancel);
  const report = await queueReport(url);
  process.stdout.write(json ? `${JSON.stringify(report, null, 2)}\n` : inWords(report));
}

function inWords({ paused, workers, prints }: QueueReport): string {
  const head = `${workers} ${workers === 1 ? 'worker' : 'workers'}${paused ? ', paused' : ''}\n`;
  if (prints.length === 0) return `${head}nothing is printed\n`;
  const lines = prints.map(
    ({ print, name, frames, printed, failed, running, waiting, failures }) =>
      `${print}  ${name}: ${printed} of ${frames} printed, ${running} running, ${waiting} waiting, ${failed} failed\n${failures
        .map(({ frame, why }) => `    frame ${frame}: ${why}\n`)
        .join('')}`,
  );
  return head + lines.join('');
}

export function addQueue(program: Command): void {
  program
    .command('queue')
    .description('tell what of a queue waits, runs, is printed and failed')
    .argument('<URL>', 'the queue, as redis://HOST:PORT')
    .option('--pause', 'let no worker begin anything more')
    .option('--resume', 'let them go on')
    .option('--cancel <PRINT>', 'give up a print, by the id that stands before its name')
    .option('--json', 'print it as JSON')
    .action((url: string, options: QueueCommandOptions) => tellQueue(url, options));
}
