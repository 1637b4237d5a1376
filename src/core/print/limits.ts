/** Wider files are not written. */
export const MOST_WIDTH = 65536;
