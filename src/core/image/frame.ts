import type { Rectangle } from './rectangle';
import { sampleStore, type Channel, type Picture, type Window } from './picture';
import { MAX_PIXELS } from './limits';

/** A frame may ask for so many times the pixels that there are. */
const MOST_EMPTY = 16;

const extent = ({ xMin, yMin, xMax, yMax }: Window): { width: number; height: number } => ({
  width: xMax - xMin + 1,
  height: yMax - yMin + 1,
});

/**
 * The picture with its whole frame: where the stored pixels do not reach the display window's edge, black is laid beside
 * them. Pixels beyond the frame (overscan) are kept. A frame that is absurdly larger than its pixels is left out.
 */
export function fillFrame(picture: Picture): Picture {
  const { dataWindow: data, displayWindow: frame } = picture;
  const whole: Window = {
    xMin: Math.min(data.xMin, frame.xMin),
    yMin: Math.min(data.yMin, frame.yMin),
    xMax: Math.max(data.xMax, frame.xMax),
    yMax: Math.max(data.yMax, frame.yMax),
  };
  const { width, height } = extent(whole);
  if (width === picture.width && height === picture.height) return picture;
  if (width * height > Math.min(MAX_PIXELS, MOST_EMPTY * picture.width * picture.height + 4096)) {
    const asked = extent(frame);
    const warning = `its frame (${asked.width} x ${asked.height}) is far larger than its pixels; the pixels alone are taken`;
    return { ...picture, displayWindow: { ...data }, warnings: [...picture.warnings, warning] };
  }
  const channels = new Map<string, Channel>();
  for (const [name, channel] of picture.channels) {
    const samples = sampleStore(channel.type, width * height);
    for (let y = 0; y < picture.height; y++) {
      const from = y * picture.width;
      const to = (y + data.yMin - whole.yMin) * width + data.xMin - whole.xMin;
      samples.set(channel.samples.subarray(from, from + picture.width), to);
    }
    channels.set(name, { ...channel, samples });
  }
  return { ...picture, width, height, dataWindow: whole, channels };
}

/** The frame in pixels of the picture; the whole picture if the two do not meet. */
export function frameOf({ dataWindow: data, displayWindow: frame, width, height }: Picture): Rectangle {
  const x = Math.max(0, frame.xMin - data.xMin);
  const y = Math.max(0, frame.yMin - data.yMin);
  const right = Math.min(width, frame.xMax - data.xMin + 1);
  const bottom = Math.min(height, frame.yMax - data.yMin + 1);
  if (right <= x || bottom <= y) return { x: 0, y: 0, width, height };
  return { x, y, width: right - x, height: bottom - y };
}
