export { MAX_PIXELS, MAX_SIDE } from '../../image/limits';

/**
 * Tables of the OpenEXR file layout (Academy Software Foundation, "OpenEXR File Layout", version 2).
 */
export const MAGIC = 0x01312f76;

export const FLAG_TILED = 0x200;
export const FLAG_LONG_NAMES = 0x400;
export const FLAG_DEEP = 0x800;
export const FLAG_MULTI_PART = 0x1000;
export const KNOWN_FLAGS = FLAG_TILED | FLAG_LONG_NAMES | FLAG_DEEP | FLAG_MULTI_PART;

/** Compressions by code: name and lines in one chunk. */
export const COMPRESSIONS = [
  { name: 'none', lines: 1 },
  { name: 'rle', lines: 1 },
  { name: 'zips', lines: 1 },
  { name: 'zip', lines: 16 },
  { name: 'piz', lines: 32 },
  { name: 'pxr24', lines: 16 },
  { name: 'b44', lines: 32 },
  { name: 'b44a', lines: 32 },
  { name: 'dwaa', lines: 32 },
  { name: 'dwab', lines: 256 },
] as const;

export type CompressionName = (typeof COMPRESSIONS)[number]['name'];

export const PIXEL_TYPES = ['uint', 'half', 'float'] as const;
export const BYTES_PER_SAMPLE = { uint: 4, half: 2, float: 4 } as const;

/** Names of attributes and channels may be this long; longer ones need the long-name flag. */
export const SHORT_NAME = 31;
export const LONG_NAME = 255;

/** What a part is, as its `type` attribute says. */
export const FLAT_TYPES = ['scanlineimage', 'tiledimage'] as const;

/** Level modes of tiles, by the low four bits of their mode byte. */
export const LEVEL_MODES = ['one', 'mip', 'rip'] as const;

/** Limits that are checked before any memory is taken. */
export const MAX_CHANNELS = 4096;
export const MAX_PARTS = 1024;
/** Bytes of samples that one file may decode to. */
export const MAX_DECODED_BYTES = 8 * 1024 ** 3;
