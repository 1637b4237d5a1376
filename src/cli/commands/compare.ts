import type { Command } from 'commander';
import { FileError, SettingError } from '../../core/errors';
import { writeExr } from '../../core/formats/exr/write';
import { compareRgb, type Difference } from '../../core/image/compare';
import { addChannel, emptyPicture } from '../../core/image/picture';
import { mapRgb } from '../../core/image/rgb';
import { differencesOf, type LookDifference } from '../../core/look/differences';
import type { Look } from '../../core/look/look';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { writeBytes } from '../files';
import { openLight } from '../picture-light';
import { isShotFile, openSource } from '../source';
import { withThreads } from '../threads';

interface CompareOptions {
  json?: boolean;
  out?: string;
}

/** Whether a file holds a look: by itself, or as that of a shot. */
const holdsLook = (file: string): boolean => file.toLowerCase().endsWith('.json') || isShotFile(file);

const lookOf = async (file: string): Promise<Look> =>
  (await openSource(isShotFile(file) ? { files: [file], set: [] } : { files: [], look: file, set: [] })).look;

/** Tells how far two pictures are apart, or in which settings two looks or shots differ. */
async function compare(
  a: string,
  b: string,
  { json, out }: CompareOptions,
  runner: TaskRunner,
): Promise<void> {
  if (holdsLook(a) !== holdsLook(b))
    throw new SettingError('a picture is compared with a picture, a look or a shot with a look or a shot', {
      where: `${a}, ${b}`,
      todo: 'Name two of one kind',
    });
  if (holdsLook(a)) {
    if (out !== undefined)
      throw new SettingError('two looks have no difference that is a picture', {
        where: '--out',
        todo: 'Leave it out, or compare what they were rendered to',
      });
    const settings = differencesOf(await lookOf(a), await lookOf(b));
    const rows = settings.map(({ path, a: from, b: to }) => ({ path, a: from ?? null, b: to ?? null }));
    process.stdout.write(
      `${json ? JSON.stringify({ settings: rows }, null, 2) : settingsInWords(settings)}\n`,
    );
    return;
  }
  const [one, other] = [await openLight(a, runner), await openLight(b, runner)];
  const { width, height } = one;
  if (width !== other.width || height !== other.height)
    throw new FileError(`it is ${other.width} x ${other.height}, the other ${width} x ${height}`, {
      where: b,
      todo: 'Compare pictures of one size',
    });
  const difference = compareRgb(one.rgb, other.rgb, one);
  if (out !== undefined) {
    const picture = emptyPicture(width, height);
    const apart = mapRgb(one.rgb, (plane, c) => plane.map((value, i) => other.rgb[c][i]! - value));
    apart.forEach((plane, c) => addChannel(picture, 'RGB'[c]!, 'float', plane));
    writeBytes(out, await writeExr(picture, { runner }));
  }
  // What JSON has no number for is null: pictures that a display shows alike have no noise.
  process.stdout.write(
    `${json ? JSON.stringify({ width, height, ...difference }, null, 2) : inWords(difference)}\n`,
  );
}

function inWords({ largest, x, y, mean, relative, psnr, ssim }: Difference): string {
  const figure = (value: number): string => String(Number(value.toPrecision(4)));
  return [
    `largest   ${figure(largest)}${largest > 0 ? ` at ${x},${y}` : ''}`,
    `mean      ${figure(mean)}`,
    `relative  ${figure(relative * 100)} %`,
    `PSNR      ${Number.isFinite(psnr) ? `${psnr.toFixed(2)} dB` : 'no difference'} as an sRGB display shows them`,
    `SSIM      ${ssim.toFixed(5)}`,
  ].join('\n');
}

function settingsInWords(settings: readonly LookDifference[]): string {
  if (settings.length === 0) return 'they differ in no setting';
  const text = (value: unknown): string => (value === undefined ? 'not there' : JSON.stringify(value));
  return settings.map(({ path, a, b }) => `${path}  ${text(a)} -> ${text(b)}`).join('\n');
}

export function addCompare(program: Command): void {
  program
    .command('compare')
    .description('how far two pictures are apart, or in which settings two looks or shots differ')
    .argument('<A>', 'a picture, a look or a shot')
    .argument('<B>', 'another of the kind')
    .option('--out <difference.exr>', 'B minus A as OpenEXR, signed')
    .option('--json', 'as JSON')
    .action((a: string, b: string, options: CompareOptions) =>
      withThreads((runner) => compare(a, b, options, runner)),
    );
}
