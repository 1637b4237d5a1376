import { SettingError } from '../errors';
import { channelFloats } from '../image/picture';
import { maskPlane } from '../image/mask';
import { holdsLight } from '../image/passes';
import { distanceCoverage, lightCoverage } from '../image/value-mask';
import type { Look } from '../look/look';
import type { Mask, ValueShape } from '../settings/mask';
import { NO_MASK } from '../settings/setting';
import type { ContentCache } from './cache';
import { depthReads } from './depth';
import { readDepth } from './distances';
import {
  alphaInPlace,
  elementName,
  elementsOf,
  geometryReads,
  isAlone,
  passesNamed,
  placed,
  seenPass,
  transmissions,
  type Element,
} from './elements';
import { channelPlane, scaledFrame, scaledSize, stackOf, type Plate } from './plate';

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
        `${plate.id} matte ${id} ${JSON.stringify(geometryReads(look))} @${scale}`,
        () => mattePlane(plate, look, id, null, scale),
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
        matte: (name, value) => mattePlane(plate, look, name, value, scale),
        value: (shape) => valuePlane(plate, look, shape, scale),
      }),
    (plane) => plane.byteLength,
  );
}

/** What a mask hangs on besides the plate. */
export function maskKey(look: Look, id: string): string {
  if (id === NO_MASK) return '';
  const mask = look.masks.find((one) => one.id === id);
  if (!mask) return JSON.stringify([id, geometryReads(look)]);
  return JSON.stringify([
    mask,
    takes(mask, (of) => of === 'depth') && depthReads(look),
    takes(mask, (of) => of !== 'depth') && look.elements.map(({ primaries, alpha }) => [primaries, alpha]),
    geometryReads(look),
  ]);
}

/** The same of all masks that a look has. */
export const masksKey = (look: Look): string[] => look.masks.map(({ id }) => maskKey(look, id));

const takes = ({ shapes }: Mask, which: (of: ValueShape['of']) => boolean): boolean =>
  shapes.some((shape) => shape.kind === 'value' && which(shape.of));
/** Coverage by value: of every pixel at full size, and reduced the share of each larger one. */
function valuePlane(plate: Plate, look: Look, shape: ValueShape, scale: number): Float32Array {
  if (shape.of === 'depth')
    return channelPlane(plate, { samples: distanceCoverage(shape, readDepth(plate, look)) }, scale);
  const named = passesNamed(plate, look, shape.pass);
  if (named.length === 0 || !named.every(({ pass }) => holdsLight(pass)))
    throwNoLight(plate, shape.pass, named[0]?.pass);
  return channelPlane(plate, { samples: lightCoverage(shape, seenPass(named, plate, look, 1)) }, scale);
}

function throwNoLight(plate: Plate, name: string, pass: Plate['beauty'] | undefined): never {
  throw new SettingError(pass ? `pass ${name} holds no light` : `${plate.name} has no pass ${name}`, {
    where: 'masks',
    todo: `Passes that hold light are ${plate.passes
      .filter(holdsLight)
      .map((one) => one.name)
      .join(', ')}`,
  });
}

/** Names of the channels of a render that are mattes. */
const ownMattes = ({ passes }: Plate): string[] =>
  passes
    .filter(({ kind }) => kind === 'matte')
    .flatMap(({ channels }) => channels.map(({ channel }) => channel.name));

/** Names of a plate's mattes; of several elements also those of each, as `element:channel`, and each as a whole. */
export function mattesOf(plate: Plate): string[] {
  const all = new Set(stackOf(plate).flatMap(ownMattes));
  if (plate.stack)
    for (const one of plate.stack) {
      const name = elementName(one);
      all.add(name);
      for (const channel of ownMattes(one)) all.add(`${name}:${channel}`);
    }
  return [...all];
}

/** A matte as coverage at a scale. Of several elements, what is seen of it. */
function mattePlane(plate: Plate, look: Look, name: string, id: number | null, scale: number): Float32Array {
  const elements = elementsOf(plate, look);
  const planes = elements.map((element) => elementMatte(element, plate, name, id, scale));
  if (planes.every((plane) => plane === undefined)) {
    const mattes = mattesOf(plate);
    // An element that is off covers nothing.
    if (mattes.includes(name)) return emptyPlane(plate, scale);
    throw new SettingError(`${plate.name} has no channel ${name}`, {
      where: 'masks',
      todo: mattes.length ? `Its mattes are ${mattes.join(', ')}` : 'It has no mattes',
    });
  }
  if (isAlone(plate, look)) return planes[0]!;
  const open = transmissions(elements, plate, look, scale);
  const out = emptyPlane(plate, scale);
  planes.forEach((plane, k) => {
    if (!plane) return;
    const through = open[k];
    const { opacity } = elements[k]!.settings;
    for (let i = 0; i < out.length; i++)
      out[i] = Math.min(1, out[i]! + plane[i]! * opacity * (through ? through[i]! : 1));
  });
  return out;
}

function emptyPlane(plate: Plate, scale: number): Float32Array {
  const { width, height } = scaledSize(plate, scale);
  return new Float32Array(width * height);
}

/** A matte that one element has, or what it takes up itself, in place; undefined if the name is not its. */
function elementMatte(
  element: Element,
  whole: Plate,
  name: string,
  id: number | null,
  scale: number,
): Float32Array | undefined {
  const { plate } = element;
  const own = elementName(plate);
  const channel =
    plate.picture.channels.get(name) ??
    (name.startsWith(`${own}:`) ? plate.picture.channels.get(name.slice(own.length + 1)) : undefined);
  if (!channel) {
    if (!whole.stack || name !== own) return undefined;
    return alphaInPlace(element, whole, scale) ?? emptyPlane(whole, scale).fill(1);
  }
  if (id === null) {
    const clamped = channelPlane(plate, channel, scale).map((value) => Math.min(1, Math.max(0, value)));
    return placed(clamped, element, whole, scale);
  }
  // Where the number stands, at full size; reduced, this is the share of each larger pixel.
  const samples = channelFloats(channel).map((value) => (Math.abs(value - id) < 0.5 ? 1 : 0));
  return placed(channelPlane(plate, { samples }, scale), element, whole, scale);
}
