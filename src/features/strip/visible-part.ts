import type { Rectangle } from '../../core/image/rectangle';
import { layOut } from '../common';
import type { PlateCard } from '../session';
import type { StripPicture } from './use-strip';

interface Size {
  width: number;
  height: number;
}

/** The part of the picture that the viewer shows, in pixels of the full size. */
export function visiblePart(
  card: PlateCard,
  size: Size,
  zoom: number | null,
  centre: { x: number; y: number } | null,
): Rectangle {
  const layout = layOut(card, size, zoom, centre);
  const from = (offset: number, most: number): number =>
    Math.min(most - 1, Math.max(0, Math.floor(-offset / layout.zoom)));
  const to = (offset: number, room: number, most: number): number =>
    Math.min(most, Math.max(1, Math.ceil((room - offset) / layout.zoom)));
  const [x, y] = [from(layout.left, card.width), from(layout.top, card.height)];
  return {
    x,
    y,
    width: Math.max(1, to(layout.left, size.width, card.width) - x),
    height: Math.max(1, to(layout.top, size.height, card.height) - y),
  };
}

/** Draws the part of a picture that is looked at. */
export function drawPart(
  context: CanvasRenderingContext2D,
  { bitmap, region }: StripPicture,
  card: PlateCard,
  part: Rectangle,
  to: Rectangle,
): void {
  const of = region ?? { x: 0, y: 0, width: card.width, height: card.height };
  const [sx, sy] = [bitmap.width / of.width, bitmap.height / of.height];
  context.imageSmoothingEnabled = true;
  context.imageSmoothingQuality = 'high';
  context.drawImage(
    bitmap,
    (part.x - of.x) * sx,
    (part.y - of.y) * sy,
    part.width * sx,
    part.height * sy,
    to.x,
    to.y,
    to.width,
    to.height,
  );
}
