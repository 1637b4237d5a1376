import { SettingError } from '../errors';
import type { GreyImage } from '../image/grey-image';
import type { StationContext } from './station';

/** The image of a name that a setting at `path` asks for. Throws {@link SettingError} if it is not there. */
export function imageAt({ image }: Pick<StationContext, 'image'>, name: string, path: string): GreyImage {
  const found = image?.(name);
  if (found) return found;
  throw new SettingError(`there is no image ${name}`, {
    where: path,
    todo: 'Load it again, or choose none',
  });
}
