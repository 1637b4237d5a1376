import { availableParallelism } from 'node:os';
import type { Command } from 'commander';
import { collect, integer } from '../options';
import { parseRoot } from '../queue/paths';

interface WorkerOptions {
  queue: string;
  jobs?: number;
  root: string[];
  lock: number;
}

/** Prints frames that others put into a queue, until it is ended. */
async function work({ queue, jobs = availableParallelism(), root, lock }: WorkerOptions): Promise<void> {
  const ended = new AbortController();
  const end = (): void => ended.abort();
  process.once('SIGINT', end).once('SIGTERM', end);
  // Loaded when it is wanted: no other command waits for it.
  const { serveQueue } = await import('../queue/serve');
  await serveQueue({
    url: queue,
    jobs,
    roots: root.map(parseRoot),
    lockSeconds: lock,
    signal: ended.signal,
    say: (line) => void process.stderr.write(`${line}\n`),
  });
}

export function addWorker(program: Command): void {
  program
    .command('worker')
    .description('print frames of a queue, until it is ended')
    .requiredOption('--queue <URL>', 'the queue, as redis://HOST:PORT')
    .option('--jobs <N>', 'frames at a time, each on one thread; one a core by default', integer(1, 256))
    .option(
      '--root <FROM=TO>',
      'what a folder of the one who printed is called on this machine; may be given again',
      collect,
      [],
    )
    .option(
      '--lock <seconds>',
      'a worker that is not heard of for so long loses its frames to another',
      integer(2, 3600),
      30,
    )
    .action((options: WorkerOptions) => work(options));
}
