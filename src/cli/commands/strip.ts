import type { Command } from 'commander';
import { evaluate } from '../../core/bench/evaluate';
import { SettingError } from '../../core/errors';
import type { RgbaImage } from '../../core/image/rgba';
import { displayBytes } from '../../core/kernels/display';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { ContentCache } from '../../core/light/cache';
import { scaledFrame } from '../../core/light/plate';
import { axisLabel, partsApart, readAxis, STRIP_SETS, trialsOf } from '../../core/look/strip';
import { columnsFor } from '../../core/print/sheet';
import { filmView } from '../../core/stations/film/run';
import { openBench } from '../bench';
import type { NamedElement } from '../elements';
import { writeBytes } from '../files';
import { collect, integer, withElements, withLook, withPlate } from '../options';
import { progressLine } from '../progress';
import { makeSheet } from '../sheet';
import { withThreads } from '../threads';

interface StripOptions {
  plate: string[];
  element: NamedElement[];
  look?: string;
  set: string[];
  setting: string[];
  values: string[];
  height: number;
  out: string;
}

/** What the pictures of a strip have in common is kept while it is made. */
const CACHE_BYTES = 512 * 1024 ** 2;
/** A sheet is about as wide as it is high by this. */
const SHAPE = { width: 16, height: 10 };

/** Renders a plate at several values of a setting, or of two, onto one sheet. */
async function strip(file: string | undefined, options: StripOptions, runner: TaskRunner): Promise<void> {
  const { setting, values, height, out } = options;
  if (setting.length !== values.length || setting.length > 2)
    throw new SettingError(`${setting.length} settings and ${values.length} lists of values`, {
      where: '--setting, --values',
      todo: 'Give each of one or two settings its values: --setting PATH --values a,b,c',
    });
  if (!out.toLowerCase().endsWith('.png'))
    throw new SettingError('a sheet is a PNG', { where: out, todo: 'Let its name end in .png' });
  const { look, bench } = await openBench(file, options, runner);
  const axes = setting.map((path, k) => readAxis(look, path, values[k]!));
  const trials = trialsOf(look, axes);
  const context = {
    ...bench,
    cache: new ContentCache(CACHE_BYTES),
    totalOnly: true,
    apart: partsApart(axes),
  };
  const scale = Math.min(1, height / scaledFrame(bench.plate, 1).height);
  const bar = progressLine('computing');
  const pictures: RgbaImage[] = [];
  try {
    for (const [k, trial] of trials.entries()) {
      const { light } = await evaluate(trial.look, context, { scale });
      const pixels = displayBytes(filmView(trial.look, context), light.total, 1);
      pictures.push({ width: light.width, height: light.height, pixels });
      bar.step((k + 1) / trials.length);
    }
  } finally {
    bar.end();
  }
  const size = { width: pictures[0]!.width, height: pictures[0]!.height };
  const columns = axes.length > 1 ? axes[0]!.values.length : columnsFor(trials.length, SHAPE, size);
  const content = {
    title: bench.plate.name,
    subtitle: axes.map(axisLabel).join(' and '),
    cells: trials,
    columns,
    ...size,
  };
  writeBytes(out, await makeSheet(content, pictures));
}

export function addStrip(program: Command): void {
  withLook(withElements(withPlate(program.command('strip'))))
    .description(
      'a test strip: the picture at several values of a setting, or of two as a grid, on one sheet',
    )
    .requiredOption(
      '--setting <path>',
      `what varies; a second one runs down. ${Object.keys(STRIP_SETS).join(', ')} stand for the stations' starting points`,
      collect,
      [],
    )
    .requiredOption('--values <a,b,c>', 'its values, or all of a choice', collect, [])
    .option('--height <pixels>', 'of each picture', integer(16, 4096), 360)
    .requiredOption('--out <sheet.png>', 'where the sheet goes')
    .action((file: string | undefined, options: StripOptions) =>
      withThreads((runner) => strip(file, options, runner)),
    );
}
