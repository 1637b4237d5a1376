import { InvalidArgumentError, type Command } from 'commander';
import { FileError } from '../../core/errors';
import { kernelsOn } from '../../core/kernels';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import type { Estimate } from '../../core/measure/light-fit';
import { measureLight, type LightMeasurement } from '../../core/measure/measure';
import { CUT_OFF } from '../../core/measure/polar';
import { pupilModels } from '../../core/measure/queries';
import { proposedSettings } from '../../core/measure/propose';
import { assignSetting, defaultLook } from '../../core/look/look';
import { writeBytes } from '../files';
import { positive } from '../options';
import { openLight } from '../picture-light';
import { withThreads } from '../threads';

interface MeasureOptions {
  at: { x: number; y: number };
  radius?: number;
  json?: boolean;
  lookOut?: string;
}

function place(text: string): { x: number; y: number } {
  const [x, y, ...more] = text.split(',').map(Number);
  if (!Number.isFinite(x) || !Number.isFinite(y) || more.length)
    throw new InvalidArgumentError('two numbers x,y are wanted, in pixels.');
  return { x: x!, y: y! };
}

/** Measures the light about a lamp of a picture. */
async function measure(
  file: string,
  { at, radius, json, lookOut }: MeasureOptions,
  runner: TaskRunner,
): Promise<void> {
  const { rgb, width, height, range } = await openLight(file, runner);
  if (at.x < 0 || at.y < 0 || at.x >= width || at.y >= height)
    throw new FileError(`${at.x},${at.y} lies outside the picture, which is ${width} x ${height}`, {
      where: file,
      todo: 'Name a place within it',
    });
  const clip = range === 'display' ? CUT_OFF : Infinity;
  const measured = await measureLight(
    { rgb, width, height, clip },
    at,
    radius ?? Math.min(width, height) / 3,
    pupilModels(defaultLook(), { width, kernels: kernelsOn(runner) }),
  );
  if (!measured)
    throw new FileError(`there is no light at ${at.x},${at.y}`, {
      where: file,
      todo: 'Name the place of a lamp, in pixels from the upper left corner',
    });
  if (lookOut !== undefined) {
    const look = proposedSettings(measured).reduce(assignSetting, defaultLook());
    writeBytes(lookOut, `${JSON.stringify(look, null, 2)}\n`);
  }
  process.stdout.write(`${json ? JSON.stringify(measured, null, 2) : inWords(measured)}\n`);
}

function inWords({ source, bloom, spikes, halo, tint, notes, profile }: LightMeasurement): string {
  const told = (value: Estimate | null, factor = 1, unit = ''): string => {
    if (!value) return 'too little evidence';
    const figure = (of: number): string => String(Number((of * factor).toPrecision(4)));
    return `${figure(value.value)}${unit} (${figure(value.low)} to ${figure(value.high)})`;
  };
  const rows: [string, string][] = [
    [
      'lamp',
      `${source.x.toFixed(1)}, ${source.y.toFixed(1)}; ${source.radius.toFixed(1)} px${source.isClipped ? ', cut off at white' : ''}`,
    ],
    ['bloom falloff', told(bloom.falloff)],
    ['bloom core radius', told(bloom.radius, 100, ' % h')],
    ['bloom amount', told(bloom.amount, 100, ' %')],
    ['spikes', told(spikes.count)],
    ['blades', told(spikes.blades)],
    ['rotation', told(spikes.rotation, 1, ' deg')],
    ['spikes size', told(spikes.size, 1, ' x')],
    ['spikes amount', told(spikes.amount, 100, ' %')],
    ['halo radius', told(halo.radius, 100, ' % h')],
    ['halo width', told(halo.width, 100, ' %')],
    ['halo amount', told(halo.amount, 100, ' %')],
    ['tint', told(tint, 1, ' K')],
  ];
  const table = profile.radius.map(
    (radius, k) =>
      `  ${radius.toFixed(1).padStart(8)} px  ${profile.light[k]!.toExponential(3)}${profile.clipped[k]! > 0.02 ? '  cut off' : ''}`,
  );
  return [
    ...rows.map(([name, value]) => `${name.padEnd(18)} ${value}`),
    ...notes.map((note) => `note: ${note}`),
    'light by distance, medians over all directions:',
    ...table,
  ].join('\n');
}

export function addMeasure(program: Command): void {
  program
    .command('measure')
    .description('the light about a lamp of a picture: profiles, and the glow, spikes and halo that fit it')
    .argument('<PICTURE>', 'a photograph or any picture')
    .requiredOption('--at <x,y>', 'where the lamp is, in pixels', place)
    .option('--radius <px>', 'how far about it is measured', positive)
    .option('--look-out <fitted.look.json>', 'a look with what was found')
    .option('--json', 'as JSON')
    .action((file: string, options: MeasureOptions) =>
      withThreads((runner) => measure(file, options, runner)),
    );
}
