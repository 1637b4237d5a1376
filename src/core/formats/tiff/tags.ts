/** Photometric interpretations (TIFF 6.0, tag 262) whose samples are what they seem. */
export const WHITE_IS_ZERO = 0;
export const RGB = 2;

/** Sample formats (tag 339). */
export const UNSIGNED = 1;
export const FLOAT = 3;
