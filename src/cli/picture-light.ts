import type { Rgb } from '../core/image/rgb';
import { makePlate, passLight } from '../core/light/plate';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import { readPicture } from './files';

/** The light of a picture by itself, linear; of a display-range file its values end at white. */
export async function openLight(
  file: string,
  runner: TaskRunner,
): Promise<{ rgb: Rgb; width: number; height: number; range: 'scene' | 'display' }> {
  const plate = makePlate('plate', file, await readPicture([file], runner));
  const { width, height, range } = plate.picture;
  return { rgb: passLight(plate, plate.beauty, 1).rgb, width, height, range };
}
