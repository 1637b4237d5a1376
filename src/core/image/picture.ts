import { halvesToFloats } from './half';

/** How a channel's samples are stored: IEEE half, IEEE float, or unsigned 32-bit integer (ids). */
export type SampleType = 'half' | 'float' | 'uint';

/** Samples in the type they are stored in; halves as their 16-bit patterns, so that nothing is lost or grown. */
export type Samples = Uint16Array | Float32Array | Uint32Array;

/** A rectangle of pixels with inclusive corners, as OpenEXR writes windows. */
export interface Window {
  xMin: number;
  yMin: number;
  xMax: number;
  yMax: number;
}

/** One named channel: `width * height` samples, row-major, top row first. */
export interface Channel {
  name: string;
  type: SampleType;
  samples: Samples;
}

/** A file's attribute, carried through as it was. */
export interface Attribute {
  type: string;
  bytes: Uint8Array;
}

/** What every reader gives and every writer takes. */
export interface Picture {
  width: number;
  height: number;
  /** Where the pixels lie; `width` and `height` are its extent. */
  dataWindow: Window;
  /** The frame that was meant to be seen. */
  displayWindow: Window;
  /** By full name (`diffuse.R`), in the file's order. A Map, since a file may name a channel `__proto__`. */
  channels: Map<string, Channel>;
  /** Whether values are scene light, or were made for a display and end at white. */
  range: 'scene' | 'display';
  /** Compression as named by the file's format, for display. */
  compression: string;
  /** Further attributes by name. */
  attributes: Map<string, Attribute>;
  /** Whether pixels are missing, as in a file that is still being written. */
  isIncomplete?: boolean;
  /** Passes that are not of this render but of an older one, by name, and which. */
  older?: ReadonlyMap<string, string>;
  /** Remarks for the person: what was read with a reservation. */
  warnings: string[];
}

/** A picture without channels, its windows at the origin. */
export function emptyPicture(width: number, height: number): Picture {
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  return {
    width,
    height,
    dataWindow: window,
    displayWindow: { ...window },
    channels: new Map(),
    range: 'scene',
    compression: 'none',
    attributes: new Map(),
    warnings: [],
  };
}

/** Adds a channel of float samples (`width * height`) that will be stored as `type`. */
export function addChannel(picture: Picture, name: string, type: SampleType, samples: Samples): void {
  if (samples.length !== picture.width * picture.height) {
    throw new RangeError(
      `channel ${name} has ${samples.length} samples for ${picture.width}x${picture.height}`,
    );
  }
  picture.channels.set(name, { name, type, samples });
}

/** Room for `count` samples of a type, all zero. */
export function sampleStore(type: SampleType, count: number): Samples {
  if (type === 'half') return new Uint16Array(count);
  return type === 'float' ? new Float32Array(count) : new Uint32Array(count);
}

/** A channel's samples as floats: a copy, but for float channels, whose own array is given. */
export function channelFloats(channel: Pick<Channel, 'samples'>): Float32Array {
  if (channel.samples instanceof Float32Array) return channel.samples;
  if (channel.samples instanceof Uint16Array) return halvesToFloats(channel.samples);
  return Float32Array.from(channel.samples);
}

/** Bytes of memory that a picture's samples take. */
export function pictureBytes(picture: Picture): number {
  let bytes = 0;
  for (const channel of picture.channels.values()) bytes += channel.samples.byteLength;
  return bytes;
}
