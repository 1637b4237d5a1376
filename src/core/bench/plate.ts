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
import { channelFloats, type Picture, type SampleType } from '../image/picture';
import { reduceArea } from '../image/resample';
import type { Rgb } from './light';

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
}

/** Finds a picture's passes. Throws {@link FileError} if none of them holds light. */
export function makePlate(id: string, name: string, picture: Picture): Plate {
  const passes = passesOf(picture);
  const beauty = findBeauty(passes);
  if (!beauty) {
    throw new FileError('the file holds no colour: no pass has R, G and B, or Y', {
      where: name,
      todo: 'Choose a file with the beauty in it',
    });
  }
  const sampleType = lightChannels(beauty).rgb[0].type;
  return { id, name, picture, passes, beauty, depth: findDepth(passes), sampleType };
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

/** A pass as planes at a scale. Not-a-number becomes 0 and infinities the largest half, so that neither spreads. */
export function passLight(
  plate: Plate,
  pass: Pass,
  scale: number,
): { rgb: Rgb; alpha: Float32Array | undefined } {
  const { picture } = plate;
  const { width, height } = scaledSize(plate, scale);
  const plane = (channel: Parameters<typeof channelFloats>[0]): Float32Array =>
    reduceArea(finite(channelFloats(channel)), picture.width, picture.height, width, height);
  const { rgb, alpha } = lightChannels(pass);
  const red = plane(rgb[0]);
  const grey = rgb[1] === rgb[0];
  return { rgb: [red, grey ? red : plane(rgb[1]), grey ? red : plane(rgb[2])], alpha: alpha && plane(alpha) };
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
