import type { Tracks } from '../core/look/tracks';
import type { FrameAround, RenderOptions } from './render-file';

/** One frame of a reel, as it is handed to a thread. */
export interface FrameJob {
  files: readonly string[];
  options: RenderOptions;
  around?: readonly FrameAround[];
}

/** What every frame of a reel is printed with. */
export interface FrameThreadData {
  tracks: Tracks;
  /** The shot whose plate it is, if it is one. */
  shot: string | undefined;
}

/** What came of a frame: why it could not be printed, if it could not. */
export interface FrameAnswer {
  milliseconds: number;
  warnings: readonly string[];
  failure?: string;
}
