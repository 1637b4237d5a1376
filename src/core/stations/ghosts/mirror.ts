import { bilinearSampler } from '../../image/bilinear';
import { gaussianBlur } from '../../image/gaussian-blur';
import type { Rectangle } from '../../image/rectangle';
import { resampleArea } from '../../image/resample';
import { blackRgb, mapRgb, type Rgb } from '../../image/rgb';
import type { Look } from '../../look/look';
import { tintOf } from './light-place';

type MirrorSettings = Look['ghosts']['mirror'][number];

/** Least blur, in pixels, for which a picture of half the size will do. */
const COARSE = 3;
const MOST_HALVINGS = 8;
/** A copy that is made smaller is blurred by so much of a pixel, so that it does not flicker. */
const SMOOTH = 0.45;
const LEAST_SCALE = 0.01;
/** A blur that is wider than so many pictures is even all over. */
const WIDEST = 1.5;

/** A soft copy of the feed as a filter glass throws it: scaled, moved and turned about the frame's middle, black beyond the picture. */
export function mirrorCopy(
  feed: Rgb,
  width: number,
  height: number,
  frame: Rectangle,
  settings: MirrorSettings,
): Rgb {
  const scaleX = keepOff(settings.scaleX);
  const scaleY = keepOff(settings.scaleY);
  const blurX = blurOf(settings.blurX * frame.height, scaleX, width);
  const blurY = blurOf(settings.blurY * frame.height, scaleY, height);
  const [sizeX, sizeY] = [pixelSizeFor(blurX), pixelSizeFor(blurY)];
  // A border, so that what is blurred beyond the edge is not lost.
  const [marginX, marginY] = [Math.ceil((3.5 * blurX) / sizeX) + 1, Math.ceil((3.5 * blurY) / sizeY) + 1];
  const [w, h] = [Math.max(1, Math.round(width / sizeX)), Math.max(1, Math.round(height / sizeY))];
  const [across, down] = [w + 2 * marginX, h + 2 * marginY];
  const [unitX, unitY] = [width / w, height / h];
  const turn = (settings.rotation * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const middle = { x: frame.x + frame.width / 2, y: frame.y + frame.height / 2 };
  const [moveX, moveY] = [
    middle.x + settings.offsetX * frame.width,
    middle.y + settings.offsetY * frame.height,
  ];
  const tint = tintOf(settings.tint);
  return mapRgb(feed, (plane, c) => {
    const small = resampleArea(plane, width, height, w, h);
    const padded = new Float32Array(across * down);
    for (let y = 0; y < h; y++)
      padded.set(small.subarray(y * w, (y + 1) * w), (y + marginY) * across + marginX);
    const soft = gaussianBlur(padded, across, down, blurX / unitX, blurY / unitY);
    const sample = bilinearSampler(soft, across, down);
    const gain = (settings.amount * tint[c]) / Math.abs(scaleX * scaleY);
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [dx, dy] = [x + 0.5 - moveX, y + 0.5 - moveY];
        const u = (middle.x + (cos * dx + sin * dy) / scaleX) / unitX + marginX - 0.5;
        const v = (middle.y + (cos * dy - sin * dx) / scaleY) / unitY + marginY - 0.5;
        if (u > -1 && v > -1 && u < across && v < down) out[y * width + x] = gain * sample(u, v);
      }
    return out;
  });
}

/** Deviation in the feed's pixels, before it is scaled, of a blur that is wanted after it. */
function blurOf(wanted: number, scale: number, side: number): number {
  const least = Math.abs(scale) < 1 ? SMOOTH / Math.abs(scale) : 0;
  return Math.min(WIDEST * side, Math.max(wanted / Math.abs(scale), least));
}

/** Side of the pixels, in the feed's, that are fine enough for a blur: a power of two. */
function pixelSizeFor(blur: number): number {
  return 2 ** Math.max(0, Math.min(MOST_HALVINGS, Math.floor(Math.log2(blur / COARSE)) + 1));
}

const keepOff = (scale: number): number =>
  Math.abs(scale) < LEAST_SCALE ? Math.sign(scale || 1) * LEAST_SCALE : scale;

/** All copies that a look has of its feed. */
export function mirrorVeil(look: Look, feed: Rgb, width: number, height: number, frame: Rectangle): Rgb {
  const out = blackRgb(width * height);
  for (const settings of activeMirrors(look)) {
    const copy = mirrorCopy(feed, width, height, frame, settings);
    out.forEach((plane, c) => {
      const own = copy[c]!;
      for (let i = 0; i < plane.length; i++) plane[i]! += own[i]!;
    });
  }
  return out;
}

export const activeMirrors = ({ ghosts }: Look): MirrorSettings[] =>
  ghosts.mirror.filter(({ on, amount }) => on && amount > 0);
