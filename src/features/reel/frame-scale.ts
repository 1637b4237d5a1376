import { clamp } from '../../core/image/clamp';
import type { FrameRange } from '../../core/shot/reel';

/** How frames lie along a line of so many pixels. */
export interface FrameScale {
  /** Width of a frame. */
  step: number;
  /** Left edge of a frame. */
  toX: (frame: number) => number;
  /** Its middle, where its key stands. */
  middle: (frame: number) => number;
  /** The frame at a place, within the range. */
  toFrame: (x: number) => number;
  /** The same between frames, and beyond the range. */
  frameAt: (x: number) => number;
}

export function frameScale({ first, last }: FrameRange, width: number): FrameScale {
  const count = last - first + 1;
  const step = width / count;
  return {
    step,
    toX: (frame) => (frame - first) * step,
    middle: (frame) => (frame - first + 0.5) * step,
    toFrame: (x) => first + clamp(Math.floor(x / step), 0, count - 1),
    frameAt: (x) => first + x / step - 0.5,
  };
}
