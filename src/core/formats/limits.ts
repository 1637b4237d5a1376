import { FileError } from '../errors';
import { MAX_PIXELS, MAX_SIDE } from '../image/limits';

/** No packing that is in use shrinks data by more than this. */
const MOST_PACKED = 2000;

/**
 * Refuses a picture that is empty, too large, or larger than its file could hold. `rawBytes` is what its samples come
 * to, `fileBytes` what there is of the file.
 */
export function guardSize(width: number, height: number, rawBytes: number, fileBytes: number): void {
  if (!(width >= 1 && height >= 1)) throw new FileError(`the picture is ${width} x ${height} pixels`);
  if (width > MAX_SIDE || height > MAX_SIDE || width * height > MAX_PIXELS)
    throw new FileError(
      `the picture is ${width} x ${height} pixels; at most ${MAX_SIDE} a side and ${MAX_PIXELS} in all are read`,
    );
  if (rawBytes > fileBytes * MOST_PACKED)
    throw new FileError(
      `the file promises ${width} x ${height} pixels, but has only ${fileBytes} bytes`,
      COPY_AGAIN,
    );
}

/** What to do about a damaged file. */
export const COPY_AGAIN = { todo: 'Copy or render it again' };
