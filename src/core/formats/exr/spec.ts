/**
 * Tables of the OpenEXR file layout (Academy Software Foundation, "OpenEXR File Layout", version 2).
 */
export const MAGIC = 0x01312f76;

export const FLAG_TILED = 0x200;
export const FLAG_LONG_NAMES = 0x400;
export const FLAG_DEEP = 0x800;
export const FLAG_MULTI_PART = 0x1000;
export const KNOWN_FLAGS = FLAG_TILED | FLAG_LONG_NAMES | FLAG_DEEP | FLAG_MULTI_PART;

/** Compressions by code: name, lines in one chunk, and whether this reader decodes them. */
export const COMPRESSIONS = [
  { name: 'none', lines: 1, supported: true },
  { name: 'rle', lines: 1, supported: true },
  { name: 'zips', lines: 1, supported: true },
  { name: 'zip', lines: 16, supported: true },
  { name: 'piz', lines: 32, supported: true },
  { name: 'pxr24', lines: 16, supported: true },
  { name: 'b44', lines: 32, supported: true },
  { name: 'b44a', lines: 32, supported: true },
  { name: 'dwaa', lines: 32, supported: false },
  { name: 'dwab', lines: 256, supported: false },
] as const;

export const PIXEL_TYPES = ['uint', 'half', 'float'] as const;
export const BYTES_PER_SAMPLE = { uint: 4, half: 2, float: 4 } as const;

/** Names of attributes and channels may be this long; longer ones need the long-name flag. */
export const SHORT_NAME = 31;
export const LONG_NAME = 255;

/** Limits that are checked before any memory is taken. */
export const MAX_SIDE = 65536;
export const MAX_PIXELS = 512 * 1024 * 1024;
export const MAX_CHANNELS = 4096;
/** Bytes of samples that one file may decode to. */
export const MAX_DECODED_BYTES = 8 * 1024 ** 3;
