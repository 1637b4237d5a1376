/** Photometric interpretations (TIFF 6.0, tag 262) whose samples are what they seem. */
export const WHITE_IS_ZERO = 0;
export const RGB = 2;

/** Extra samples (tag 338): alpha that colour was multiplied by, and alpha that it was not. */
export const ASSOCIATED = 1;
export const UNASSOCIATED = 2;

/** Sample formats (tag 339). */
export const UNSIGNED = 1;
export const FLOAT = 3;
