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
import { reduceArea } from './resample';

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
  const attribute = attributes.get(ATTRIBUTE);
  if (attribute?.type !== 'float' || attribute.bytes.length !== 4) return 1;
  const { buffer, byteOffset } = attribute.bytes;
  const aspect = new DataView(buffer, byteOffset).getFloat32(0, true);
  const isUsable = aspect >= 1 / MOST && aspect <= MOST && Math.abs(aspect - 1) > SQUARE;
  return isUsable ? aspect : 1;
}

/** The attribute that says so. */
export function pixelAspectAttribute(aspect: number): [name: string, attribute: Attribute] {
  return [ATTRIBUTE, { type: 'float', bytes: new Uint8Array(Float32Array.of(aspect).buffer) }];
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
  return reduceArea(plane, width, height, stored.width, stored.height);
}

function stretch(channel: Channel, from: Size, to: Size, blends: boolean): Channel['samples'] {
  const [columns, rows] = [cover(from.width, to.width), cover(from.height, to.height)];
  const isWhole = to.width % from.width === 0 && to.height % from.height === 0;
  if (!blends || isWhole || channel.type === 'uint') {
    const out = sampleStore(channel.type, to.width * to.height);
    for (let y = 0; y < to.height; y++) {
      const row = rows.middle[y]! * from.width;
      for (let x = 0; x < to.width; x++) out[y * to.width + x] = channel.samples[row + columns.middle[x]!]!;
    }
    return out;
  }
  const floats = channelFloats(channel);
  const out = new Float32Array(to.width * to.height);
  for (let y = 0; y < to.height; y++) {
    const [top, under, low] = [rows.first[y]! * from.width, rows.last[y]! * from.width, rows.share[y]!];
    for (let x = 0; x < to.width; x++) {
      const [left, right, share] = [columns.first[x]!, columns.last[x]!, columns.share[x]!];
      const above = (1 - share) * floats[top + left]! + share * floats[top + right]!;
      // Along one side pixels are not divided; what is not a number must not be multiplied into its neighbours.
      out[y * to.width + x] =
        low === 0
          ? share === 0
            ? floats[top + left]!
            : above
          : (1 - low) * above + low * ((1 - share) * floats[under + left]! + share * floats[under + right]!);
    }
  }
  return channel.type === 'half' ? floatsToHalves(out) : out;
}

/** For each new cell the one or two old ones that it covers, the second's share in it, and the one in its middle. */
function cover(size: number, toSize: number) {
  const step = size / toSize;
  const first = new Int32Array(toSize);
  const last = new Int32Array(toSize);
  const middle = new Int32Array(toSize);
  const share = new Float64Array(toSize);
  for (let i = 0; i < toSize; i++) {
    first[i] = Math.min(size - 1, Math.floor(i * step + 1e-9));
    last[i] = Math.min(size - 1, Math.ceil((i + 1) * step - 1e-9) - 1);
    middle[i] = Math.min(size - 1, Math.floor((i + 0.5) * step));
    share[i] = last[i]! > first[i]! ? ((i + 1) * step - last[i]!) / step : 0;
  }
  return { first, last, middle, share };
}
