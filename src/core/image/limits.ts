/** The largest picture that is read or made: pixels along a side, and in all. */
export const MAX_SIDE = 65536;
export const MAX_PIXELS = 512 * 1024 * 1024;
