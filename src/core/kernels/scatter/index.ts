import type { RunOptions } from '../runtime/parallel';

/**
 * A blur disc as the derivative along x of its coverage: add each entry at its place, and a running sum along the row
 * gives the disc. The coverage of all pixels together is 1.
 */
export interface Disc {
  /** Rows from `-reach` to `reach`. */
  reach: number;
  /** Where each row's entries begin, and the end. */
  rows: Int32Array;
  dx: Int16Array;
  weight: Float32Array;
}

/** All discs that a lens makes, by radius and by place in the frame. */
export interface Discs {
  /** How finely radii are told apart: the step of an absolute radius in pixels, from 0 on. */
  stepOf(radius: number): number;
  /** Cells of the field, for discs that change over it. */
  cellsAcross: number;
  cellsDown: number;
  disc(step: number, side: 'before' | 'behind', cellX: number, cellY: number): Disc;
}

/** One surface of a picture, at whatever distances. */
export interface Surface {
  /** Light, multiplied by what the surface takes up of each pixel. */
  light: readonly Float32Array[];
  /** From 0 to 1; undefined if it is all of each. */
  coverage?: Float32Array | undefined;
  /** Signed radius in pixels, negative before the focus. */
  radius: Float32Array;
}

export interface ScatterInput {
  /** Names light and radii: pieces that were cut for the same key before are used again. */
  key: string;
  width: number;
  height: number;
  /** Back to front. Where a farther one has parts that are nearer, those cover; within one blur the order does. */
  surfaces: readonly Surface[];
  discs: Discs;
  /** The cell of each column and row. */
  cellX: Uint8Array;
  cellY: Uint8Array;
  /** What the frame's edge leaves uncovered is made whole; else it stays dark. */
  fill: boolean;
}

/** The heavy loop of the focus: every piece of surface over its disc, nearer ones over farther ones. */
export interface ScatterKernel {
  scatter(input: ScatterInput, options?: RunOptions): Promise<[Float32Array, Float32Array, Float32Array]>;
}

/** Discs up to this radius are points: what is in focus keeps its very bits. */
export const IN_FOCUS_RADIUS = 0.5;
