'use client';
import Box from '@mui/material/Box';
import { useRef, useState, type ReactNode } from 'react';
import { clamp } from '../../core/image/clamp';
import type { Layout } from '../common';

/** Where a picture lies on the screen. */
export interface PictureOnScreen {
  picture: { width: number; height: number };
  layout: Layout;
}

/** A place as shares of a picture. */
export type Share = readonly [x: number, y: number];

interface DragSurfaceProps<Shape> extends PictureOnScreen {
  testId: string;
  /** What is drawn by a drag from one place to another. */
  shapeOf: (from: Share, to: Share) => Shape;
  onDrawn: (shape: Shape) => void;
  /** The other buttons end it. */
  onEnd: () => void;
  /** Draws the shape of a drag under way, or what is there without one. */
  children: (drawn: Shape | undefined) => ReactNode;
}

/** Takes drags on a picture in place of pan and zoom, as shapes in shares of it. */
export function DragSurface<Shape>({
  testId,
  picture,
  layout,
  shapeOf,
  onDrawn,
  onEnd,
  children,
}: DragSurfaceProps<Shape>) {
  const surface = useRef<HTMLDivElement>(null);
  const start = useRef<Share | null>(null);
  const [drawn, setDrawn] = useState<Shape>();
  const place = (event: React.PointerEvent): Share => {
    const box = surface.current!.getBoundingClientRect();
    return [
      clamp((event.clientX - box.left - layout.left) / (picture.width * layout.zoom), 0, 1),
      clamp((event.clientY - box.top - layout.top) / (picture.height * layout.zoom), 0, 1),
    ];
  };
  const shapeTo = (event: React.PointerEvent): Shape | undefined =>
    start.current ? shapeOf(start.current, place(event)) : undefined;
  return (
    <Box
      ref={surface}
      data-testid={testId}
      onPointerDown={(event) => {
        event.stopPropagation();
        if (event.button !== 0) return onEnd();
        event.currentTarget.setPointerCapture(event.pointerId);
        start.current = place(event);
      }}
      onPointerMove={(event) => setDrawn(shapeTo(event))}
      onPointerUp={(event) => {
        const shape = shapeTo(event);
        start.current = null;
        setDrawn(undefined);
        if (shape) onDrawn(shape);
      }}
      onPointerCancel={() => {
        start.current = null;
        setDrawn(undefined);
      }}
      onDoubleClick={(event) => event.stopPropagation()}
      sx={{ position: 'absolute', inset: 0, cursor: 'crosshair' }}
    >
      {children(drawn)}
    </Box>
  );
}
