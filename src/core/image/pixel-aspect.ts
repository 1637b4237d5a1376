import { attributeFloats, floatAttribute } from './float-attribute';
import { MAX_PIXELS, MAX_SIDE } from './limits';
import {
  channelFloats,
  sampleStore,
  type Attribute,
  type Channel,
  type Picture,
  type Window,
} from './picture';
import { floatsToHalves } from './half';
import type { Size } from './rectangle';
import { resampleArea } from './resample';

/** The pixels of a file that are not square, as they were stored. */
export interface StoredPixels extends Size {
  /** Width of a pixel over its height. */
  aspect: number;
  dataWindow: Window;
  displayWindow: Window;
}

const ATTRIBUTE = 'pixelAspectRatio';
/** Ratios nearer to 1 than this are slips of rounding. */
const SQUARE = 1e-3;
/** Wider or higher pixels than these are taken for an error in the file. */
const MOST = 16;

/** Width over height of a file's pixels; 1 where nothing sensible is said. */
export function pixelAspectOf(attributes: ReadonlyMap<string, Attribute>): number {
  const [aspect = 1] = attributeFloats(attributes.get(ATTRIBUTE), 'float', 1) ?? [];
  const isUsable = aspect >= 1 / MOST && aspect <= MOST && Math.abs(aspect - 1) > SQUARE;
  return isUsable ? aspect : 1;
}

/** The attribute that says so. */
export function pixelAspectAttribute(aspect: number): [name: string, attribute: Attribute] {
  return [ATTRIBUTE, floatAttribute('float', aspect)];
}

/**
 * The picture with square pixels, as it is meant to be seen: along the side where they are longer each is divided.
 * Channels that `blends` holds for give every new pixel the mean of what it covers, the others (distances, numbers) the
 * pixel in its middle. By whole numbers each pixel is repeated, and {@link toStoredPixels} gives its bits back.
 * A picture that would be too large keeps its pixels.
 */
export function squarePixels(
  picture: Picture,
  blends: (channel: Channel) => boolean,
): { picture: Picture; stored?: StoredPixels } {
  const aspect = pixelAspectOf(picture.attributes);
  if (aspect === 1) return { picture };
  const [across, down] = [Math.max(1, aspect), Math.max(1, 1 / aspect)];
  const width = Math.round(picture.width * across);
  const height = Math.round(picture.height * down);
  const told = `its pixels are ${Number(aspect.toPrecision(4))} times as wide as they are high`;
  const warn = (warning: string): Picture => ({ ...picture, warnings: [...picture.warnings, warning] });
  if (Math.max(width, height) > MAX_SIDE || width * height > MAX_PIXELS)
    return { picture: warn(`${told}; unsqueezed it would be too large, so they are taken as squares`) };
  const channels = new Map<string, Channel>();
  for (const [name, channel] of picture.channels)
    channels.set(name, {
      ...channel,
      samples: stretch(channel, picture, { width, height }, blends(channel)),
    });
  const attributes = new Map(picture.attributes);
  attributes.delete(ATTRIBUTE);
  const { dataWindow, displayWindow } = picture;
  const scaled = (window: Window): Window => {
    const [xMin, yMin] = [Math.round(window.xMin * across), Math.round(window.yMin * down)];
    const right = xMin + Math.round((window.xMax - window.xMin + 1) * across) - 1;
    const bottom = yMin + Math.round((window.yMax - window.yMin + 1) * down) - 1;
    return { xMin, yMin, xMax: right, yMax: bottom };
  };
  const warning = `${told}: it is shown and computed unsqueezed, ${width} x ${height}; an OpenEXR print has its own ${picture.width} x ${picture.height} again`;
  return {
    picture: {
      ...warn(warning),
      width,
      height,
      channels,
      attributes,
      dataWindow: scaled(dataWindow),
      displayWindow: scaled(displayWindow),
    },
    stored: { aspect, width: picture.width, height: picture.height, dataWindow, displayWindow },
  };
}

/** A plane of square pixels in the pixels that the file had: each is the mean of what it covers. */
export function toStoredPixels(plane: Float32Array, { width, height }: Size, stored: Size): Float32Array {
  return resampleArea(plane, width, height, stored.width, stored.height);
}

function stretch(channel: Channel, from: Size, to: Size, blends: boolean): Channel['samples'] {
  const isWhole = to.width % from.width === 0 && to.height % from.height === 0;
  if (blends && !isWhole && channel.type !== 'uint') {
    const out = resampleArea(channelFloats(channel), from.width, from.height, to.width, to.height);
    return channel.type === 'half' ? floatsToHalves(out) : out;
  }
  const middles = (size: number, toSize: number): Int32Array =>
    Int32Array.from({ length: toSize }, (_, i) => Math.floor(((i + 0.5) * size) / toSize));
  const [columns, rows] = [middles(from.width, to.width), middles(from.height, to.height)];
  const out = sampleStore(channel.type, to.width * to.height);
  for (let y = 0; y < to.height; y++)
    for (let x = 0; x < to.width; x++)
      out[y * to.width + x] = channel.samples[rows[y]! * from.width + columns[x]!]!;
  return out;
}
