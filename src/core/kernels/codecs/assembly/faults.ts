/** Why data cannot be unpacked; the host puts them into words (see wasm.ts). */
export const DAMAGED: i32 = -1;
export const TOO_LONG: i32 = -2;
export const WRONG_CHECKSUM: i32 = -3;
export const ENDS_EARLY: i32 = -4;
export const BAD_CODES: i32 = -5;
export const UNKNOWN_CODE: i32 = -6;
export const LONG_RUN: i32 = -7;
export const BAD_VALUES: i32 = -8;
export const BAD_EXTENT: i32 = -9;
export const WRONG_SIZE: i32 = -10;
