import type { Command } from 'commander';
import { weigh, weighingScale, type Weight } from '../../core/bench/weigh';
import { ContentCache } from '../../core/light/cache';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { openBench } from '../bench';
import type { NamedElement } from '../elements';
import { integer, withElements, withLook, withPlate } from '../options';
import { withThreads } from '../threads';

interface WeighOptions {
  plate: string[];
  element: NamedElement[];
  look?: string;
  set: string[];
  width?: number;
  json?: boolean;
}

/** What the renders hold, for all that is computed of them. */
const CACHE_BYTES = 512 * 1024 ** 2;

/** Tells what every element, pass and part of a look still does to the final. */
async function weighCommand(
  file: string | undefined,
  options: WeighOptions,
  runner: TaskRunner,
): Promise<void> {
  const { look, bench } = await openBench(file, options, runner);
  const { frame } = bench.plate;
  const scale = options.width ? Math.min(1, options.width / frame.width) : weighingScale(bench.plate);
  const weights = await weigh(
    look,
    { ...bench, cache: new ContentCache(CACHE_BYTES) },
    { scale, timed: true },
  );
  process.stdout.write(`${options.json ? JSON.stringify(weights, null, 2) : inWords(weights)}\n`);
}

function inWords(weights: readonly Weight[]): string {
  if (weights.length === 0) return 'there is nothing in this look that could be left out';
  const rows = [...weights]
    .sort((a, b) => Math.abs(b.stops) - Math.abs(a.stops))
    .map(({ label, path, share, stops, x, y, milliseconds }) => [
      label,
      `${(share * 100).toFixed(2)} %`,
      `${stops >= 0 ? '+' : ''}${stops.toFixed(2)} st at ${x},${y}`,
      `${(milliseconds ?? 0).toFixed(0)} ms`,
      path,
    ]);
  const table = [['without it', 'of the light', 'largest change', 'time', 'switch'], ...rows];
  const widths = table[0]!.map((_, column) => Math.max(...table.map((row) => row[column]!.length)));
  return table
    .map((row) =>
      row
        .map((cell, k) => cell.padEnd(widths[k]!))
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}

export function addWeigh(program: Command): void {
  withLook(withElements(withPlate(program.command('weigh'))))
    .description('what every element, pass and part of a look still does to the final')
    .option('--width <pixels>', 'at how many pixels across it is computed', integer(16, 16384))
    .option('--json', 'as JSON')
    .action((file: string | undefined, options: WeighOptions) =>
      withThreads((runner) => weighCommand(file, options, runner)),
    );
}
