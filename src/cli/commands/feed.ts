import { Option, type Command } from 'commander';
import { contextOf, evaluate } from '../../core/bench/evaluate';
import { SettingError } from '../../core/errors';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { FEED_KINDS, feedFacts } from '../../core/stations/veil/feed-facts';
import { feedSelector } from '../../core/stations/veil/fed-light';
import { thresholdFor, type WishedFeed } from '../../core/stations/veil/feed';
import type { NamedElement } from '../elements';
import { positive, share, withElements, withLook, withPlate } from '../options';
import { openBench } from '../bench';
import { withThreads } from '../threads';

interface FeedOptions {
  plate: string[];
  element: NamedElement[];
  look?: string;
  set: string[];
  share?: number;
  of: WishedFeed['of'];
  threshold?: number;
  json?: boolean;
}

/** Tells what feeds the veil of a look on a plate, or under which threshold a wished share of it does. */
async function feed(file: string | undefined, options: FeedOptions, runner: TaskRunner): Promise<void> {
  const { of } = options;
  if (options.share !== undefined && options.threshold !== undefined)
    throw new SettingError('either a share is wished or a threshold is given', {
      where: '--share, --threshold',
      todo: 'Leave one of them out',
    });
  const { look, bench } = await openBench(file, options, runner);
  const { light } = await evaluate(look, bench, { scale: 1, before: 'veil' });
  const context = contextOf('veil', look, bench);
  const select = await feedSelector(light, look, look.veil.feed, 'veil.feed', context);
  const threshold =
    options.share === undefined
      ? (options.threshold ?? look.veil.feed.threshold)
      : thresholdFor({ share: options.share, of }, select);
  const fed = select(threshold);
  const report = { threshold, pixels: fed.pixels, light: fed.light, ...feedFacts(fed, light) };
  process.stdout.write(`${options.json ? JSON.stringify(report, null, 2) : inWords(report)}\n`);
}

type Report = { threshold: number; pixels: number; light: number } & ReturnType<typeof feedFacts>;

function inWords({ threshold, pixels, light, sources, largest, lone, kind }: Report): string {
  const percent = (value: number): string => `${Number((value * 100).toPrecision(4))} %`;
  return [
    `threshold  ${Number(threshold.toPrecision(5))}`,
    `pixels     ${percent(pixels)}`,
    `light      ${percent(light)}`,
    `sources    ${sources}${largest ? `, the largest with ${percent(largest.light)} of what feeds` : ''}`,
    `lone       ${lone.count} of a pixel or two, with ${percent(lone.light)} of what feeds`,
    `it is      ${sources ? FEED_KINDS[kind] : 'nothing'}`,
  ].join('\n');
}

export function addFeed(program: Command): void {
  withLook(withElements(withPlate(program.command('feed'))))
    .description('what feeds the veil: shares, sources, and the threshold for a wished share')
    .option('--share <share>', 'find the threshold at which this share feeds, 0 to 1', share)
    .addOption(
      new Option('--of <what>', 'of what the share is').choices(['pixels', 'light']).default('pixels'),
    )
    .option('--threshold <value>', 'tell of this threshold instead of that of the look', positive)
    .option('--json', 'as JSON')
    .action((file: string | undefined, options: FeedOptions) =>
      withThreads((runner) => feed(file, options, runner)),
    );
}
