import type { Command } from 'commander';
import { assignSetting, currentPath, defaultLook, type Look } from '../../core/look/look';
import { partPaths } from '../../core/stations/veil/parts';
import { integer, shotFiles, withLook, withShot } from '../options';
import { writeExr } from '../../core/formats/exr/write';
import { wasmDiffraction } from '../../core/kernels/diffraction/wasm';
import { serialRunner } from '../../core/jobs';
import { addChannel, emptyPicture } from '../../core/image/picture';
import { pointSpread } from '../../core/stations/veil/point-spread';
import { writeBytes } from '../files';
import { openSource } from '../source';

interface KernelOptions {
  look?: string;
  set: string[];
  size: number;
  part?: string;
  out: string;
}

/** The look with a first streak if that is asked for, as every other part is there for the asking. */
function withStreak(look: Look, path: string | undefined): Look {
  const isMissing = path === 'veil.streaks[0]' && look.veil.streaks.length === 0;
  return isMissing ? assignSetting(look, `${path}.amount=0`) : look;
}

/** Writes what the lens of a look, or one part of its veil, makes of a white point in the middle of a square picture. */
async function kernel(shot: string | undefined, options: KernelOptions): Promise<void> {
  const { size, out, part } = options;
  const source = await openSource({ files: shotFiles(shot), look: options.look, set: options.set });
  const path = part && currentPath(`veil.${part}`);
  const look = withStreak(source.look, path);
  const { image } = await source.openImages();
  const { rgb, outside } = await pointSpread(
    look,
    { width: size, height: size },
    { image, diffraction: wasmDiffraction(serialRunner) },
    path,
  );
  const picture = emptyPicture(size, size);
  rgb.forEach((plane, c) => addChannel(picture, 'RGB'[c]!, 'float', plane));
  writeBytes(out, await writeExr(picture));
  const middle = size >> 1;
  process.stdout.write(
    `${out}: point-spread function of a ${size} x ${size} picture, source in pixel ${middle},${middle}; ` +
      `${(outside * 100).toPrecision(3)} % of the scattered light falls outside\n`,
  );
}

/** The veil's parts by their names below `veil`, a list by its first entry. */
const FIRST_ENTRIES = ['veil.stack[0].amount=0', 'veil.streaks[0].amount=0'];
const PART_NAMES = partPaths(FIRST_ENTRIES.reduce(assignSetting, defaultLook()))
  .map((path) => path.slice('veil.'.length))
  .join(', ');

export function addKernel(program: Command): void {
  withLook(withShot(program.command('kernel')))
    .description("write the veil's point-spread function as OpenEXR, per channel")
    .option('--size <pixels>', 'side of the square picture', integer(16, 8192), 1024)
    .option('--part <part>', `one part's own kernel, whatever its amount: ${PART_NAMES}`)
    .requiredOption('--out <K.exr>', 'where to')
    .action((shot: string | undefined, options: KernelOptions) => kernel(shot, options));
}
