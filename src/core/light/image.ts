import { SettingError } from '../errors';
import type { GreyImage } from '../image/grey-image';
import type { Look } from '../look/look';
import { NO_IMAGE } from '../settings/setting';
import type { StationContext } from './station';

/** What gives a shot's images by their names. */
export type Images = Pick<StationContext, 'image'>;

/** The image of a name that a setting at `path` asks for. Throws {@link SettingError} if it is not there. */
export function imageAt({ image }: Images, name: string, path: string): GreyImage {
  const found = image?.(name);
  if (found) return found;
  throw new SettingError(`there is no image ${name}`, {
    where: path,
    todo: 'Load it again, or choose none',
  });
}

/** The mask that a look's pupil has, if any. */
export function pupilImage({ pupil }: Look, images: Images): GreyImage | undefined {
  return pupil.mask === NO_IMAGE ? undefined : imageAt(images, pupil.mask, 'pupil.mask');
}
