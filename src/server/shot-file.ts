import { open } from 'node:fs/promises';
import { BokeluxError } from '../core/errors';
import { openArchive } from '../core/shot/archive';
import { RefusedError } from './requests';

/** Refuses a file that is no whole shot with a plate. */
export async function checkShot(path: string): Promise<void> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const read = async (offset: number, length: number): Promise<Uint8Array> => {
      const bytes = new Uint8Array(length);
      const { bytesRead } = await file.read(bytes, 0, length, offset);
      return bytes.subarray(0, bytesRead);
    };
    const { shot } = await openArchive({ size, read }, 'the shot');
    if (shot.plates.length === 0) throw new RefusedError(400, 'the shot has no plate');
  } catch (error) {
    if (error instanceof BokeluxError) throw new RefusedError(400, error.line);
    throw error;
  } finally {
    await file.close();
  }
}
