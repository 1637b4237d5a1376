import { clamp } from '../../core/image/clamp';
import type { SeenPlaces } from '../../core/stations/glass/place';

/** How a picture lies in the viewer: screen pixels a picture pixel, and where its top left corner is. */
export interface Layout {
  zoom: number;
  left: number;
  top: number;
}

interface Size {
  width: number;
  height: number;
}

/** Space left around a picture that is fitted, in screen pixels. */
const MARGIN = 14;
export const MIN_ZOOM = 0.05;
export const MAX_ZOOM = 32;

export function fitZoom(picture: Size, viewer: Size): number {
  return Math.min(
    (viewer.width - 2 * MARGIN) / picture.width,
    (viewer.height - 2 * MARGIN) / picture.height,
    1,
  );
}

/** Lays a picture out at a zoom (null fits it) with a picture point in the middle (null is its own middle). */
export function layOut(
  picture: Size,
  viewer: Size,
  zoom: number | null,
  centre: { x: number; y: number } | null,
): Layout {
  const z = zoom ?? Math.max(MIN_ZOOM, fitZoom(picture, viewer));
  const wanted = (zoom === null ? null : centre) ?? { x: picture.width / 2, y: picture.height / 2 };
  // Some of the picture is always seen, also when another took the place of the one that was moved.
  const middle = { x: clamp(wanted.x, 0, picture.width), y: clamp(wanted.y, 0, picture.height) };
  return { zoom: z, left: viewer.width / 2 - middle.x * z, top: viewer.height / 2 - middle.y * z };
}

/** The centre that keeps the picture point under a place of the viewer where it is while the zoom changes. */
export function zoomAt(
  layout: Layout,
  viewer: Size,
  place: { x: number; y: number },
  zoom: number,
): { x: number; y: number } {
  const point = { x: (place.x - layout.left) / layout.zoom, y: (place.y - layout.top) / layout.zoom };
  return {
    x: point.x + (viewer.width / 2 - place.x) / zoom,
    y: point.y + (viewer.height / 2 - place.y) / zoom,
  };
}

/** Reduced sizes at which pictures are computed. */
const SCALES = [1, 0.5, 0.25, 0.125, 0.0625] as const;
/** A draft has about so many pixels. */
const DRAFT_PIXELS = 60_000;

/** The smallest scale that still gives every screen pixel a picture pixel of its own. */
export function refineScale(zoom: number, devicePixels: number): number {
  return SCALES.findLast((scale) => scale >= Math.min(1, zoom * devicePixels)) ?? 1;
}

/** The frames of a reel have more: they are looked at as they are, not as a step on the way. */
const REEL_PIXELS = 260_000;

const scaleWithin = (pixels: number, { width, height }: Size): number =>
  SCALES.find((scale) => width * height * scale * scale <= pixels) ?? SCALES.at(-1)!;

export const draftScale = (picture: Size): number => scaleWithin(DRAFT_PIXELS, picture);
export const reelScale = (picture: Size): number => scaleWithin(REEL_PIXELS, picture);

/** A place in the frame: shares of its width and height. */
export type FramePlace = [number, number];

/** Places of masks may lie so far outside the frame. */
const REACH: readonly [least: number, most: number] = [-3.9, 4.9];

/**
 * The way between places in the frame and pixels of the viewer, through the distortion of the lens if one is given. Places are
 * rounded, and held to a reach about the frame.
 */
export function frameMapping(
  layout: Layout,
  frame: { x: number; y: number; width: number; height: number },
  [least, most]: readonly [number, number] = REACH,
  lens?: SeenPlaces,
): {
  toScreen: (place: readonly [number, number]) => FramePlace;
  toFrame: (pixel: readonly [number, number]) => FramePlace;
} {
  const held = (value: number): number => Math.round(clamp(value, least, most) * 10_000) / 10_000;
  return {
    toScreen: (place) => {
      const [u, v] = lens?.toSeen(place) ?? place;
      return [
        layout.left + (frame.x + u * frame.width) * layout.zoom,
        layout.top + (frame.y + v * frame.height) * layout.zoom,
      ];
    },
    toFrame: ([x, y]) => {
      const seen: FramePlace = [
        ((x - layout.left) / layout.zoom - frame.x) / frame.width,
        ((y - layout.top) / layout.zoom - frame.y) / frame.height,
      ];
      const [u, v] = lens?.toPlate(seen) ?? seen;
      return [held(u), held(v)];
    },
  };
}
