import { SettingError } from '../errors';
import { channelFloats } from '../image/picture';
import { maskPlane } from '../image/mask';
import { BEAUTY, holdsLight } from '../image/passes';
import { distanceCoverage, lightCoverage } from '../image/value-mask';
import type { Look } from '../look/look';
import type { Mask, ValueShape } from '../settings/mask';
import { NO_MASK } from '../settings/setting';
import type { ContentCache } from './cache';
import { readDepth } from './depth';
import { channelPlane, passLight, scaledFrame, scaledSize, type Plate } from './plate';

/**
 * A mask of the look, or a matte of the plate by its channel's name, as coverage at a scale; undefined for no mask. Throws
 * {@link SettingError}, naming the setting at `path`, for a mask or a matte that does not exist.
 */
export async function maskAt(
  look: Look,
  id: string,
  path: string,
  plate: Plate,
  scale: number,
  cache: ContentCache,
): Promise<Float32Array | undefined> {
  if (id === NO_MASK) return undefined;
  const mask = look.masks.find((one) => one.id === id);
  if (!mask) {
    const mattes = mattesOf(plate);
    if (mattes.includes(id))
      return cache.getOrCompute(
        `${plate.id} matte ${id} @${scale}`,
        () => mattePlane(plate, id, null, scale),
        (plane) => plane.byteLength,
      );
    const known = [...look.masks.map((one) => one.id), ...mattes];
    throw new SettingError(`there is no mask ${id}`, {
      where: path,
      todo: known.length ? `The look and its plate have ${known.join(', ')}` : 'The look has none',
    });
  }
  const { width, height } = scaledSize(plate, scale);
  return cache.getOrCompute(
    `${plate.id} mask ${maskKey(look, id)} @${scale}`,
    () =>
      maskPlane(mask, width, height, scaledFrame(plate, scale), {
        matte: (name, value) => mattePlane(plate, name, value, scale),
        value: (shape) => valuePlane(plate, look, shape, scale),
      }),
    (plane) => plane.byteLength,
  );
}

/** What a mask hangs on besides the plate. */
export function maskKey(look: Look, id: string): string {
  if (id === NO_MASK) return '';
  const mask = look.masks.find((one) => one.id === id);
  if (!mask) return JSON.stringify(id);
  return JSON.stringify([
    mask,
    takes(mask, (of) => of === 'depth') && distanceReads(look),
    takes(mask, (of) => of !== 'depth') && look.plate.primaries,
  ]);
}

/** The same of all masks that a look has. */
export const masksKey = (look: Look): string[] => look.masks.map(({ id }) => maskKey(look, id));

const takes = ({ shapes }: Mask, which: (of: ValueShape['of']) => boolean): boolean =>
  shapes.some((shape) => shape.kind === 'value' && which(shape.of));
/** A distance along the ray is turned into one along the axis by the camera. */
const distanceReads = ({ focus, camera }: Look): unknown => [
  focus.depth,
  camera.focalLength,
  camera.sensorWidth,
];

/** Coverage by value: of every pixel at full size, and reduced the share of each larger one. */
function valuePlane(plate: Plate, look: Look, shape: ValueShape, scale: number): Float32Array {
  if (shape.of === 'depth')
    return channelPlane(plate, { samples: distanceCoverage(shape, readDepth(plate, look)) }, scale);
  return channelPlane(
    plate,
    { samples: lightCoverage(shape, passLight(plate, findPass(plate, shape.pass), 1).rgb) },
    scale,
  );
}

function findPass(plate: Plate, name: string): Plate['beauty'] {
  const pass = name === BEAUTY ? plate.beauty : plate.passes.find((one) => one.name === name);
  if (pass && holdsLight(pass)) return pass;
  throw new SettingError(pass ? `pass ${name} holds no light` : `${plate.name} has no pass ${name}`, {
    where: 'masks',
    todo: `Passes that hold light are ${plate.passes
      .filter(holdsLight)
      .map((one) => one.name)
      .join(', ')}`,
  });
}

/** Names of the channels of a plate that are mattes. */
function mattesOf(plate: Plate): string[] {
  const mattes = plate.passes.filter(({ kind }) => kind === 'matte').flatMap(({ channels }) => channels);
  return mattes.map(({ channel }) => channel.name);
}

function mattePlane(plate: Plate, name: string, id: number | null, scale: number): Float32Array {
  const channel = plate.picture.channels.get(name);
  if (!channel) {
    const mattes = mattesOf(plate);
    throw new SettingError(`${plate.name} has no channel ${name}`, {
      where: 'masks',
      todo: mattes.length ? `Its mattes are ${mattes.join(', ')}` : 'It has no mattes',
    });
  }
  if (id === null) return channelPlane(plate, channel, scale).map((value) => Math.min(1, Math.max(0, value)));
  // Where the number stands, at full size; reduced, this is the share of each larger pixel.
  const samples = channelFloats(channel).map((value) => (Math.abs(value - id) < 0.5 ? 1 : 0));
  return channelPlane(plate, { samples }, scale);
}
