import type { Command } from 'commander';
import { integer, shotFiles, withLook, withShot } from '../options';
import { pupilImage } from '../../core/light/image';
import { viewOf } from '../../core/color/view';
import { shapeAt } from '../../core/optics/pupil';
import { pupilMask } from '../../core/optics/pupil-mask';
import { encodeFlat } from '../../core/print/encode';
import { writeBytes } from '../files';
import { openSource } from '../source';
import { flatFormat } from '../render-file';

interface PupilOptions {
  look?: string;
  set: string[];
  size: number;
  out: string;
}

/** Writes what the pupil of a look lets through, white where it is all. */
async function pupil(shot: string | undefined, options: PupilOptions): Promise<void> {
  const { size, out } = options;
  const source = await openSource({ files: shotFiles(shot), look: options.look, set: options.set });
  const { look } = source;
  const image = pupilImage(look, await source.openImages());
  const mask = pupilMask(shapeAt(look.pupil, look.camera.fStop), look.pupil, size, image);
  const format = flatFormat(out, undefined);
  writeBytes(out, encodeFlat([mask, mask, mask], size, size, format, viewOf('clip')));
  const open = mask.reduce((sum, value) => sum + value, 0) / ((Math.PI / 4) * size * size);
  process.stdout.write(
    `${out}: pupil of ${size} x ${size}, ${(open * 100).toPrecision(3)} % of the disc is open\n`,
  );
}

export function addPupil(program: Command): void {
  withLook(withShot(program.command('pupil')))
    .description('write what the pupil of a look lets through, as a picture')
    .option('--size <pixels>', 'side of the square picture', integer(16, 8192), 512)
    .requiredOption('--out <P.png>', 'where to; ends in .png, .tiff, .hdr or .pfm')
    .action((shot: string | undefined, options: PupilOptions) => pupil(shot, options));
}
