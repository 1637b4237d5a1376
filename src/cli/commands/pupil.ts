import { pupilImage } from '../../core/light/image';
import { viewNamed } from '../../core/color/view';
import { shapeAt } from '../../core/optics/pupil';
import { pupilMask } from '../../core/optics/pupil-mask';
import { encodeFlat } from '../../core/print/encode';
import { openImages, openLook, writeBytes } from '../files';
import { flatFormat } from './render';

export interface PupilOptions {
  look?: string;
  set: string[];
  size: number;
  out: string;
}

/** Writes what the pupil of a look lets through, white where it is all. */
export async function pupil(options: PupilOptions): Promise<void> {
  const { size, out } = options;
  const look = openLook(options.look, options.set);
  const image = pupilImage(look, { image: await openImages(look) });
  const mask = pupilMask(shapeAt(look.pupil, look.camera.fStop), look.pupil, size, image);
  const format = flatFormat(out, undefined);
  writeBytes(out, encodeFlat([mask, mask, mask], size, size, format, viewNamed('clip')));
  const open = mask.reduce((sum, value) => sum + value, 0) / ((Math.PI / 4) * size * size);
  process.stdout.write(
    `${out}: pupil of ${size} x ${size}, ${(open * 100).toPrecision(3)} % of the disc is open\n`,
  );
}
