import { writeExr } from '../../core/formats/exr/write';
import { serialRunner } from '../../core/jobs';
import { addChannel, emptyPicture } from '../../core/image/picture';
import { pointSpread } from '../../core/stations/veil/point-spread';
import { openImages, openLook, writeBytes } from '../files';

export interface KernelOptions {
  look?: string;
  set: string[];
  size: number;
  part?: string;
  out: string;
}

/** Writes what the lens of a look, or one part of its veil, makes of a white point in the middle of a square picture. */
export async function kernel(options: KernelOptions): Promise<void> {
  const { size, out, part } = options;
  const look = openLook(options.look, options.set);
  const image = await openImages(look);
  const { rgb, outside } = await pointSpread(
    look,
    { width: size, height: size },
    { image, parallel: serialRunner },
    part && `veil.${part}`,
  );
  const picture = emptyPicture(size, size);
  rgb.forEach((plane, c) => addChannel(picture, 'RGB'[c]!, 'float', plane));
  writeBytes(out, writeExr(picture));
  const middle = size >> 1;
  process.stdout.write(
    `${out}: point-spread function of a ${size} x ${size} picture, source in pixel ${middle},${middle}; ` +
      `${(outside * 100).toPrecision(3)} % of the scattered light falls outside\n`,
  );
}
