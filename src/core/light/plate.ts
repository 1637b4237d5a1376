import { SettingError, FileError } from '../errors';
import { HALF_MAX } from '../image/half';
import {
  BEAUTY,
  findBeauty,
  findDepth,
  holdsLight,
  lightChannels,
  passesOf,
  type Pass,
} from '../image/passes';
import {
  addChannel,
  channelFloats,
  emptyPicture,
  type Channel,
  type Picture,
  type SampleType,
} from '../image/picture';
import { resampleArea } from '../image/resample';
import { toRec709, type Chromaticities, type Matrix } from '../color/chromaticities';
import { readChromaticities } from '../image/chromaticities';
import { fillFrame, frameOf } from '../image/frame';
import { squarePixels, type StoredPixels } from '../image/pixel-aspect';
import type { Rectangle } from '../image/rectangle';
import type { Role } from '../image/roles';
import { throughMatrix, type Rgb } from '../image/rgb';

/** A picture that came in, with its passes told apart. */
export interface Plate {
  /** Unique among the plates that are open; part of every cache key. */
  id: string;
  /** The file's name, for messages. */
  name: string;
  picture: Picture;
  passes: readonly Pass[];
  beauty: Pass;
  depth: Pass | undefined;
  /** How the beauty's samples are stored: what a print takes by default. */
  sampleType: SampleType;
  /** The frame in the picture's pixels; what lies beyond it is overscan. */
  frame: Rectangle;
  /** Where the whole picture lies, in the pixels of this one, which may be a window of it. */
  whole: Rectangle;
  /** Primaries that its values are in, if they are told: by the file, or by hand. */
  primaries?: Chromaticities | undefined;
  /** From them to those of the bench, if they differ. */
  toWorking: Matrix | undefined;
  /** The file's pixels, if they are not square; the picture's are. */
  stored?: StoredPixels | undefined;
  /** The frame's number in its sequence; grain is another in every frame. */
  frameNumber?: number | undefined;
  /** All renders that it is made of, back to front, itself among them; if it is alone, none. */
  stack?: readonly Plate[] | undefined;
  /** Its own place among them. */
  stackIndex?: number | undefined;
}

/** All renders that a plate is made of, back to front. */
export const stackOf = (plate: Plate): readonly Plate[] => plate.stack ?? [plate];

/**
 * A plate of several renders, back to front. Frame, primaries and what else a picture has one of are those of `base`, which is among
 * them.
 */
export function stackPlates(base: Plate, stack: readonly Plate[]): Plate {
  if (stack.length === 1 && stack[0] === base) return base;
  // Begins with the plate's own, so that what is kept of it goes when the plate goes.
  const id = `${base.id} of ${stack.map((one) => one.id).join(' and ')}`;
  return { ...base, id, stack, stackIndex: stack.indexOf(base) };
}

/**
 * Finds a picture's passes; `roles` corrects what their names tell. Pixels that are not square are unsqueezed. Throws
 * {@link FileError} if none of the passes holds light.
 */
export function makePlate(
  id: string,
  name: string,
  file: Picture,
  roles: Readonly<Record<string, Role>> = {},
): Plate {
  const framed = fillFrame(file);
  const lit = passesOf(framed, roles).filter(holdsLight);
  const blended = new Set(lit.flatMap(({ channels }) => channels.map(({ channel }) => channel)));
  const { picture, stored } = squarePixels(framed, (channel) => blended.has(channel));
  return withRoles({ id, name, picture, stored }, roles);
}

/** A plate whose passes are told apart anew. */
export function withRoles(
  { id, name, picture, stored }: Pick<Plate, 'id' | 'name' | 'picture' | 'stored'>,
  roles: Readonly<Record<string, Role>>,
): Plate {
  const passes = passesOf(picture, roles);
  const beauty = findBeauty(passes);
  if (!beauty) {
    throw new FileError('the file holds no colour: no pass has R, G and B, or Y', {
      where: name,
      todo: 'Choose a file with the beauty in it',
    });
  }
  const sampleType = lightChannels(beauty).rgb[0].type;
  const primaries = readChromaticities(picture.attributes);
  return {
    id,
    name,
    picture,
    passes,
    beauty,
    depth: findDepth(passes),
    sampleType,
    frame: frameOf(picture),
    whole: { x: 0, y: 0, width: picture.width, height: picture.height },
    primaries,
    toWorking: primaries && toRec709(primaries),
    stored,
  };
}

