import { FileError } from '../../errors';
import { readGltfLights } from './gltf';
import type { SpaceLights } from './space-light';
import { readCsvLights, readJsonLights } from './table';

/** Lights in space from a scene in glTF, or from places in a table or in JSON. Throws {@link FileError}. */
export async function readLights(bytes: Uint8Array, name: string): Promise<SpaceLights> {
  const ending = name.toLowerCase().split('.').at(-1) ?? '';
  if (ending === 'gltf' || ending === 'glb') return readGltfLights(bytes, name);
  const text = new TextDecoder().decode(bytes);
  if (ending !== 'json') return readCsvLights(text, name);
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    throw new FileError(`it is no JSON: ${(error as Error).message}`, { where: name });
  }
  return readJsonLights(data, name);
}
