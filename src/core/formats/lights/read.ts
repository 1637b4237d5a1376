import { FileError } from '../../errors';
import { readGltfLights } from './gltf';
import type { SceneClock } from './gltf-animation';
import type { SpaceLights } from './space-light';
import { readCsvLights, readJsonLights } from './table';

/**
 * Lights in space from a scene in glTF, or from places in a table or in JSON. `clock` says at which frames a scene that moves is looked at.
 * Throws {@link FileError}.
 */
export async function readLights(
  bytes: Uint8Array,
  name: string,
  clock: SceneClock = { fps: 24, first: 1 },
): Promise<SpaceLights> {
  const ending = name.toLowerCase().split('.').at(-1) ?? '';
  if (ending === 'gltf' || ending === 'glb') return readGltfLights(bytes, name, clock);
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