/** Stands in a stack for a render that has nothing at this frame: as large as the plate, and empty. */
export function emptyElement(
  id: string,
  name: string,
  { picture: { width, height, displayWindow, dataWindow } }: Plate,
): Plate {
  const picture = { ...emptyPicture(width, height), displayWindow, dataWindow };
  for (const channel of ['R', 'G', 'B', 'A'])
    addChannel(picture, channel, 'half', new Uint16Array(width * height));
  return makePlate(`${id} empty`, name, picture);
}

const taken = new WeakMap<Plate, Map<Chromaticities, Plate>>();

/** A plate whose values are in other primaries than its file says. Equal arguments give the same plate. */
export function inPrimaries(plate: Plate, name: string, primaries: Chromaticities): Plate {
  if (plate.primaries === primaries) return plate;
  const known = taken.get(plate) ?? new Map<Chromaticities, Plate>();
  taken.set(plate, known);
  const other = known.get(primaries) ?? {
    ...plate,
    // Begins with the plate's own, so that what is kept of it goes when the plate goes.
    id: `${plate.id} in ${name}`,
    primaries,
    toWorking: toRec709(primaries),
  };
  known.set(primaries, other);
  return other;
}

/** The pass of a name that holds light; `beauty` is whichever pass is the whole picture. */
export function lightPass(plate: Plate, name: string, path: string): Pass {
  const found = name === BEAUTY ? plate.beauty : plate.passes.find((pass) => pass.name === name);
  if (found && holdsLight(found)) return found;
  const others = plate.passes.filter(holdsLight).map((pass) => pass.name);
  throw new SettingError(
    found ? `pass ${name} of ${plate.name} holds no light` : `${plate.name} has no pass ${name}`,
    {
      where: path,
      todo: `It has ${others.join(', ')}`,
    },
  );
}

/** The size of a plate's light at a scale. */
export function scaledSize(plate: Plate, scale: number): { width: number; height: number } {
  const { width, height } = plate.picture;
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** The frame in pixels of the light at a scale. */
export function scaledFrame({ frame }: Plate, scale: number): Rectangle {
  return {
    x: frame.x * scale,
    y: frame.y * scale,
    width: frame.width * scale,
    height: frame.height * scale,
  };
}

/** A plane of the picture at a scale. Not-a-number becomes 0 and infinities the largest half, so that neither spreads. */
export function channelPlane(plate: Plate, channel: Pick<Channel, 'samples'>, scale: number): Float32Array {
  const { picture } = plate;
  const { width, height } = scaledSize(plate, scale);
  return resampleArea(finite(channelFloats(channel)), picture.width, picture.height, width, height);
}

/** A pass as planes at a scale, in the primaries of the bench. */
export function passLight(
  plate: Plate,
  pass: Pass,
  scale: number,
): { rgb: Rgb; alpha: Float32Array | undefined } {
  const { rgb, alpha } = lightChannels(pass);
  const red = channelPlane(plate, rgb[0], scale);
  const grey = rgb[1] === rgb[0];
  const own: Rgb = [
    red,
    grey ? red : channelPlane(plate, rgb[1], scale),
    grey ? red : channelPlane(plate, rgb[2], scale),
  ];
  return {
    rgb: plate.toWorking && !grey ? throughMatrix(own, plate.toWorking) : own,
    alpha: alpha && channelPlane(plate, alpha, scale),
  };
}

function finite(samples: Float32Array): Float32Array {
  let clean = true;
  for (let i = 0; clean && i < samples.length; i++) clean = Number.isFinite(samples[i]);
  if (clean) return samples;
  return samples.map((value) => {
    if (Number.isFinite(value)) return value;
    return Number.isNaN(value) ? 0 : Math.sign(value) * HALF_MAX;
  });
}
