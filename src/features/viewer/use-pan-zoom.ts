import { useEffect, useMemo, useRef, type RefObject } from 'react';
import type { Placement } from '../../state/desk-store';
import { layOut, MAX_ZOOM, MIN_ZOOM, zoomAt, type Layout } from '../common';
import { ARROW_KEYS } from './arrow-keys';

const WHEEL_STEP = 1.0016;
const ZOOM_STEP = 1.25;
/** Screen pixels that an arrow key pans. */
const PAN_STEP = 40;

interface Size {
  width: number;
  height: number;
}

interface PanZoom {
  frame: RefObject<HTMLDivElement | null>;
  /** Undefined without a picture. */
  picture: Size | undefined;
  /** Of the frame. */
  size: Size;
  placement: Placement;
  setPlacement: (placement: Placement) => void;
}

const held = (zoom: number): number => Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, zoom));

/** How a picture lies in a frame, and what moves it there: the wheel zooms at the pointer, a drag and arrow keys pan, plus and minus zoom, a double click fits. */
export function usePanZoom({ frame, picture, size, placement, setPlacement }: PanZoom) {
  const { zoom, centre } = placement;
  const layout: Layout | null = useMemo(
    () => (picture && size.width ? layOut(picture, size, zoom, centre) : null),
    [picture, size, zoom, centre],
  );
  const pan = useRef<{ x: number; y: number } | null>(null);
  const latest = useRef({ layout, size, setPlacement });
  useEffect(() => {
    latest.current = { layout, size, setPlacement };
  });

  useEffect(() => {
    const element = frame.current!;
    const wheel = (event: WheelEvent): void => {
      event.preventDefault();
      const now = latest.current;
      if (!now.layout) return;
      const next = held(now.layout.zoom * WHEEL_STEP ** -event.deltaY);
      const box = element.getBoundingClientRect();
      const place = { x: event.clientX - box.left, y: event.clientY - box.top };
      now.setPlacement({ zoom: next, centre: zoomAt(now.layout, now.size, place, next) });
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [frame]);

  /** The point in the middle of the frame, in pixels of the picture. */
  const middle = ({ left, top, zoom: z }: Layout): { x: number; y: number } => ({
    x: (size.width / 2 - left) / z,
    y: (size.height / 2 - top) / z,
  });

  return {
    layout,
    onPointerDown: (event: React.PointerEvent<HTMLElement>): void => {
      if (event.button !== 0 || !picture) return;
      event.currentTarget.focus({ preventScroll: true });
      event.currentTarget.setPointerCapture(event.pointerId);
      pan.current = { x: event.clientX, y: event.clientY };
    },
    onPointerMove: (event: React.PointerEvent): void => {
      if (!pan.current || !layout) return;
      const [dx, dy] = [event.clientX - pan.current.x, event.clientY - pan.current.y];
      pan.current = { x: event.clientX, y: event.clientY };
      const from = middle(layout);
      setPlacement({
        zoom: layout.zoom,
        centre: { x: from.x - dx / layout.zoom, y: from.y - dy / layout.zoom },
      });
    },
    endPan: (): void => {
      pan.current = null;
    },
    onDoubleClick: (): void => setPlacement({ zoom: null, centre: null }),
    onKeyDown: (event: React.KeyboardEvent): void => {
      if (!layout || event.target !== event.currentTarget || event.ctrlKey || event.metaKey) return;
      const [dx, dy] = ARROW_KEYS[event.key] ?? [0, 0];
      const factor =
        event.key === '+' || event.key === '=' ? ZOOM_STEP : event.key === '-' ? 1 / ZOOM_STEP : 1;
      if (dx === 0 && dy === 0 && factor === 1) return;
      event.preventDefault();
      const step = PAN_STEP / layout.zoom;
      const from = middle(layout);
      setPlacement({
        zoom: held(layout.zoom * factor),
        centre: { x: from.x + dx * step, y: from.y + dy * step },
      });
    },
  };
}
