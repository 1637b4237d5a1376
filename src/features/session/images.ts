import { FileError } from '../../core/errors';
import type { PlateFile } from '../../core/shot/shot';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useShot } from '../../state/shot-store';
import { fileBlob, keepFile } from './files';
import { usePlates } from './plates';

/** Opens one of the shot's images in the engine, so that looks can name it. */
export async function openImage({ id, name }: PlateFile, blob?: Blob): Promise<void> {
  const found = blob ?? (await fileBlob(id));
  if (!found)
    throw new FileError('this browser no longer has the image', { where: name, todo: 'Load it again' });
  const thumbnail = unwrap(await benchEngine().openImage(id, name, found));
  const { set, images } = usePlates.getState();
  set({ images: { ...images, [name]: thumbnail } });
}

/** Brings an image in for the setting at a path. Looks know it by its name, which is made one of its own. */
export async function bringInImage(file: File, path: string): Promise<void> {
  const { images } = useShot.getState();
  const taken = (name: string): boolean => images.some((image) => image.name === name);
  let { name } = file;
  for (let k = 2; taken(name); k++) name = file.name.replace(/(\.[^.]*)?$/, ` ${k}$1`);
  const image = { id: crypto.randomUUID(), name };
  await openImage(image, file);
  useShot.getState().setImages([...images, image]);
  useShot.getState().change(path, name);
  await keepFile(image.id, name, file);
}
